#include "app/panels/spread_row.h"

#include "app/panels/parts_of_panels.h"

namespace anvil::app {

SpreadRow::SpreadRow(JobController& controller, QWidget* parent)
    : QWidget(parent), slider_(new QSlider(Qt::Horizontal)) {
    auto* line = new QHBoxLayout(this);
    line->setContentsMargins(12, 2, 12, 4);
    line->addWidget(section_title(tr("SPREAD PIECES")));
    slider_->setRange(0, 100);
    slider_->setAccessibleName(tr("Spread pieces"));
    slider_->setToolTip(tr("Shows the pieces of the result apart; the model stays as it is"));
    line->addWidget(slider_, 1);
    connect(slider_, &QSlider::valueChanged, this, [this](int v) { Q_EMIT wanted(0.02 * v); });
    connect(&controller, &JobController::evaluated, this, [this, &controller] {
        const auto outcome = controller.outcome();
        const bool several = outcome && !outcome->pieces.empty();
        setVisible(several);
        if (!several) slider_->setValue(0);
    });
    hide();
}

}  // namespace anvil::app
