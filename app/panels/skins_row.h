#pragma once

#include <QWidget>

#include "app/job_controller.h"

class QLabel;
class QPushButton;

namespace anvil::app {

/// The thin skins that a step's cutter has left standing, and the button that drives it through them. Hidden where it
/// has left none.
class SkinsRow : public QWidget {
    Q_OBJECT
  public:
    explicit SkinsRow(JobController& controller, QWidget* parent = nullptr);
    /// Empty: none.
    void set_step(const std::string& step);
    QPushButton* through() const { return through_; }
    QString said() const;

  Q_SIGNALS:
    void hint(const QString& text);

  private:
    void reload();
    void drive();

    JobController& controller_;
    std::string step_;
    QLabel* said_;
    QPushButton* through_;
};

}  // namespace anvil::app
