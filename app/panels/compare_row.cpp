#include "app/panels/compare_row.h"

#include <QButtonGroup>
#include <QHBoxLayout>
#include <QToolButton>

#include "app/panels/parts_of_panels.h"

namespace anvil::app {

CompareRow::CompareRow(QWidget* parent) : QWidget(parent) {
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(4);
    auto* group = new QButtonGroup(this);
    const std::pair<QString, QString> modes[] = {
        {tr("after"), tr("The body after this row (B in the view flips)")},
        {tr("before"), tr("The body before this row (B in the view flips)")},
        {tr("both"), tr("Before on the left of a line, after on the right; drag the line")},
        {tr("distance"), tr("How far each place of the surface is from the one before")}};
    for (std::size_t k = 0; k < buttons_.size(); ++k) {
        auto* button = buttons_[k] = choice_button(modes[k].first, modes[k].second);
        group->addButton(button);
        row->addWidget(button);
        connect(button, &QToolButton::clicked, this, [this, k] { Q_EMIT wanted(static_cast<Compare>(k)); });
    }
    buttons_[0]->setChecked(true);
}

void CompareRow::show_compare(Compare compare) { button(compare)->setChecked(true); }

}  // namespace anvil::app
