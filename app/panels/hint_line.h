#pragma once

#include <QTimer>
#include <QWidget>

#include "core/base/result.h"

class QLabel;
class QProgressBar;
class QPushButton;

namespace anvil::app {

class JobController;

/// The bottom line: what mouse and keys do right now, what went wrong, and progress with a stop button.
class HintLine : public QWidget {
    Q_OBJECT
  public:
    explicit HintLine(JobController& controller, QWidget* parent = nullptr);
    void show_hint(const QString& text);
    /// A fault stays until the next action; a button shows the whole of it.
    void show_error(const Error& error);
    void clear_error();
    QString text() const;

  Q_SIGNALS:
    void details_wanted(const QString& text);

  private:
    void poll();
    JobController& controller_;
    QLabel* label_;
    QProgressBar* bar_;
    QPushButton *stop_, *details_;
    QTimer timer_;
    qint64 busy_since_ = 0;
    QString hint_, error_, error_details_;
};

}  // namespace anvil::app
