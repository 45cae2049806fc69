#pragma once

#include <QWidget>
#include <string>
#include <vector>

#include "app/job_controller.h"

class QLabel;
class QHBoxLayout;

namespace anvil::app {

/// A strip above the view that asks, once per job, which unit the numbers of brought-in files are meant in: the
/// formats name none. It shows the size each way; nothing waits for the answer, and millimetres hold until it comes.
class UnitStrip : public QWidget {
    Q_OBJECT
  public:
    explicit UnitStrip(JobController& controller, QWidget* parent = nullptr);
    /// Asks about parts that have just come in.
    void ask(const QString& files, std::vector<std::string> parts);
    void dismiss();

  Q_SIGNALS:
    void hint(const QString& text);
    void answered();

  private:
    void answer(ImportUnit unit);
    JobController& controller_;
    QLabel* question_;
    QHBoxLayout* row_;
    std::vector<std::string> parts_;
};

}  // namespace anvil::app
