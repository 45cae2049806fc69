#pragma once

#include <QWidget>

class QLabel;

namespace anvil::app {

/// A strip above the view that offers the copy of a job which a crash left unsaved.
class RecoveryStrip : public QWidget {
    Q_OBJECT
  public:
    explicit RecoveryStrip(QWidget* parent = nullptr);
    /// Looks for copies whose program is gone, in this folder, and offers the latest.
    void look_in(const QString& folder);
    QString file() const { return file_; }
    void dismiss();

  Q_SIGNALS:
    void open_wanted(const QString& file);

  private:
    QLabel* text_;
    QString file_;
};

}  // namespace anvil::app
