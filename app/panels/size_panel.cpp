#include "app/panels/size_panel.h"

#include <QCheckBox>
#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QVBoxLayout>
#include <cmath>

#include "app/panels/parts_of_panels.h"
#include "app/words.h"
#include "core/job/endless.h"
#include "core/job/place_edits.h"
#include "core/job/quantity.h"
#include "core/mesh/measures.h"

namespace anvil::app {

SizePanel::SizePanel(JobController& controller, QWidget* parent) : QWidget(parent), controller_(controller) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(4);
    column->addWidget(section_title(tr("SIZE")));
    auto* line = new QHBoxLayout;
    line->setSpacing(4);
    const char* const labels[] = {"axisX", "axisY", "axisZ"};
    for (int k = 0; k < 3; ++k) {
        auto* label = new QLabel(QString("xyz").mid(k, 1));
        label->setObjectName(labels[k]);
        auto* edit = fields_[static_cast<std::size_t>(k)] = new QLineEdit;
        edit->setAccessibleName(tr("Size along %1").arg(QString("xyz").mid(k, 1)));
        edit->setToolTip(tr("Type a size: the part is scaled to it, about its middle"));
        edit->setMinimumWidth(40);
        connect(edit, &QLineEdit::editingFinished, this, [this, k] { commit(k); });
        line->addWidget(label);
        line->addWidget(edit, 1);
    }
    column->addLayout(line);
    auto* below = new QHBoxLayout;
    evenly_ = new QCheckBox(tr("In proportion"));
    evenly_->setChecked(true);
    evenly_->setToolTip(tr("The other two sizes go with the one that is typed"));
    units_ = new QComboBox;
    units_->setAccessibleName(tr("The mesh's numbers are meant in"));
    units_->setToolTip(tr("Say which unit the numbers of this mesh are in, if it came in too small or too large"));
    units_->addItem(tr("numbers as read"));
    const QString names[] = {tr("mm"), tr("cm"), tr("m"), tr("inches"), tr("feet")};
    for (std::size_t k = 1; k < std::size(import_units); ++k)
        units_->addItem(tr("they are %1").arg(names[k]), static_cast<int>(k));
    connect(units_, &QComboBox::activated, this, &SizePanel::take_unit);
    below->addWidget(evenly_, 1);
    below->addWidget(units_);
    column->addLayout(below);
    connect(&controller_, &JobController::job_changed, this, &SizePanel::reload);
    connect(&controller_, &JobController::evaluated, this, &SizePanel::reload);
    reload();
}

const Part* SizePanel::part() const {
    const Row* at = controller_.row(row_);
    return at && (!at->step || at->use) ? controller_.job().find_part(at->id.part) : nullptr;
}

Box SizePanel::box() const {
    const Part* of = part();
    const auto outcome = controller_.outcome();
    if (!of || !outcome) return {};
    const auto at = outcome->parts.find(of->id);
    return at == outcome->parts.end() ? Box() : bounds(*at->second.mesh);
}

void SizePanel::set_row(const RowId& row) {
    row_ = row;
    reload();
}

void SizePanel::commit(int axis) {
    const Box now = box();
    QLineEdit* edit = size_field(axis);
    if (now.empty() || !part() || edit->text() == narrow(now.size()[axis], Unit::millimetre)) return;
    const double size = now.size()[axis];
    const auto wanted = parse_quantity(edit->text().toStdString(), Unit::millimetre, size);
    const double factor = wanted ? *wanted / size : 0;
    const bool good = wanted && *wanted > 0 && size > 0 && std::isfinite(factor) && factor >= 1e-6 && factor <= 1e6;
    mark_wrong(*edit, !good);
    if (!good) {
        Q_EMIT hint(!wanted     ? QString::fromStdString(wanted.error().sentence())
                    : size <= 0 ? tr("It is flat along %1: there is nothing to scale.").arg(QString("xyz").mid(axis, 1))
                                : tr("A size is more than 0, and up to a million times as large or small."));
        return;
    }
    Vec3 factors{1, 1, 1};
    if (evenly_->isChecked())
        factors = {factor, factor, factor};
    else
        factors[axis] = factor;
    Job job = controller_.job();
    const QString name = QString::fromStdString(part()->name);
    scale_part(job, row_.part, factors, now.center());
    controller_.change(std::move(job), tr("scale %1").arg(name));
}

void SizePanel::take_unit(int index) {
    const QVariant unit = units_->itemData(index);
    units_->setCurrentIndex(0);
    if (!part() || !unit.isValid()) return;
    Job job = controller_.job();
    const std::vector<std::string> one{row_.part};
    const auto before = job.settings.import_unit;
    read_as(job, one, import_units[static_cast<std::size_t>(unit.toInt())]);
    job.settings.import_unit = before;  // of this mesh only
    const QString name = QString::fromStdString(part()->name);
    controller_.change(std::move(job), tr("numbers of %1").arg(name));
}

void SizePanel::reload() {
    const Box now = box();
    const bool any = part() && !now.empty() && !endless_shape(controller_.job(), row_.part);
    setVisible(any);
    if (!any) return;
    for (int k = 0; k < 3; ++k) {
        size_field(k)->setText(narrow(now.size()[k], Unit::millimetre));
        size_field(k)->setCursorPosition(0);
        mark_wrong(*size_field(k), false);
    }
    const auto* stored = std::get_if<StoredMesh>(&part()->source);
    units_->setVisible(stored && !stored->copy_of);
}

}  // namespace anvil::app
