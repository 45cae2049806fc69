#include "app/panels/step_panel.h"

#include <QButtonGroup>
#include <QCheckBox>
#include <QGridLayout>
#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QPushButton>
#include <QStyle>
#include <QToolButton>
#include <QVBoxLayout>

#include "app/panels/copies_panel.h"
#include "app/panels/link_panel.h"
#include "app/panels/parts_of_panels.h"
#include "app/panels/row_words.h"
#include "app/panels/shape_panel.h"
#include "app/panels/size_panel.h"
#include "app/panels/skins_row.h"
#include "app/theme.h"
#include "app/user_settings.h"
#include "app/words.h"
#include "core/job/endless.h"
#include "core/job/part_report.h"
#include "core/job/place_edits.h"
#include "core/job/quantity.h"

namespace anvil::app {
namespace {

/// At hand as buttons; the others are in a list.
constexpr Operation main_operations[] = {Operation::union_of, Operation::difference, Operation::intersection};
bool is_main(Operation operation) { return std::ranges::find(main_operations, operation) != std::end(main_operations); }

}  // namespace

StepPanel::StepPanel(JobController& controller, QWidget* parent) : QWidget(parent), controller_(controller) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(12, 6, 12, 8);
    column->setSpacing(6);
    title_ = bold_label();
    note_ = new QLabel;
    note_->setWordWrap(true);
    note_->setObjectName("emptyText");
    column->addWidget(title_);
    column->addWidget(note_);
    skins_ = new SkinsRow(controller_);
    column->addWidget(skins_);
    connect(skins_, &SkinsRow::hint, this, &StepPanel::hint);
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
    row->addWidget(does_ = section_title({}), 0, 0, 1, 3);
    other_ = choice_button(tr("other"), tr("Split, pieces, inlay, scribe, trims and others"));
    other_->setToolButtonStyle(Qt::ToolButtonTextBesideIcon);
    other_->setPopupMode(QToolButton::InstantPopup);
    auto* others = new QMenu(other_);
    others->setToolTipsVisible(true);
    other_->setMenu(others);
    int column_of_main = 0;
    for (const Operation operation : all_operations) {
        const OperationWords words = words_of(operation);
        const QString does = tr("%1 (%2 in the view)").arg(words.does, QKeySequence(words.key).toString());
        if (is_main(operation)) {
            auto* button = operations_[operation] = choice_button(words.name, does);
            button->setIcon(icon(word_of(operation)));
            button->setIconSize({18, 18});
            button->setToolButtonStyle(Qt::ToolButtonTextUnderIcon);
            connect(button, &QToolButton::clicked, this, [this, operation] { apply_operation(operation); });
            row->addWidget(button, 1, column_of_main++);
        } else {
            auto* action = others_[operation] = others->addAction(icon(word_of(operation)), words.name);
            action->setToolTip(does);
            connect(action, &QAction::triggered, this, [this, operation] { apply_operation(operation); });
        }
    }
    row->addWidget(other_, 2, 0, 1, 3);
    grid->addWidget(operation_box_, 0, 0, 1, 4);
    shape_ = new ShapePanel(controller_);
    connect(shape_, &ShapePanel::hint, this, &StepPanel::hint);
    grid->addWidget(shape_, 1, 0, 1, 4);
    link_ = new LinkPanel(controller_);
    connect(link_, &LinkPanel::hint, this, &StepPanel::hint);
    grid->addWidget(link_, 11, 0, 1, 4);
    copies_ = new CopiesPanel(controller_);
    connect(copies_, &CopiesPanel::hint, this, &StepPanel::hint);
    grid->addWidget(copies_, 7, 0, 1, 4);
    size_ = new SizePanel(controller_);
    connect(size_, &SizePanel::hint, this, &StepPanel::hint);
    grid->addWidget(size_, 6, 0, 1, 4);

    const QString axis[] = {"x", "y", "z"};
    const char* labels[] = {"axisX", "axisY", "axisZ"};
    for (int kind = 0; kind < 2; ++kind) {
        auto* head = section_title(kind == 0 ? QString() : tr("ROTATION ABOUT X, THEN Y, THEN Z"));
        if (kind == 0) position_ = head;
        grid->addWidget(head, 2 + 2 * kind, 0, 1, 4);
        auto* line = new QHBoxLayout;
        line->setSpacing(4);
        for (int k = 0; k < 3; ++k) {
            auto* label = new QLabel(axis[k]);
            label->setObjectName(labels[k]);
            auto* edit = fields_[static_cast<std::size_t>(3 * kind + k)] = new QLineEdit;
            edit->setAccessibleName((kind == 0 ? tr("Position %1") : tr("Angle about %1")).arg(axis[k]));
            edit->setToolTip(kind == 0
                                 ? tr("A length, with units and arithmetic: 12.5+1in; \"by 5\" moves it on by 5 mm")
                                 : tr("An angle: 45, 90/4, 0.5rad; \"by 15\" rotates it on by 15°"));
            edit->setMinimumWidth(40);
            connect(edit, &QLineEdit::editingFinished, this, [this, index = 3 * kind + k] { commit(index); });
            line->addWidget(label);
            line->addWidget(edit, 1);
        }
        grid->addLayout(line, 3 + 2 * kind, 0, 1, 4);
    }
    auto* buttons = new QHBoxLayout;
    buttons->setSpacing(6);
    base_ = new QPushButton(tr("Make it the base"));
    remove_ = new QPushButton(tr("Remove part"));
    buttons->addWidget(base_);
    buttons->addWidget(remove_);
    grid->addLayout(buttons, 8, 0, 1, 4);
    closes_sheets_ = new QCheckBox(tr("Close it: fill every hole, however large"));
    closes_sheets_->setToolTip(tr(
        "It is open and encloses nothing. Closed, it counts as a solid; else it is a sheet, which splits and trims"));
    connect(closes_sheets_, &QCheckBox::clicked, this, [this](bool on) {
        if (!part()) return;
        Job job = controller_.job();
        const QString name = QString::fromStdString(part()->name);
        edit_use(job, row_, [&](Use& use) { use.closes_sheets = on; });
        controller_.change(std::move(job), (on ? tr("close %1") : tr("leave %1 open")).arg(name));
    });
    grid->addWidget(closes_sheets_, 10, 0, 1, 4);
    goes_along_ = new QCheckBox(tr("Goes along when the base is moved"));
    goes_along_->setToolTip(tr("Off: it stays where it is, and the base moves under it"));
    connect(goes_along_, &QCheckBox::clicked, this, [this](bool on) {
        const Row* at = this->row();
        if (!at || !at->step) return;
        Job job = controller_.job();
        edit_step(job, at->step->id, [&](Step& step) { step.unlinked = !on; });
        controller_.change(
            std::move(job),
            (on ? tr("link %1 to the base") : tr("unlink %1 from the base")).arg(name_of(*at, controller_.job())));
    });
    grid->addWidget(goes_along_, 12, 0, 1, 4);
    met_ = new QLabel;
    met_->setWordWrap(true);
    met_->setObjectName("emptyText");
    met_->setTextInteractionFlags(Qt::TextSelectableByMouse);
    grid->addWidget(met_, 9, 0, 1, 4);
    make_result_box();
    column->addWidget(result_box_);
    connect(remove_, &QPushButton::clicked, this, &StepPanel::remove_wanted);
    connect(base_, &QPushButton::clicked, this, [this] {
        Job job = controller_.job();
        if (!part() || base_of(job) == row_.part) return;
        const QString name = QString::fromStdString(part()->name);
        if (make_base(job, row_.part))
            controller_.change(std::move(job), tr("make %1 the base").arg(name));
        else
            Q_EMIT hint(tr("%1 follows the result, so it cannot be what that starts from. Use a copy of it.")
                            .arg(quoted(name.toStdString())));
    });
    connect(&controller_, &JobController::job_changed, this, &StepPanel::reload);
    connect(&controller_, &JobController::evaluated, this, &StepPanel::reload_note);
    connect(&controller_, &JobController::evaluated, this, &StepPanel::reload_met);
    connect(&controller_, &JobController::evaluated, this, &StepPanel::reload_open);
    connect(&controller_, &JobController::evaluated, this, &StepPanel::reload_kept);
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
        auto* button = contact_[k] = choice_button(rules[k].first, rules[k].second);
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
    auto* memory = new QHBoxLayout;
    kept_ = new QLabel;
    kept_->setObjectName("emptyText");
    budget_ = new QLineEdit;
    budget_->setFixedWidth(78);
    budget_->setAccessibleName(tr("Memory for kept results"));
    budget_->setToolTip(tr("Results are kept for the next change, up to this much memory; those used least go first"));
    memory->addWidget(kept_, 1);
    memory->addWidget(budget_);
    grid->addLayout(memory, 3, 0, 1, 2);
    connect(budget_, &QLineEdit::editingFinished, this, &StepPanel::commit_budget);
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
    row_ = row;
    shape_->set_row(row);
    link_->set_row(row);
    size_->set_row(row);
    copies_->set_row(row);
    skins_->set_step(row.step());
    reload();
}

void StepPanel::reload() {
    const Job& job = controller_.job();
    const Row* at = row();
    const Part* part = at ? this->part() : nullptr;
    body_->setVisible(part != nullptr);
    result_box_->setVisible(!job.parts.empty() && (!part || at->is_base()));
    contact_[0]->setChecked(job.settings.contact == ContactRule::separate);
    contact_[1]->setChecked(job.settings.contact == ContactRule::join);
    merge_flush_->setChecked(job.settings.merge_flush);
    reload_kept();
    title_->setVisible(part != nullptr);
    reload_note();
    if (!part) return;
    title_->setText(QString::fromStdString(part->name));
    operation_box_->setVisible(!at->is_base());
    // In the list of an operand it acts on that.
    const bool bundled = at->step && at->id.way.size() > 2;
    const Row* head = bundled ? controller_.row({{}, {at->id.way.begin(), at->id.way.end() - 1}}) : nullptr;
    const Part* acts_on = head ? job.find_part(head->id.part) : nullptr;
    does_->setText(acts_on ? tr("WHAT IT DOES TO \"%1\"").arg(QString::fromStdString(acts_on->name).toUpper())
                           : tr("WHAT IT DOES TO THE BASE"));
    const bool acts = at->combines();
    const Operation now = acts ? at->kind->operation : Operation::pieces;
    for (const auto& [operation, button] : operations_) button->setChecked(acts && now == operation);
    const bool endless = endless_shape(job, row_.part) != nullptr;
    auto can = [&](Operation operation) {
        return (!bundled || counts_in_bundle(operation)) && (!endless || !endless_trouble(operation));
    };
    for (const auto& [operation, button] : operations_) button->setEnabled(!endless || !endless_trouble(operation));
    for (const auto& [operation, action] : others_) action->setEnabled(can(operation));
    const bool is_other = acts && !is_main(now);
    other_->setChecked(is_other);
    other_->setText(is_other ? words_of(now).name : tr("another operation"));
    other_->setIcon(icon(word_of(is_other ? now : Operation::pieces)));
    const Placement placement = at->placement();
    for (int k = 0; k < 6; ++k) {
        QLineEdit* edit = field(k);
        const Vec3& v = k < 3 ? placement.position : placement.angles;
        edit->setText(narrow(v[k % 3], k < 3 ? Unit::millimetre : Unit::degree));
        edit->setCursorPosition(0);
        mark_wrong(*edit, false);
    }
    // What stands in a list is told from that, which may be turned.
    position_->setText(at->frame.isApprox(Transform::Identity(), 0) ? tr("POSITION")
                       : acts_on ? tr("POSITION, FROM \"%1\"").arg(QString::fromStdString(acts_on->name).toUpper())
                                 : tr("POSITION, FROM THE BASE"));
    goes_along_->setVisible(at->step && at->use && at->list->id == job.work());
    goes_along_->setChecked(at->step && !at->step->unlinked);
    base_->setEnabled(!at->is_base() && !endless);
    remove_->setText(is_used_elsewhere(controller_.rows(), *at) ? tr("Remove step") : tr("Remove part"));
    reload_met();
    reload_open();
}

void StepPanel::reload_kept() {
    const auto outcome = controller_.outcome();
    kept_->setText(tr("Results kept: %1 of").arg(memory_text(outcome ? outcome->kept_bytes : 0)));
    budget_->setText(memory_text(controller_.budget()));
    mark_wrong(*budget_, false);
}

void StepPanel::commit_budget() {
    if (budget_->text() == memory_text(controller_.budget())) return;
    const auto bytes = memory_from(budget_->text());
    mark_wrong(*budget_, !bytes);
    if (!bytes) {
        Q_EMIT hint(tr("An amount of memory is wanted here, 16 MB or more: 512 MB, 2 GB."));
        return;
    }
    controller_.set_budget(*bytes);
    save_budget(*bytes);
    reload_kept();
}

/// Whether to close it is asked only of what is open.
void StepPanel::reload_open() {
    const Row* at = row();
    if (!at) return;
    const auto outcome = controller_.outcome();
    const bool open = outcome && outcome->evaluation && outcome->evaluation->sheets.contains(row_.part);
    const bool closed = at->use && at->use->closes_sheets;
    closes_sheets_->setVisible(closed || (open && (at->use || at->is_base())));
    closes_sheets_->setChecked(closed);
}

/// How the part meets the others: lines, flush faces, holes that were closed.
void StepPanel::reload_met() {
    const Job& job = controller_.job();
    const auto outcome = controller_.outcome();
    QStringList said;
    if (outcome && outcome->evaluation && part()) {
        const PartReport report =
            report_of(*outcome->evaluation->combined, outcome->evaluation->operand_parts, row_.part);
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
    const Row* at = row();
    QString note = controller_.job().parts.empty() ? QString()
                   : !at                           ? tr("Select a row, or click a part in the view, to set it here.")
                   : at->is_base()
                       ? tr("The base: the steps act on it, from the top down, and go along when it is moved.")
                   : !at->step ? tr("It waits on the bench. Choose what it does to the base.")
                               : QString();
    std::string said;
    if (const auto outcome = controller_.outcome(); at && outcome && outcome->evaluation) {
        if (at->is_base()) said = outcome->evaluation->base_note;
        if (const RowOutcome* done = at->step ? controller_.done(at->step->id) : nullptr) said = done->note;
    }
    if (!said.empty()) note = QString::fromStdString(said);
    note_->setObjectName(said.empty() ? "emptyText" : "remark");
    note_->style()->unpolish(note_);
    note_->style()->polish(note_);
    note_->setText(note);
    note_->setVisible(!note.isEmpty());
}

void StepPanel::commit(int index) {
    const Row* at = row();
    if (!at || !part()) return;
    const Unit unit = index < 3 ? Unit::millimetre : Unit::degree;
    QLineEdit* edit = field(index);
    Placement placement = at->placement();
    double& value = (index < 3 ? placement.position : placement.angles)[index % 3];
    if (edit->text() == narrow(value, unit)) return;
    const auto parsed = parse_quantity(edit->text().toStdString(), unit, value);
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
    if (const auto about = index >= 3 && pivot ? pivot() : std::nullopt)
        placement = with_angles(at->placement(), placement.angles, apply(Transform(at->frame.inverse()), *about));
    const QString name = QString::fromStdString(part()->name);
    Job job = controller_.job();
    set_placement(job, row_, placement);
    controller_.change(std::move(job), (index < 3 ? tr("move %1") : tr("rotate %1")).arg(name));
}

void StepPanel::apply_operation(Operation operation) {
    const Row* at = row();
    if (!at || !part() || at->is_base() || (at->step && !at->combines())) return;
    Job job = controller_.job();
    const QString name = QString::fromStdString(part()->name), verb = words_of(operation).name;
    if (!at->step) {
        const std::string step = add_combining(job, operation, row_.way.front());
        row_ = {row_.part, {job.work(), step}};
        shape_->set_row(row_);
        link_->set_row(row_);
        size_->set_row(row_);
        copies_->set_row(row_);
    } else if (at->kind->operation == operation) {
        reload();
        return;
    } else {
        edit_step(job, at->step->id, [&](Step& step) { step.kind = std::string(word(operation)); });
    }
    controller_.change(std::move(job), tr("%1 with %2").arg(verb, name));
}

}  // namespace anvil::app
