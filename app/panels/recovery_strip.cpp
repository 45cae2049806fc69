#include "app/panels/recovery_strip.h"

#include <QDir>
#include <QHBoxLayout>
#include <QLabel>
#include <QLocale>
#include <QPushButton>
#include <csignal>

namespace anvil::app {

RecoveryStrip::RecoveryStrip(QWidget* parent) : QWidget(parent), text_(new QLabel) {
    setObjectName("recoveryStrip");
    setAttribute(Qt::WA_StyledBackground);
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(12, 6, 12, 6);
    row->setSpacing(8);
    text_->setWordWrap(true);
    row->addWidget(text_, 1);
    auto add = [&](const QString& name, const QString& does) {
        auto* button = new QPushButton(name);
        button->setToolTip(does);
        row->addWidget(button);
        return button;
    };
    connect(add(tr("Open it"), tr("In place of the job that is open")), &QPushButton::clicked, this,
            [this] { Q_EMIT open_wanted(file_); });
    connect(add(tr("Delete it"), tr("The copy is gone then")), &QPushButton::clicked, this, [this] {
        QFile::remove(file_);
        dismiss();
    });
    connect(add(tr("Later"), tr("It is offered again at the next start")), &QPushButton::clicked, this,
            &RecoveryStrip::dismiss);
    hide();
}

void RecoveryStrip::look_in(const QString& folder) {
    for (const QFileInfo& file : QDir(folder).entryInfoList({"*.anvil"}, QDir::Files, QDir::Time)) {
        const auto pid = file.completeBaseName().toLongLong();
        if (pid <= 0 || ::kill(static_cast<pid_t>(pid), 0) == 0) continue;
        file_ = file.filePath();
        text_->setText(tr("A job was left unsaved when the program ended, on %1.")
                           .arg(QLocale().toString(file.lastModified(), QLocale::ShortFormat)));
        show();
        return;
    }
}

void RecoveryStrip::dismiss() {
    file_.clear();
    hide();
}

}  // namespace anvil::app
