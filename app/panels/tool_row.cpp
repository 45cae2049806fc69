#include "app/panels/tool_row.h"

#include <QAction>
#include <QHBoxLayout>
#include <QLabel>
#include <QMenu>
#include <QToolButton>
#include <QVBoxLayout>

namespace anvil::app {

ToolRow::ToolRow(QWidget* parent) : QWidget(parent), row_(new QHBoxLayout(this)) {
    setObjectName("toolRow");
    setAttribute(Qt::WA_StyledBackground);
    row_->setContentsMargins(10, 4, 12, 4);
    row_->setSpacing(4);
    row_->addStretch(1);
}

void ToolRow::add_group(const QString& name, const QList<QAction*>& tools) {
    int at = row_->count() - 1;
    while (at > 0 && !row_->itemAt(at)->spacerItem()) --at;
    if (!first_) {
        auto* rule = new QWidget;
        rule->setObjectName("groupRule");
        rule->setAttribute(Qt::WA_StyledBackground);
        rule->setFixedWidth(1);
        row_->insertWidget(at++, rule);
    }
    first_ = false;
    auto* group = new QWidget;
    auto* column = new QVBoxLayout(group);
    column->setContentsMargins(2, 0, 2, 0);
    column->setSpacing(0);
    auto* label = new QLabel(name);
    label->setObjectName("groupName");
    label->setContentsMargins(7, 0, 0, 0);
    column->addWidget(label);
    auto* row = new QHBoxLayout;
    row->setSpacing(0);
    for (QAction* tool : tools) {
        auto* button = new QToolButton;
        button->setDefaultAction(tool);
        button->setIconSize({24, 24});
        button->setToolButtonStyle(Qt::ToolButtonTextUnderIcon);
        button->setFocusPolicy(Qt::TabFocus);
        if (tool->menu()) button->setPopupMode(QToolButton::InstantPopup);
        row->addWidget(button);
    }
    column->addLayout(row);
    row_->insertWidget(at, group);
}

void ToolRow::add_end(QWidget* widget) { row_->addWidget(widget); }

}  // namespace anvil::app
