#pragma once

#include <QLockFile>
#include <QWidget>
#include <memory>

class QLabel;

namespace anvil::app {

/// A strip above the view that offers the copy of a job which a crash left unsaved.
class RecoveryStrip : public QWidget {
    Q_OBJECT
  public:
    explicit RecoveryStrip(QWidget* parent = nullptr);
    /// Of a copy: held by the program that writes it, for as long as that runs.
    static QString lock_of(const QString& copy) { return copy + ".lock"; }
    /// Looks for copies in this folder that no running program holds, and offers the latest.
    void look_in(const QString& folder);
    QString file() const { return file_; }
    void dismiss();

  Q_SIGNALS:
    void open_wanted(const QString& file);

  private:
    QLabel* text_;
    QString file_;
    std::unique_ptr<QLockFile> lock_;  // of the file: no other program offers it meanwhile
};

}  // namespace anvil::app
