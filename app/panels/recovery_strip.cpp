#include "app/panels/recovery_strip.h"

#include <QDir>
#include <QLocale>

#include "app/panels/parts_of_panels.h"

namespace anvil::app {

RecoveryStrip::RecoveryStrip(QWidget* parent) : QWidget(parent), text_(new QLabel) {
    setObjectName("recoveryStrip");
    QHBoxLayout& row = *strip_row(*this, text_);
    connect(strip_button(row, tr("Open it"), tr("In place of the job that is open")), &QPushButton::clicked, this,
            [this] { Q_EMIT open_wanted(file_); });
    connect(strip_button(row, tr("Delete it"), tr("The copy is gone then")), &QPushButton::clicked, this, [this] {
        QFile::remove(file_);
        dismiss();
    });
    connect(strip_button(row, tr("Later"), tr("It is offered again at the next start")), &QPushButton::clicked, this,
            &RecoveryStrip::dismiss);
    hide();
}

void RecoveryStrip::look_in(const QString& folder) {
    // Locks of programs that ended before they had a copy.
    for (const QFileInfo& left : QDir(folder).entryInfoList({"*.anvil.lock"}, QDir::Files)) {
        if (QFile::exists(left.filePath().chopped(5))) continue;
        QLockFile lock(left.filePath());
        lock.setStaleLockTime(0);
        if (lock.tryLock()) lock.unlock();
    }
    for (const QFileInfo& file : QDir(folder).entryInfoList({"*.anvil"}, QDir::Files, QDir::Time)) {
        auto lock = std::make_unique<QLockFile>(lock_of(file.filePath()));
        lock->setStaleLockTime(0);  // a program may run for days
        if (!lock->tryLock()) continue;
        lock_ = std::move(lock);
        file_ = file.filePath();
        text_->setText(tr("A job was left unsaved when the program ended, on %1.")
                           .arg(QLocale().toString(file.lastModified(), QLocale::ShortFormat)));
        show();
        return;
    }
}

void RecoveryStrip::dismiss() {
    file_.clear();
    lock_.reset();
    hide();
}

}  // namespace anvil::app
