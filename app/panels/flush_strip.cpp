#include "app/panels/flush_strip.h"

#include "app/panels/parts_of_panels.h"

namespace anvil::app {

FlushStrip::FlushStrip(QWidget* parent) : QWidget(parent), text_(new QLabel) {
    setObjectName("noticeStrip");
    QHBoxLayout& row = *strip_row(*this, text_);
    auto* label = new QLabel(tr("Distance from the face"));
    field_ = new QLineEdit;
    field_->setFixedWidth(90);
    field_->setAccessibleName(label->text());
    field_->setToolTip(tr("A length, with units and arithmetic; below 0 it goes into the body"));
    row.addWidget(label);
    row.addWidget(field_);
    connect(field_, &QLineEdit::editingFinished, this, &FlushStrip::put);
    connect(strip_button(row, tr("Done"), tr("Put this strip away")), &QPushButton::clicked, this,
            &FlushStrip::dismiss);
    hide();
}

void FlushStrip::ask(const QString& part, std::function<void(double)> put) {
    put_ = std::move(put);
    text_->setText(tr("%1 lies on the face.").arg(part));
    field_->setText(narrow(0, Unit::millimetre));
    mark_wrong(*field_, false);
    show();
    field_->setFocus();
    field_->selectAll();
}

void FlushStrip::dismiss() {
    put_ = nullptr;
    hide();
}

void FlushStrip::put() {
    if (!put_) return;
    const auto typed = parse_quantity(field_->text().toStdString(), Unit::millimetre);
    mark_wrong(*field_, !typed);
    if (typed)
        put_(*typed);
    else
        Q_EMIT hint(QString::fromStdString(typed.error().sentence()));
}

}  // namespace anvil::app
