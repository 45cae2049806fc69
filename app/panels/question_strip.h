#pragma once

#include <QWidget>
#include <memory>

#include "app/job_controller.h"
#include "app/view/camera.h"

class QLabel;
class QToolButton;

namespace anvil::app {

class Renderer;

/// A strip above the view that puts a decision which a mending waits for, with a picture of both answers.
class QuestionStrip : public QWidget {
    Q_OBJECT
  public:
    explicit QuestionStrip(JobController& controller, QWidget* parent = nullptr);
    ~QuestionStrip() override;
    /// Puts the first question of the job's mendings, seen as `camera` looks; hides where there is none.
    void refresh(const Camera& camera);
    QToolButton* answer_button(int k) const { return buttons_[k]; }
    QString asked() const;

  Q_SIGNALS:
    void hint(const QString& text);

  private:
    void put(const OpenQuestion& open, const Camera& camera);
    void picture(int answer, const std::shared_ptr<const DisplayMesh>& display, const Placement& placement);
    void answer(int k);
    JobController& controller_;
    std::unique_ptr<Renderer> renderer_;
    QLabel* asked_;
    QToolButton* buttons_[2] = {};
    std::optional<OpenQuestion> open_;
    Camera camera_;
};

}  // namespace anvil::app
