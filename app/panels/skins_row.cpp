#include "app/panels/skins_row.h"

#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>
#include <cmath>

#include "app/words.h"
#include "core/job/quantity.h"

namespace anvil::app {

SkinsRow::SkinsRow(JobController& controller, QWidget* parent) : QWidget(parent), controller_(controller) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(4);
    said_ = new QLabel;
    said_->setWordWrap(true);
    said_->setObjectName("emptyText");
    column->addWidget(said_);
    through_ = new QPushButton(tr("Drive it through"));
    through_->setToolTip(
        tr("Pushes the end of the cutter through what it has left, by a broach at the end of the list"));
    column->addWidget(through_);
    connect(through_, &QPushButton::clicked, this, &SkinsRow::drive);
    connect(&controller_, &JobController::inspected, this, &SkinsRow::reload);
    hide();
}

void SkinsRow::set_step(const std::string& step) {
    step_ = step;
    reload();
}

QString SkinsRow::said() const { return said_->text(); }

void SkinsRow::reload() {
    const auto skins = controller_.skins_of(step_);
    setVisible(!skins.empty());
    if (skins.empty()) return;
    double thinnest = skins.front().thinnest;
    for (const SkinLeft& skin : skins) thinnest = std::min(thinnest, skin.thinnest);
    const double told = std::round(thinnest * 1000) / 1000;
    const QString thickness =
        told > 0 ? QString::fromStdString(format_quantity(told, Unit::millimetre)) : tr("less than 0.001 mm");
    said_->setText(
        skins.size() == 1
            ? tr("It leaves a skin of %1 standing.").arg(thickness)
            : tr("It leaves skins standing in %1 places, the thinnest of %2.").arg(skins.size()).arg(thickness));
}

void SkinsRow::drive() {
    const auto skins = controller_.skins_of(step_);
    if (skins.empty() || controller_.is_busy()) return;  // they are those of the job as it was
    Job job = controller_.job();
    drive_through(job, controller_.end_of(job.work()), skins);
    controller_.change(std::move(job), tr("drive the cutter through"));
    Q_EMIT hint(tr("Driven through by a broach, a row of its own at the end of the list."));
}

}  // namespace anvil::app
