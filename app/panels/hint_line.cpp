#include "app/panels/hint_line.h"

#include <QDateTime>
#include <QHBoxLayout>
#include <QLabel>
#include <QProgressBar>
#include <QPushButton>

#include "app/job_controller.h"

namespace anvil::app {

HintLine::HintLine(JobController& controller, QWidget* parent) : QWidget(parent), controller_(controller) {
    setObjectName("hintLine");
    setAttribute(Qt::WA_StyledBackground);
    setFixedHeight(32);
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(12, 0, 8, 0);
    label_ = new QLabel;
    label_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
    details_ = new QPushButton(tr("Details"));
    bar_ = new QProgressBar;
    bar_->setFixedWidth(160);
    bar_->setTextVisible(false);
    bar_->setRange(0, 1000);
    bar_->setAccessibleName(tr("Progress"));
    stop_ = new QPushButton(tr("Stop"));
    row->addWidget(label_, 1);
    row->addWidget(details_);
    row->addWidget(bar_);
    row->addWidget(stop_);
    details_->hide();
    bar_->hide();
    stop_->hide();
    connect(stop_, &QPushButton::clicked, this, [this] { controller_.stop(); });
    connect(details_, &QPushButton::clicked, this, [this] { Q_EMIT details_wanted(error_details_); });
    connect(&controller_, &JobController::busy_changed, this, [this] {
        busy_since_ = QDateTime::currentMSecsSinceEpoch();
        if (controller_.is_busy()) timer_.start(100);
        poll();
    });
    connect(&timer_, &QTimer::timeout, this, &HintLine::poll);
}

QString HintLine::text() const { return label_->text(); }

void HintLine::show_hint(const QString& text) {
    hint_ = text;
    if (error_.isEmpty() && !bar_->isVisible()) label_->setText(hint_);
}

void HintLine::show_error(const Error& error) {
    error_ = QString::fromStdString(error.sentence());
    error_details_ = tr("What: %1\nWhere: %2\nCode: %3")
                         .arg(QString::fromStdString(error.text), QString::fromStdString(error.place))
                         .arg(static_cast<int>(error.code));
    label_->setText(error_);
    label_->setToolTip(error_);
    details_->show();
}

void HintLine::clear_error() {
    if (error_.isEmpty()) return;
    error_.clear();
    details_->hide();
    label_->setToolTip({});
    label_->setText(hint_);
}

void HintLine::poll() {
    const bool long_work = controller_.is_busy() && QDateTime::currentMSecsSinceEpoch() - busy_since_ >= 500;
    bar_->setVisible(long_work);
    stop_->setVisible(long_work);
    if (!controller_.is_busy()) timer_.stop();
    if (long_work && controller_.progress()) {
        bar_->setValue(static_cast<int>(controller_.progress()->fraction() * 1000));
        if (error_.isEmpty())
            label_->setText(QString::fromUtf8(controller_.progress()->stage_name()) +
                            QString::fromUtf8("\xE2\x80\xA6"));
    } else if (error_.isEmpty()) {
        label_->setText(hint_);
    }
}

}  // namespace anvil::app
