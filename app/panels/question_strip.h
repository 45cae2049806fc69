#pragma once

#include <QWidget>
#include <array>
#include <memory>

#include "app/job_controller.h"
#include "app/view/camera.h"

class QLabel;
class QLineEdit;
class QToolButton;

namespace anvil::app {

class PictureMaker;

/// A strip above the view that puts a decision which a mending waits for, with a picture of each answer.
class QuestionStrip : public QWidget {
    Q_OBJECT
  public:
    explicit QuestionStrip(JobController& controller, QWidget* parent = nullptr);
    ~QuestionStrip() override;
    /// Puts the first question of the job's mendings, seen as `camera` looks; hides where there is none.
    void refresh(const Camera& camera);
    QToolButton* answer_button(int k) const { return boxes_[static_cast<std::size_t>(k)].button; }
    QString volume_label(int k) const;
    QLineEdit* thickness() const { return thickness_; }
    QString asked() const;

  Q_SIGNALS:
    void hint(const QString& text);

  private:
    /// An answer: what is pressed, and all that goes with it.
    struct Box {
        QWidget* all = nullptr;
        QToolButton* button = nullptr;
        QLabel* makes = nullptr;  ///< the volume
        PictureMaker* pictures = nullptr;
    };
    struct Seen;
    void put(const OpenQuestion& open, const Camera& camera);
    void work_out(int answer);
    void picture(int answer, const Seen& seen, const Transform& stands);
    void answer(int k);
    void take_thickness();
    JobController& controller_;
    QLabel* asked_;
    std::array<Box, 3> boxes_{};
    QLineEdit* thickness_;
    std::optional<OpenQuestion> open_;
    Camera camera_;
};

}  // namespace anvil::app
