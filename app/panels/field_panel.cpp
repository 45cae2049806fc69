#include "app/panels/field_panel.h"

#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

#include "app/panels/parts_of_panels.h"
#include "app/panels/row_words.h"
#include "app/words.h"

namespace anvil::app {

FieldPanel::FieldPanel(JobController& controller, QWidget* parent) : QWidget(parent), controller_(controller) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(12, 8, 12, 12);
    column->setSpacing(6);
    title_ = bold_label();
    column->addWidget(title_);
    for (QLabel** label : {&says_, &said_}) {
        *label = new QLabel;
        (*label)->setWordWrap(true);
        (*label)->setObjectName("emptyText");
    }
    column->addWidget(says_);
    fields_ = new FieldEditors(controller_);
    column->addWidget(fields_);
    connect(fields_, &FieldEditors::set, this, &FieldPanel::commit);
    connect(fields_, &FieldEditors::hint, this, &FieldPanel::hint);
    connect(fields_, &FieldEditors::selection_wanted, this, &FieldPanel::selection_wanted);
    said_->setTextInteractionFlags(Qt::TextSelectableByMouse);
    column->addWidget(said_);
    column->addWidget(section_title(tr("LOOK AT IT")));
    compare_ = new CompareRow;
    column->addWidget(compare_);
    connect(compare_, &CompareRow::wanted, this, &FieldPanel::compare_wanted);
    auto* remove = new QPushButton(tr("Remove step"));
    column->addWidget(remove);
    connect(remove, &QPushButton::clicked, this, &FieldPanel::remove_wanted);
    connect(&controller_, &JobController::job_changed, this, &FieldPanel::reload);
    connect(&controller_, &JobController::evaluated, this, &FieldPanel::reload_done);
}

const Row* FieldPanel::row() const {
    const Row* at = controller_.row(row_);
    return at && at->step ? at : nullptr;
}

QString FieldPanel::said() const { return said_->text(); }

QWidget* FieldPanel::editor(const std::string& field) const { return fields_->editor(field); }

void FieldPanel::set_row(const RowId& row) {
    if (row == row_) return;
    row_ = row;
    compare_->show_compare(Compare::after);
    Q_EMIT compare_wanted(Compare::after);
    reload();
}

void FieldPanel::commit(const Field& field, const Value& value) {
    const Row* at = row();
    if (!at) return;
    Job job = controller_.job();
    edit_step(job, at->step->id,
              [&](Step& step) { step.values = FieldEditors::with(std::move(step.values), field, value); });
    const QString name = name_of(*at->step), label = QString::fromStdString(field.label);
    controller_.change(std::move(job), tr("%1: %2").arg(name, label));
}

void FieldPanel::reload() {
    const Row* at = row();
    if (!at) return;
    const Kind* kind = at->kind;
    title_->setText(kind ? capitalised(kind->name) : QString::fromStdString(at->step->kind));
    says_->setText(kind ? QString::fromStdString(kind->says) + "." : QString());
    says_->setVisible(kind && !kind->says.empty());
    fields_->show_values(kind, at->step->values);
    reload_done();
}

void FieldPanel::reload_done() {
    const Row* at = row();
    if (!at) return;
    QStringList said = told_of(*at->step, controller_.done(at->step->id));
    if (!at->step->on) said = QStringList(tr("Switched off: the body goes on as it was."));
    if (const RowOutcome* done = controller_.shown(*at); done && done != controller_.done(at->step->id))
        said << tr("The bodies between these edits are too large to keep: the view shows all edits of the group.");
    said_->setText(said.join("\n"));
    said_->setVisible(!said.isEmpty());
}

}  // namespace anvil::app
