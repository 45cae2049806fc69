#include "app/panels/field_editors.h"

#include <QButtonGroup>
#include <QCheckBox>
#include <QComboBox>
#include <QFileDialog>
#include <QGridLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QToolButton>

#include "app/panels/parts_of_panels.h"
#include "app/words.h"
#include "core/io/mesh_file.h"
#include "core/job/field_text.h"

namespace anvil::app {
namespace {

constexpr std::size_t most_buttons = 4;   // more choices than this are a list
constexpr std::size_t most_letters = 18;  // of choices side by side

/// Of a place with its unit, of a direction without.
QString coordinate_text(double v, bool is_place) {
    if (is_place) return narrow(v, Unit::millimetre);
    return QString::number(std::round(v * 1e4) / 1e4 + 0.0, 'g', 5);
}

}  // namespace

FieldEditors::FieldEditors(JobController& controller, QWidget* parent) : QWidget(parent), controller_(controller) {}

QWidget* FieldEditors::editor(const std::string& field) const {
    const auto at = editors_.find(field);
    return at == editors_.end() ? nullptr : at->second.widget;
}

Values FieldEditors::with(Values values, const Field& field, const Value& value) {
    if (value == field.usual)
        values.erase(field.name);
    else
        values[field.name] = value;
    return values;
}

void FieldEditors::show_values(const Kind* kind, const Values& values) {
    if (kind != kind_ || !layout()) build(kind);
    kind_ = kind;
    values_ = values;
    show(false);
}

void FieldEditors::show_again() { show(true); }

/// `all`: also what shows that value already. While something is dragged most do.
void FieldEditors::show(bool all) {
    for (const auto& [name, editor] : editors_) {
        const Field& field = *kind_->find_field(name);
        const Value& value = value_of_field(field);
        const auto [at, fresh] = shown_.try_emplace(name, value);
        if (all || fresh || at->second != value || field.type == Field::Type::part) editor.show(value);
        at->second = value;
        if (field.only_if.empty()) continue;
        const bool shown = is_shown(*kind_, values_, field);
        for (QWidget* part : {editor.widget, editor.label})
            if (part) part->setVisible(shown);
    }
}

const Value& FieldEditors::value_of_field(const Field& field) const {
    const auto at = values_.find(field.name);
    return at == values_.end() ? field.usual : at->second;
}

void FieldEditors::build(const Kind* kind) {
    editors_.clear();
    shown_.clear();
    delete layout();
    qDeleteAll(findChildren<QWidget*>(Qt::FindDirectChildrenOnly));
    auto* grid = new QGridLayout(this);
    grid->setContentsMargins(0, 0, 0, 0);
    grid->setVerticalSpacing(4);
    grid->setColumnStretch(1, 1);
    if (!kind) return;
    QList<QWidget*> folded;
    auto add = [&](const Field& field) {
        const int at = grid->rowCount();
        Editor made = editor_of(field);
        made.widget->setToolTip(capitalised(field.says));
        made.widget->setAccessibleName(capitalised(field.label));
        const bool has_label = field.type != Field::Type::yes_no,
                   wide = !has_label || field.type == Field::Type::place || field.type == Field::Type::direction;
        if (has_label) {
            auto* label = new QLabel(capitalised(field.label));
            grid->addWidget(label, at, 0, 1, wide ? 2 : 1);
            made.label = label;
            if (field.is_folded) folded << label;
        }
        grid->addWidget(made.widget, wide && has_label ? at + 1 : at, wide ? 0 : 1, 1, wide ? 2 : 1);
        if (field.is_folded) folded << made.widget;
        editors_[field.name] = made;
    };
    for (const Field& field : kind->fields)
        if (!field.is_folded) add(field);
    if (std::ranges::none_of(kind->fields, &Field::is_folded)) return;
    auto* more = new QToolButton;
    more->setText(tr("More"));
    more->setCheckable(true);
    more->setArrowType(Qt::RightArrow);
    more->setToolButtonStyle(Qt::ToolButtonTextBesideIcon);
    more->setAutoRaise(true);
    more->setToolTip(tr("What is seldom set"));
    grid->addWidget(more, grid->rowCount(), 0, 1, 2);
    for (const Field& field : kind->fields)
        if (field.is_folded) add(field);
    for (QWidget* widget : folded) widget->hide();
    connect(more, &QToolButton::toggled, this, [more, folded](bool on) {
        more->setArrowType(on ? Qt::DownArrow : Qt::RightArrow);
        for (QWidget* widget : folded) widget->setVisible(on);
    });
}

FieldEditors::Editor FieldEditors::editor_of(const Field& field) {
    switch (field.type) {
        case Field::Type::yes_no: {
            auto* box = new QCheckBox(capitalised(field.label));
            connect(box, &QCheckBox::clicked, this, [this, &field](bool on) { commit(field, on); });
            return {box, [box](const Value& v) { box->setChecked(std::get<bool>(v)); }};
        }
        case Field::Type::choice: return chosen(field);
        case Field::Type::part: return part_chosen(field);
        case Field::Type::place:
        case Field::Type::direction: return coordinates(field);
        case Field::Type::elements:
        case Field::Type::held: return selected(field);
        default:
            if (field.is_long) return written(field);
            if (field.suggestions) return suggested(field);
            return field.files.empty() ? typed(field) : from_file(field);
    }
}

/// A number, or words: whatever can be typed.
FieldEditors::Editor FieldEditors::typed(const Field& field) {
    auto* edit = new QLineEdit;
    connect(edit, &QLineEdit::editingFinished, this, [this, edit, &field] {
        if (!kind_) return;
        const std::string text = edit->text().trimmed().toStdString();
        if (text == text_of(field, value_of_field(field))) return;
        const auto value = value_from_text(field, text, value_of_field(field));
        const auto checked = value ? check_values(*kind_, {{field.name, *value}}) : Result<void>(value.error());
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

/// Three numbers, x, y and z; of a direction, or an axis.
FieldEditors::Editor FieldEditors::coordinates(const Field& field) {
    auto* box = new QWidget;
    auto* grid = new QGridLayout(box);
    grid->setContentsMargins(0, 0, 0, 0);
    grid->setSpacing(4);
    const bool is_place = field.type == Field::Type::place;
    std::array<QLineEdit*, 3> edits{};
    for (int k = 0; k < 3; ++k) {
        const QString axis = QString("xyz").mid(k, 1);
        auto* edit = edits[static_cast<std::size_t>(k)] = new QLineEdit;
        edit->setAccessibleName(capitalised(field.label) + " " + axis);
        edit->setToolTip(tr("%1: %2").arg(axis, QString::fromStdString(field.says)));
        grid->addWidget(edit, 0, k);
        connect(edit, &QLineEdit::editingFinished, this, [this, edit, &field, k, is_place] {
            if (!kind_) return;
            Vec3 v = std::get<Vec3>(value_of_field(field));
            if (edit->text() == coordinate_text(v[k], is_place)) return;
            const auto typed = parse_quantity(edit->text().toStdString(), Unit::millimetre, v[k]);
            const auto checked =
                typed ? (v[k] = *typed, check_values(*kind_, {{field.name, v}})) : Result<void>(typed.error());
            mark_wrong(*edit, !checked);
            if (checked)
                commit(field, v);
            else
                Q_EMIT hint(QString::fromStdString(checked.error().sentence()));
        });
        if (is_place) continue;
        auto* button = choice_button(axis, tr("Square to %1; once more: looking the other way").arg(axis));
        button->setCheckable(false);
        button->setAccessibleName(tr("Along %1").arg(axis));
        grid->addWidget(button, 1, k);
        connect(button, &QToolButton::clicked, this, [this, &field, k] {
            if (!kind_) return;
            Vec3 along;
            along[k] = std::get<Vec3>(value_of_field(field))[k] == 1 ? -1 : 1;
            commit(field, along);
        });
    }
    for (int by_edge = 0; by_edge < 2 && !is_place; ++by_edge) {
        auto* button = choice_button(by_edge ? tr("edge") : tr("view"),
                                     by_edge ? tr("Along an edge that you click; once more: the other way")
                                             : tr("Along the line of sight; once more: the other way"));
        button->setCheckable(false);
        grid->addWidget(button, 2, by_edge);
        connect(button, &QToolButton::clicked, this, [this, &field, by_edge] {
            if (kind_) Q_EMIT direction_wanted(field, by_edge != 0);
        });
    }
    return {box, [edits, is_place](const Value& v) {
                for (int k = 0; k < 3; ++k) {
                    QLineEdit& edit = *edits[static_cast<std::size_t>(k)];
                    edit.setText(coordinate_text(std::get<Vec3>(v)[k], is_place));
                    edit.setCursorPosition(0);
                    mark_wrong(edit, false);
                }
            }};
}

/// Lines of text, taken while they are typed: what is typed in one go is one change.
FieldEditors::Editor FieldEditors::written(const Field& field) {
    auto* edit = new QPlainTextEdit;
    edit->setTabChangesFocus(true);
    edit->setFixedHeight(edit->fontMetrics().lineSpacing() * 3 + 10);
    connect(edit, &QPlainTextEdit::textChanged, this, [this, edit, &field] {
        if (!kind_ || !edit->hasFocus()) return;
        if (const Value value = edit->toPlainText().toStdString(); value != value_of_field(field))
            Q_EMIT set(field, value);
    });
    return {edit, [edit](const Value& v) {
                const QString text = QString::fromStdString(std::get<std::string>(v));
                if (edit->toPlainText() == text) return;  // what is being typed keeps its cursor
                const QSignalBlocker quiet(edit);
                edit->setPlainText(text);
            }};
}

/// A list to choose from, which takes other words, too.
FieldEditors::Editor FieldEditors::suggested(const Field& field) {
    auto* list = new QComboBox;
    list->setEditable(true);
    list->setInsertPolicy(QComboBox::NoInsert);
    list->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    for (const std::string& name : field.suggestions()) list->addItem(QString::fromStdString(name));
    auto take = [this, list, &field] {
        if (kind_) commit(field, list->currentText().trimmed().toStdString());
    };
    connect(list, &QComboBox::activated, this, take);
    connect(list->lineEdit(), &QLineEdit::editingFinished, this, take);
    return {list, [list](const Value& v) { list->setCurrentText(QString::fromStdString(std::get<std::string>(v))); }};
}

/// How many elements, and a button to select others.
FieldEditors::Editor FieldEditors::selected(const Field& field) {
    auto* box = new QWidget;
    auto* line = new QHBoxLayout(box);
    line->setContentsMargins(0, 0, 0, 0);
    auto* count = new QLabel;
    auto* others = new QPushButton(tr("Select"));
    others->setToolTip(tr("Select in the view what the step is used on"));
    line->addWidget(count, 1);
    line->addWidget(others);
    connect(others, &QPushButton::clicked, this, [this, &field] { Q_EMIT selection_wanted(field); });
    QPushButton* none = nullptr;
    if (!field.is_wanted) {
        none = new QPushButton(tr("None"));
        none->setToolTip(tr("Let go of what it is used on"));
        line->addWidget(none);
        connect(none, &QPushButton::clicked, this, [this, &field] { commit(field, field.usual); });
    }
    return {box, [count, none, &field](const Value& v) {
                const bool any = v != field.usual;
                count->setText(any ? QString::fromStdString(text_of(field, v)) : tr("none"));
                if (none) none->setVisible(any);
            }};
}

/// What was read from a file, and a button to read another.
FieldEditors::Editor FieldEditors::from_file(const Field& field) {
    auto* box = new QWidget;
    auto* line = new QHBoxLayout(box);
    line->setContentsMargins(0, 0, 0, 0);
    auto* lines = new QLabel;
    auto* read = new QPushButton(tr("Read a file"));
    read->setToolTip(capitalised(field.says));
    line->addWidget(lines, 1);
    line->addWidget(read);
    connect(read, &QPushButton::clicked, this, [this, &field] {
        const QString file =
            QFileDialog::getOpenFileName(this, tr("Read the %1").arg(QString::fromStdString(field.label)), {},
                                         tr("Text (%1);;All files (*)").arg(QString::fromStdString(field.files)));
        if (!file.isEmpty()) take_file(field, file);
    });
    return {box, [lines, &field](const Value& v) { lines->setText(QString::fromStdString(text_of(field, v))); }};
}

void FieldEditors::take_file(const Field& field, const QString& file) {
    auto read = read_file(file.toStdString());
    constexpr std::size_t most_bytes = 4 << 20;
    if (read && read->size() > most_bytes)
        read = Error{ErrorCode::bad_count, "it is larger than 4 MB, which no outline is", file.toStdString()};
    if (!read)
        Q_EMIT hint(QString::fromStdString(read.error().sentence()));
    else
        commit(field, std::move(*read));
}

/// One of the parts that are there, or none.
FieldEditors::Editor FieldEditors::part_chosen(const Field& field) {
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

FieldEditors::Editor FieldEditors::chosen(const Field& field) {
    std::size_t letters = 0;
    for (const std::string& choice : field.choices) letters += choice.size();
    if (field.choices.size() > most_buttons || letters > most_letters) {
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

void FieldEditors::commit(const Field& field, const Value& value) {
    if (value_of_field(field) == value)
        show_again();
    else
        Q_EMIT set(field, value);
}

}  // namespace anvil::app
