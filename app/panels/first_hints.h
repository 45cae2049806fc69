#pragma once

#include <QWidget>

class QLabel;
class QPushButton;

namespace anvil::app {

/// Five short hints on the first job, in a strip above the view, one after the other; once put away they do not come
/// again.
class FirstHints : public QWidget {
    Q_OBJECT
  public:
    explicit FirstHints(QWidget* parent = nullptr);
    /// From now on they are shown where they are offered, unless they were put away in an earlier run.
    void allow();
    /// Shows the first one, where that is allowed.
    void offer();
    QString said() const;
    QPushButton* next_button() const { return next_; }
    QPushButton* away_button() const { return away_; }

  private:
    void show_hint(int number);
    void put_away();

    QLabel* text_;
    QPushButton *next_, *away_;
    int number_ = 0;
    bool allowed_ = false;
};

}  // namespace anvil::app
