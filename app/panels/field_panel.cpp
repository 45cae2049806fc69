#include "app/panels/field_panel.h"

#include <QComboBox>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

#include "app/panels/parts_of_panels.h"
#include "app/panels/row_words.h"
#include "app/theme.h"
#include "app/words.h"
#include "core/job/groups.h"

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
    skins_ = new SkinsRow(controller_);
    column->addWidget(skins_);
    connect(skins_, &SkinsRow::hint, this, &FieldPanel::hint);
    fields_ = new FieldEditors(controller_);
    column->addWidget(fields_);
    connect(fields_, &FieldEditors::set, this, &FieldPanel::commit);
    connect(fields_, &FieldEditors::hint, this, &FieldPanel::hint);
    connect(fields_, &FieldEditors::selection_wanted, this, &FieldPanel::selection_wanted);
    connect(fields_, &FieldEditors::direction_wanted, this, &FieldPanel::direction_wanted);
    said_->setTextInteractionFlags(Qt::TextSelectableByMouse);
    column->addWidget(said_);
    group_ = new QWidget;
    auto* line = new QHBoxLayout(group_);
    line->setContentsMargins(0, 0, 0, 0);
    line->addWidget(new QLabel(tr("Operation")));
    operations_ = new QComboBox;
    operations_->setAccessibleName(tr("Operation of all rows of the group"));
    for (const Operation operation : all_operations)
        operations_->addItem(icon(word_of(operation)), words_of(operation).name, word_of(operation));
    operations_->setPlaceholderText(tr("several"));
    line->addWidget(operations_, 1);
    column->addWidget(group_);
    connect(operations_, &QComboBox::activated, this,
            [this](int k) { Q_EMIT operation_wanted(all_operations[static_cast<std::size_t>(k)]); });
    look_ = new QWidget;
    auto* look = new QVBoxLayout(look_);
    look->setContentsMargins(0, 0, 0, 0);
    look->addWidget(section_title(tr("LOOK AT IT")));
    compare_ = new CompareRow;
    look->addWidget(compare_);
    column->addWidget(look_);
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
    skins_->set_step(row.step());
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
    const bool is_group = kind && kind->of == KindClass::group;
    group_->setVisible(is_group);
    look_->setVisible((!kind || kind->of != KindClass::cut) && (!is_group || !combines_only(*at->step)));
    const auto operation = is_group ? operation_of_group(*at->step) : std::nullopt;
    operations_->setCurrentIndex(operation ? operations_->findData(word_of(*operation)) : -1);
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
