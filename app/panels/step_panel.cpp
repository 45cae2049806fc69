#include "app/panels/step_panel.h"

#include <QButtonGroup>
#include <QCheckBox>
#include <QGridLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QStyle>
#include <QToolButton>
#include <QVBoxLayout>

#include "app/panels/parts_of_panels.h"
#include "app/theme.h"
#include "app/words.h"
#include "core/job/bundles.h"
#include "core/job/part_report.h"
#include "core/job/quantity.h"

namespace anvil::app {
namespace {

/// In the panel's order, row by row: the three main ones first.
constexpr Operation operations[] = {
    Operation::union_of,     Operation::difference,  Operation::intersection,        // row 0
    Operation::split,        Operation::pieces,      Operation::inlay,               // row 1
    Operation::trim_outside, Operation::trim_inside,                                 // row 2
    Operation::scribe,       Operation::gather,      Operation::reverse_difference,  // row 3
};
static_assert(std::size(operations) == std::size(all_operations));
constexpr int operation_row[] = {0, 0, 0, 1, 1, 1, 2, 2, 3, 3, 3};
constexpr int operation_columns = 6;

}  // namespace

StepPanel::StepPanel(JobController& controller, QWidget* parent) : QWidget(parent), controller_(controller) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(12, 6, 12, 8);
    column->setSpacing(6);
    title_ = new QLabel;
    QFont bold = title_->font();
    bold.setBold(true);
    title_->setFont(bold);
    note_ = new QLabel;
    note_->setWordWrap(true);
    note_->setObjectName("emptyText");
    column->addWidget(title_);
    column->addWidget(note_);
    body_ = new QWidget;
    column->addWidget(body_);
    auto* grid = new QGridLayout(body_);
    grid->setContentsMargins(0, 0, 0, 0);
    grid->setHorizontalSpacing(6);
    grid->setVerticalSpacing(4);

    operation_box_ = new QWidget;
    auto* row = new QGridLayout(operation_box_);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(4);
    row->addWidget(does_ = section_title({}), 0, 0, 1, operation_columns);
    for (std::size_t k = 0; k < std::size(operations); ++k) {
        const OperationWords words = words_of(operations[k]);
        auto* button = operations_[k] = new QToolButton;
        button->setProperty("choice", true);
        button->setCheckable(true);
        button->setText(words.name);
        button->setIcon(icon(word_of(operations[k])));
        button->setIconSize({18, 18});
        button->setToolButtonStyle(k < 3 ? Qt::ToolButtonTextUnderIcon : Qt::ToolButtonTextBesideIcon);
        button->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
        button->setToolTip(tr("%1 (%2 in the view)").arg(words.does, QKeySequence(words.key).toString()));
        connect(button, &QToolButton::clicked, this, [this, k] { apply_operation(operations[k]); });
        const auto of_row = std::ranges::count(operation_row, operation_row[k]);
        const auto first = std::ranges::find(operation_row, operation_row[k]) - std::begin(operation_row);
        const int span = operation_columns / static_cast<int>(of_row);
        row->addWidget(button, 1 + operation_row[k], (static_cast<int>(k) - static_cast<int>(first)) * span, 1, span);
    }
    grid->addWidget(operation_box_, 0, 0, 1, 4);

    const QString axis[] = {"x", "y", "z"};
    const char* labels[] = {"axisX", "axisY", "axisZ"};
    for (int kind = 0; kind < 2; ++kind) {
        grid->addWidget(section_title(kind == 0 ? tr("POSITION") : tr("TURNED ABOUT X, THEN Y, THEN Z")), 2 + 2 * kind,
                        0, 1, 4);
        auto* line = new QHBoxLayout;
        line->setSpacing(4);
        for (int k = 0; k < 3; ++k) {
            auto* label = new QLabel(axis[k]);
            label->setObjectName(labels[k]);
            auto* edit = fields_[static_cast<std::size_t>(3 * kind + k)] = new QLineEdit;
            edit->setAccessibleName((kind == 0 ? tr("Position %1") : tr("Angle about %1")).arg(axis[k]));
            edit->setToolTip(kind == 0 ? tr("A length, with units and arithmetic: 12.5+1in")
                                       : tr("An angle: 45, 90/4, 0.5rad"));
            edit->setMinimumWidth(40);
            connect(edit, &QLineEdit::editingFinished, this, [this, index = 3 * kind + k] { commit(index); });
            line->addWidget(label);
            line->addWidget(edit, 1);
        }
        grid->addLayout(line, 3 + 2 * kind, 0, 1, 4);
    }
    auto* buttons = new QHBoxLayout;
    base_ = new QPushButton(tr("Make it the base"));
    remove_ = new QPushButton(tr("Remove part"));
    buttons->addWidget(base_);
    buttons->addWidget(remove_);
    grid->addLayout(buttons, 6, 0, 1, 4);
    closes_sheets_ = new QCheckBox(tr("Close it: fill every hole, however large"));
    closes_sheets_->setToolTip(tr(
        "It is open and encloses nothing. Closed, it counts as a solid; else it is a sheet, which splits and trims"));
    connect(closes_sheets_, &QCheckBox::clicked, this, [this](bool on) {
        Job job = controller_.job();
        Part* part = job.find_part(part_);
        if (!part) return;
        part->closes_sheets = on;
        const QString name = QString::fromStdString(part->name);
        controller_.change(std::move(job), (on ? tr("close %1") : tr("leave %1 open")).arg(name));
    });
    grid->addWidget(closes_sheets_, 8, 0, 1, 4);
    met_ = new QLabel;
    met_->setWordWrap(true);
    met_->setObjectName("emptyText");
    met_->setTextInteractionFlags(Qt::TextSelectableByMouse);
    grid->addWidget(met_, 7, 0, 1, 4);
    make_result_box();
    column->addWidget(result_box_);
    connect(remove_, &QPushButton::clicked, this, &StepPanel::remove);
    connect(base_, &QPushButton::clicked, this, [this] {
        Job job = controller_.job();
        const Part* part = job.find_part(part_);
        if (!part || job.base == part_) return;
        const QString name = QString::fromStdString(part->name);
        job.remove_steps_of(part_);
        job.base = part_;
        controller_.change(std::move(job), tr("make %1 the base").arg(name));
    });
    connect(&controller_, &JobController::job_changed, this, &StepPanel::reload);
    connect(&controller_, &JobController::evaluated, this, &StepPanel::reload_note);
    connect(&controller_, &JobController::evaluated, this, &StepPanel::reload_met);
    connect(&controller_, &JobController::evaluated, this, &StepPanel::reload_open);
    reload();
}

/// What holds for the result as a whole; shown where no step is chosen.
void StepPanel::make_result_box() {
    result_box_ = new QWidget;
    auto* grid = new QGridLayout(result_box_);
    grid->setContentsMargins(0, 0, 0, 0);
    grid->setSpacing(4);
    grid->addWidget(section_title(tr("WHERE BODIES ONLY TOUCH")), 0, 0, 1, 2);
    const std::pair<QString, QString> rules[] = {
        {tr("set back"), tr("Each body stays behind the contact by the smallest step that keeps them apart")},
        {tr("bridge"), tr("A small bridge holds the bodies together")}};
    auto* choice = new QButtonGroup(this);
    for (std::size_t k = 0; k < 2; ++k) {
        auto* button = contact_[k] = new QToolButton;
        button->setProperty("choice", true);
        button->setCheckable(true);
        button->setText(rules[k].first);
        button->setToolTip(rules[k].second);
        button->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
        choice->addButton(button);
        grid->addWidget(button, 1, static_cast<int>(k));
        connect(button, &QToolButton::clicked, this, [this, k] {
            const ContactRule rule = k == 0 ? ContactRule::separate : ContactRule::join;
            Job job = controller_.job();
            if (job.settings.contact == rule) return;
            job.settings.contact = rule;
            controller_.change(std::move(job), k == 0 ? tr("set contacts back") : tr("bridge contacts"));
        });
    }
    merge_flush_ = new QCheckBox(tr("Make flush faces one flat face"));
    merge_flush_->setToolTip(tr("Faces in one plane side by side become one region, and points on its lines go"));
    grid->addWidget(merge_flush_, 2, 0, 1, 2);
    connect(merge_flush_, &QCheckBox::clicked, this, [this](bool on) {
        Job job = controller_.job();
        job.settings.merge_flush = on;
        controller_.change(std::move(job), on ? tr("merge flush faces") : tr("keep flush faces apart"));
    });
}

void StepPanel::set_row(const RowId& row) {
    part_ = row.part;
    step_ = row.step;
    reload();
}

int StepPanel::step_index() const {
    const auto& steps = controller_.job().steps;
    for (std::size_t i = 0; i < steps.size(); ++i)
        if (steps[i].id == step_) return static_cast<int>(i);
    return -1;
}

void StepPanel::reload() {
    const Job& job = controller_.job();
    const Part* part = job.find_part(part_);
    body_->setVisible(part != nullptr);
    result_box_->setVisible(!job.parts.empty() && (!part || job.base == part_));
    contact_[0]->setChecked(job.settings.contact == ContactRule::separate);
    contact_[1]->setChecked(job.settings.contact == ContactRule::join);
    merge_flush_->setChecked(job.settings.merge_flush);
    title_->setVisible(part != nullptr);
    reload_note();
    if (!part) return;
    const int step = step_index();
    const bool is_base = job.base == part_;
    title_->setText(QString::fromStdString(part->name));
    operation_box_->setVisible(!is_base);
    const auto i = static_cast<std::size_t>(step);
    const auto head = step >= 0 ? bundle_head(job.steps, i) : std::nullopt;
    does_->setText(head ? tr("WHAT IT DOES TO \"%1\"")
                              .arg(QString::fromStdString(job.find_part(job.steps[*head].part)->name).toUpper())
                        : tr("WHAT IT DOES TO THE BASE"));
    for (std::size_t k = 0; k < std::size(operations); ++k) {
        operations_[k]->setChecked(step >= 0 && job.steps[i].operation == operations[k]);
        operations_[k]->setEnabled(!head || counts_in_bundle(operations[k]));
    }
    for (int k = 0; k < 6; ++k) {
        QLineEdit* edit = field(k);
        const Vec3& v = k < 3 ? part->placement.position : part->placement.angles;
        edit->setText(QString::fromStdString(format_quantity(v[k % 3], k < 3 ? Unit::millimetre : Unit::degree)));
        edit->setCursorPosition(0);
        mark_wrong(*edit, false);
    }
    base_->setEnabled(!is_base);
    remove_->setText(is_used_again() ? tr("Remove step") : tr("Remove part"));
    reload_met();
    reload_open();
}

/// Whether to close it is asked only of what is open.
void StepPanel::reload_open() {
    const Part* part = controller_.job().find_part(part_);
    if (!part) return;
    const auto outcome = controller_.outcome();
    const bool open = outcome && outcome->evaluation && outcome->evaluation->sheets.contains(part_);
    closes_sheets_->setVisible(part->closes_sheets || open);
    closes_sheets_->setChecked(part->closes_sheets);
}

/// How the part meets the others: lines, flush faces, holes that were closed.
void StepPanel::reload_met() {
    const Job& job = controller_.job();
    const auto outcome = controller_.outcome();
    QStringList said;
    if (outcome && outcome->evaluation && job.find_part(part_)) {
        const PartReport report = report_of(*outcome->evaluation, part_);
        if (report.curves > 0)
            said << tr("%1, %2 mm in all.")
                        .arg(counted(report.curves, tr("crossing curve"), tr("crossing curves")))
                        .arg(report.length, 0, 'f', 1);
        for (const PartReport::Flush& f : report.flush)
            if (const Part* other = job.find_part(f.other))
                said << (f.facing ? tr("Lies flush against %1, %2 mm².") : tr("Ends flush with %1, %2 mm²."))
                            .arg(quoted(other->name))
                            .arg(f.area, 0, 'f', 2);
        if (report.closed_holes > 0)
            said << tr("%1 closed, marked in the view.")
                        .arg(counted(report.closed_holes, tr("hole was"), tr("holes were")));
    }
    met_->setText(said.join("\n"));
    met_->setVisible(!said.isEmpty());
}

/// What the last evaluation had to say about the part, or else what it is, or how to choose one.
void StepPanel::reload_note() {
    const Job& job = controller_.job();
    const Part* part = job.find_part(part_);
    const int step = step_index();
    const bool is_base = part && job.base == part_;
    QString note = job.parts.empty() ? QString()
                   : !part           ? tr("Choose a row, or click a part in the view, to set it here.")
                   : is_base         ? tr("The base: the steps act on it, from the top down.")
                   : step < 0        ? tr("It waits on the bench. Choose what it shall do to the base.")
                                     : QString();
    std::string said;
    if (const auto outcome = controller_.outcome(); outcome && outcome->evaluation) {
        if (is_base) said = outcome->evaluation->base_note;
        if (step >= 0)
            for (const StepOutcome& o : outcome->evaluation->steps)
                if (o.step == job.steps[static_cast<std::size_t>(step)].id) said = o.note;
    }
    if (!said.empty()) note = QString::fromStdString(said);
    note_->setObjectName(said.empty() ? "emptyText" : "remark");
    note_->style()->unpolish(note_);
    note_->style()->polish(note_);
    note_->setText(note);
    note_->setVisible(!note.isEmpty());
}

void StepPanel::commit(int index) {
    Job job = controller_.job();
    Part* part = job.find_part(part_);
    if (!part) return;
    const Unit unit = index < 3 ? Unit::millimetre : Unit::degree;
    QLineEdit* edit = field(index);
    double& value = (index < 3 ? part->placement.position : part->placement.angles)[index % 3];
    if (edit->text() == QString::fromStdString(format_quantity(value, unit))) return;
    const auto parsed = parse_quantity(edit->text().toStdString(), unit);
    if (!parsed) {
        mark_wrong(*edit, true);
        Q_EMIT hint(QString::fromStdString(parsed.error().sentence()));
        return;
    }
    if (*parsed == value) {
        reload();
        return;
    }
    value = *parsed;
    const QString name = QString::fromStdString(part->name);
    controller_.change(std::move(job), (index < 3 ? tr("move %1") : tr("turn %1")).arg(name));
}

void StepPanel::apply_operation(Operation operation) {
    Job job = controller_.job();
    const Part* part = job.find_part(part_);
    if (!part || job.base == part_) return;
    const QString name = QString::fromStdString(part->name), verb = words_of(operation).name;
    const int step = step_index();
    if (step < 0) {
        step_ = job.steps[job.add_step(operation, part_)].id;
    } else if (job.steps[static_cast<std::size_t>(step)].operation == operation) {
        reload();
        return;
    } else {
        job.steps[static_cast<std::size_t>(step)].operation = operation;
    }
    controller_.change(std::move(job), tr("%1 with %2").arg(verb, name));
}

/// Whether steps other than the chosen one have the part for their operand, too.
bool StepPanel::is_used_again() const {
    return !step_.empty() &&
           std::ranges::count_if(controller_.job().steps, [&](const Step& s) { return s.part == part_; }) > 1;
}

void StepPanel::toggle() {
    const int step = step_index();
    if (step < 0) return;
    Job job = controller_.job();
    bool& on = job.steps[static_cast<std::size_t>(step)].on;
    on = !on;
    const QString name = QString::fromStdString(job.find_part(part_)->name);
    controller_.change(std::move(job), on ? tr("switch on %1").arg(name) : tr("switch off %1").arg(name));
}

void StepPanel::remove() {
    Job job = controller_.job();
    const Part* part = job.find_part(part_);
    if (!part) return;
    const QString name = QString::fromStdString(part->name);
    if (is_used_again())
        drop_steps(job.steps, [&](const Step& s) { return s.id == step_; });
    else
        job.remove_part(part_);
    controller_.change(std::move(job), tr("remove %1").arg(name));
}

}  // namespace anvil::app
