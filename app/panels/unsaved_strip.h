#pragma once

#include <QWidget>
#include <functional>

class QPushButton;

namespace anvil::app {

/// A strip above the view that asks what becomes of unsaved changes before something else takes the job's place.
class UnsavedStrip : public QWidget {
    Q_OBJECT
  public:
    explicit UnsavedStrip(QWidget* parent = nullptr);
    /// `go`: what was wanted, done once the changes are saved or dropped. Asked again, only the last wish counts.
    void ask(std::function<void()> go);
    /// The wish is forgotten.
    void dismiss();

  Q_SIGNALS:
    void save_wanted(const std::function<void()>& then);

  protected:
    void keyPressEvent(QKeyEvent* event) override;

  private:
    std::function<void()> take();

    QPushButton* save_;
    std::function<void()> go_;
};

}  // namespace anvil::app
