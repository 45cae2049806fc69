#include "app/panels/copies_panel.h"

#include <QComboBox>
#include <QVBoxLayout>

#include "app/panels/parts_of_panels.h"
#include "app/panels/row_words.h"

namespace anvil::app {

CopiesPanel::CopiesPanel(JobController& controller, QWidget* parent) : QWidget(parent), controller_(controller) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 2, 0, 2);
    column->setSpacing(4);
    auto* line = new QHBoxLayout;
    line->setSpacing(8);
    line->addWidget(section_title(tr("COPIES")));
    kinds_ = new QComboBox;
    kinds_->setAccessibleName(tr("Copies"));
    kinds_->setToolTip(tr("Take the part many times: in rows, round an axis, mirrored, along edges or scattered"));
    kinds_->addItem(tr("none"), QString());
    for (const Kind* kind : all_copies())
        kinds_->addItem(QString::fromStdString(kind->name), QString::fromStdString(kind->word));
    line->addWidget(kinds_, 1);
    column->addLayout(line);
    fields_ = new FieldEditors(controller_);
    column->addWidget(fields_);
    connect(kinds_, &QComboBox::activated, this, [this](int k) { copy(kinds_->itemData(k).toString().toStdString()); });
    connect(fields_, &FieldEditors::hint, this, &CopiesPanel::hint);
    connect(fields_, &FieldEditors::selection_wanted, this, &CopiesPanel::selection_wanted);
    connect(fields_, &FieldEditors::set, this, [this](const Field& field, const Value& value) {
        change(
            [&](std::optional<Copies>& copies) {
                copies->values = FieldEditors::with(std::move(copies->values), field, value);
            },
            QString::fromStdString(field.label));
    });
    connect(&controller_, &JobController::job_changed, this, &CopiesPanel::reload);
    reload();
}

const Row* CopiesPanel::row() const {
    const Row* at = controller_.row(row_);
    return at && at->step && at->step->operand ? at : nullptr;
}

void CopiesPanel::set_row(const RowId& row) {
    row_ = row;
    reload();
}

void CopiesPanel::change(const std::function<void(std::optional<Copies>&)>& edit, const QString& name) {
    const Row* at = row();
    if (!at) return;
    Job job = controller_.job();
    edit_step(job, at->step->id, [&](Step& step) { edit(step.operand->copies); });
    controller_.change(std::move(job), tr("%1: %2").arg(name_of(*at, controller_.job()), name));
}

void CopiesPanel::copy(const std::string& kind) {
    const Row* at = row();
    const std::optional<Copies> now = at ? at->step->operand->copies : std::nullopt;
    if (!at || (now ? now->kind : std::string()) == kind) return;
    const Kind* known = find_copies(kind);
    change(
        [&](std::optional<Copies>& copies) {
            if (kind.empty())
                copies.reset();
            else
                copies = Copies{.kind = kind};
        },
        known ? tr("copies %1").arg(QString::fromStdString(known->name)) : tr("no copies"));
}

void CopiesPanel::reload() {
    const Row* at = row();
    setVisible(at != nullptr);
    if (!at) return;
    const auto& copies = at->step->operand->copies;
    const QString word = copies ? QString::fromStdString(copies->kind) : QString();
    if (kinds_->findData(word) < 0) kinds_->addItem(word, word);  // of a later version
    kinds_->setCurrentIndex(kinds_->findData(word));
    const Kind* kind = copies ? find_copies(copies->kind) : nullptr;
    fields_->show_values(kind, copies ? copies->values : Values());
    fields_->setVisible(kind != nullptr);
}

}  // namespace anvil::app
