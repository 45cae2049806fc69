#pragma once

#include <QWidget>

class QLabel;
class QPushButton;

namespace anvil::app {

/// A strip above the view with something that has to be read; it stays until it is put away.
class NoticeStrip : public QWidget {
    Q_OBJECT
  public:
    explicit NoticeStrip(QWidget* parent = nullptr);
    void tell(const QString& text);
    QString told() const;
    QPushButton* away_button() const { return away_; }

  private:
    QLabel* text_;
    QPushButton* away_;
};

}  // namespace anvil::app
