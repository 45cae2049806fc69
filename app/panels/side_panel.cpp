#include "app/panels/side_panel.h"

#include <QHBoxLayout>

namespace anvil::app {

SidePanel::SidePanel(QWidget* content, int width, Side side, const QString& name, QWidget* parent)
    : QWidget(parent), area_(new QScrollArea), bar_(new QToolButton), width_(width), side_(side), name_(name) {
    area_->setFrameShape(QFrame::NoFrame);
    area_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    area_->setWidgetResizable(true);
    area_->setFocusPolicy(Qt::NoFocus);
    area_->setWidget(content);
    area_->setFixedWidth(width_);
    bar_->setObjectName("foldBar");
    bar_->setFixedWidth(bar_width);
    bar_->setSizePolicy(QSizePolicy::Fixed, QSizePolicy::Expanding);
    bar_->setFocusPolicy(Qt::TabFocus);
    connect(bar_, &QToolButton::clicked, this, [this] { fold(!is_folded()); });
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(0);
    if (side_ == Side::left) row->addWidget(area_);
    row->addWidget(bar_);
    if (side_ == Side::right) row->addWidget(area_);
    setSizePolicy(QSizePolicy::Fixed, QSizePolicy::Expanding);
    fold(false);
}

void SidePanel::fold(bool on) {
    area_->setVisible(!on);
    bar_->setArrowType(on == (side_ == Side::left) ? Qt::RightArrow : Qt::LeftArrow);
    const QString does = on ? tr("Unfold the %1").arg(name_) : tr("Fold the %1 to its edge").arg(name_);
    bar_->setToolTip(does);
    bar_->setAccessibleName(does);
}

}  // namespace anvil::app
