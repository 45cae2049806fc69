#include "app/panels/field_panel.h"

#include <QButtonGroup>
#include <QCheckBox>
#include <QComboBox>
#include <QGridLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QToolButton>
#include <QVBoxLayout>

#include "app/panels/parts_of_panels.h"
#include "app/panels/row_words.h"
#include "core/job/field_text.h"

namespace anvil::app {
namespace {

constexpr std::size_t most_buttons = 4;  // more choices than this are a list

QString capitalised(const std::string& text) {
    const QString out = QString::fromStdString(text);
    return out.isEmpty() ? out : out.at(0).toUpper() + out.mid(1);
}

const Value& value_in(const Field& field, const Values& values) {
    const auto at = values.find(field.name);
    return at == values.end() ? field.usual : at->second;
}

}  // namespace

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
    fields_ = new QWidget;
    column->addWidget(fields_);
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

QWidget* FieldPanel::editor(const std::string& field) const {
    const auto at = editors_.find(field);
    return at == editors_.end() ? nullptr : at->second.widget;
}

void FieldPanel::set_row(const RowId& row) {
    if (row == row_) return;
    row_ = row;
    compare_->show_compare(Compare::after);
    Q_EMIT compare_wanted(Compare::after);
    reload();
}

/// One line for each field: its label, and what sets it.
void FieldPanel::build(const Kind* kind) {
    const std::string word = kind ? kind->word : std::string();
    if (word == built_ && fields_->layout()) return;
    built_ = word;
    editors_.clear();
    delete fields_->layout();
    qDeleteAll(fields_->findChildren<QWidget*>(Qt::FindDirectChildrenOnly));
    auto* grid = new QGridLayout(fields_);
    grid->setContentsMargins(0, 0, 0, 0);
    grid->setVerticalSpacing(4);
    grid->setColumnStretch(1, 1);
    if (!kind) return;
    for (const Field& field : kind->fields) {
        const int at = grid->rowCount();
        const Editor made = editor_of(field);
        made.widget->setToolTip(capitalised(field.says));
        made.widget->setAccessibleName(capitalised(field.label));
        if (field.type != Field::Type::yes_no) grid->addWidget(new QLabel(capitalised(field.label)), at, 0);
        grid->addWidget(made.widget, at, field.type == Field::Type::yes_no ? 0 : 1, 1,
                        field.type == Field::Type::yes_no ? 2 : 1);
        editors_[field.name] = made;
    }
}

FieldPanel::Editor FieldPanel::editor_of(const Field& field) {
    switch (field.type) {
        case Field::Type::yes_no: {
            auto* box = new QCheckBox(capitalised(field.label));
            connect(box, &QCheckBox::clicked, this, [this, &field](bool on) { commit(field, on); });
            return {box, [box](const Value& v) { box->setChecked(std::get<bool>(v)); }};
        }
        case Field::Type::choice: return chosen(field);
        case Field::Type::part: return part_chosen(field);
        case Field::Type::elements: return selected(field);
        case Field::Type::held: {
            auto* label = new QLabel;
            return {label,
                    [label, &field](const Value& v) { label->setText(QString::fromStdString(text_of(field, v))); }};
        }
        default: return typed(field);
    }
}

/// A number, or words: whatever can be typed.
FieldPanel::Editor FieldPanel::typed(const Field& field) {
    auto* edit = new QLineEdit;
    connect(edit, &QLineEdit::editingFinished, this, [this, edit, &field] {
        const Row* at = row();
        if (!at) return;
        const std::string text = edit->text().trimmed().toStdString();
        if (text == text_of(field, value_in(field, at->step->values))) return;
        const auto value = value_from_text(field, text);
        const auto checked = value ? check_values(*at->kind, {{field.name, *value}}) : Result<void>(value.error());
        mark_wrong(*edit, !checked);
        if (checked)
            commit(field, *value);
        else
            Q_EMIT hint(QString::fromStdString(checked.error().sentence()));
    });
    return {edit, [edit, &field](const Value& v) {
                edit->setText(QString::fromStdString(text_of(field, v)));
                edit->setCursorPosition(0);
                mark_wrong(*edit, false);
            }};
}

/// How many elements, and a button to select others.
FieldPanel::Editor FieldPanel::selected(const Field& field) {
    auto* box = new QWidget;
    auto* line = new QHBoxLayout(box);
    line->setContentsMargins(0, 0, 0, 0);
    auto* count = new QLabel;
    auto* others = new QPushButton(tr("Select anew"));
    others->setToolTip(tr("Select in the view what the step is used on"));
    line->addWidget(count, 1);
    line->addWidget(others);
    connect(others, &QPushButton::clicked, this, &FieldPanel::selection_wanted);
    return {box, [count, &field](const Value& v) { count->setText(QString::fromStdString(text_of(field, v))); }};
}

/// One of the parts that are there, or none.
FieldPanel::Editor FieldPanel::part_chosen(const Field& field) {
    auto* list = new QComboBox;
    connect(list, &QComboBox::activated, this,
            [this, list, &field](int k) { commit(field, list->itemData(k).toString().toStdString()); });
    return {list, [this, list](const Value& v) {
                list->clear();
                list->addItem(tr("none"), QString());
                for (const auto& part : controller_.job().parts)
                    if (part->has_own_body())
                        list->addItem(QString::fromStdString(part->name), QString::fromStdString(part->id));
                const QString id = QString::fromStdString(std::get<std::string>(v));
                if (list->findData(id) < 0) list->addItem(tr("%1, which is gone").arg(id), id);
                list->setCurrentIndex(list->findData(id));
            }};
}

FieldPanel::Editor FieldPanel::chosen(const Field& field) {
    if (field.choices.size() > most_buttons) {
        auto* list = new QComboBox;
        for (const std::string& choice : field.choices) list->addItem(QString::fromStdString(choice));
        connect(list, &QComboBox::activated, this,
                [this, &field](int k) { commit(field, field.choices[static_cast<std::size_t>(k)]); });
        return {list,
                [list](const Value& v) { list->setCurrentText(QString::fromStdString(std::get<std::string>(v))); }};
    }
    auto* box = new QWidget;
    auto* line = new QHBoxLayout(box);
    line->setContentsMargins(0, 0, 0, 0);
    line->setSpacing(4);
    auto* group = new QButtonGroup(box);
    for (const std::string& choice : field.choices) {
        auto* button = choice_button(QString::fromStdString(choice));
        group->addButton(button);
        line->addWidget(button);
        connect(button, &QToolButton::clicked, this, [this, &field, choice] { commit(field, choice); });
    }
    return {box, [group](const Value& v) {
                for (QAbstractButton* button : group->buttons())
                    if (button->text().toStdString() == std::get<std::string>(v)) button->setChecked(true);
            }};
}

void FieldPanel::commit(const Field& field, const Value& value) {
    const Row* at = row();
    if (!at || value_in(field, at->step->values) == value) {
        reload();
        return;
    }
    Job job = controller_.job();
    edit_step(job, at->step->id, [&](Step& step) {
        if (value == field.usual)
            step.values.erase(field.name);
        else
            step.values[field.name] = value;
    });
    const QString name = name_of(*at->step), label = QString::fromStdString(field.label);
    controller_.change(std::move(job), tr("%1: %2").arg(name, label));
}

void FieldPanel::reload() {
    const Row* at = row();
    if (!at) return;
    const Kind* kind = at->kind;
    build(kind);
    title_->setText(kind ? capitalised(kind->name) : QString::fromStdString(at->step->kind));
    says_->setText(kind ? QString::fromStdString(kind->says) + "." : QString());
    says_->setVisible(kind && !kind->says.empty());
    for (const auto& [name, editor] : editors_) editor.show(value_in(*kind->find_field(name), at->step->values));
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
