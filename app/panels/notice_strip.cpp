#include "app/panels/notice_strip.h"

#include "app/panels/parts_of_panels.h"

namespace anvil::app {

NoticeStrip::NoticeStrip(QWidget* parent) : QWidget(parent) {
    setObjectName("noticeStrip");
    text_ = new QLabel;
    text_->setTextInteractionFlags(Qt::TextSelectableByMouse);
    away_ = strip_button(*strip_row(*this, text_), tr("Understood"), tr("Put this notice away"));
    connect(away_, &QPushButton::clicked, this, &QWidget::hide);
    hide();
}

void NoticeStrip::tell(const QString& text) {
    text_->setText(text);
    show();
}

QString NoticeStrip::told() const { return isVisible() ? text_->text() : QString(); }

}  // namespace anvil::app
