#include "app/window.h"

#include <QAction>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QMessageBox>
#include <QScreen>
#include <QVBoxLayout>

#include "app/panels/copies_panel.h"
#include "app/panels/empty_bench.h"
#include "app/panels/field_panel.h"
#include "app/panels/find_box.h"
#include "app/panels/first_hints.h"
#include "app/panels/flush_strip.h"
#include "app/panels/hand_strip.h"
#include "app/panels/hint_line.h"
#include "app/panels/job_sheet.h"
#include "app/panels/ledger.h"
#include "app/panels/mend_panel.h"
#include "app/panels/notice_strip.h"
#include "app/panels/question_strip.h"
#include "app/panels/recovery_strip.h"
#include "app/panels/route.h"
#include "app/panels/row_words.h"
#include "app/panels/settings_area.h"
#include "app/panels/side_panel.h"
#include "app/panels/spread_row.h"
#include "app/panels/step_panel.h"
#include "app/panels/unit_strip.h"
#include "app/panels/unsaved_strip.h"
#include "app/theme.h"
#include "app/view/viewport.h"
#include "app/words.h"
#include "core/job/groups.h"
#include "core/job/new_shape.h"
#include "core/job/place_edits.h"
#include "core/mesh/primitives.h"

namespace anvil::app {

Window::Window(QWidget* parent) : QMainWindow(parent) {
    setObjectName("bench");
    make_actions();
    make_layout();
    // No larger than the screen: the hint line is at the bottom.
    resize(QSize(1280, 800).boundedTo(screen()->availableSize()));
    QCoreApplication::instance()->installEventFilter(this);

    connect(&controller_, &JobController::job_changed, this, [this] {
        hint_line_->clear_error();
        if (const RowId row = nearest_row(controller_.rows(), chosen_); row != chosen_)
            choose(row);
        else
            sheet_->choose(row);
        refresh_actions();
        refresh_title();
        hint_line_->show_hint(usual_hint());
    });
    connect(&controller_, &JobController::inspected, this, &Window::inspect_chosen);
    connect(&controller_, &JobController::evaluated, this, &Window::inspect_chosen);
    connect(&controller_, &JobController::failed, this, &Window::fail);
    connect(&controller_, &JobController::delivered, this, [this](const QString& said) {
        hint_line_->clear_error();
        hint_line_->show_hint(said);
    });
    connect(sheet_, &JobSheet::hint, hint_line_, &HintLine::show_hint);
    connect(sheet_, &JobSheet::chosen, this, &Window::choose);
    connect(viewport_, &Viewport::part_clicked, this, [this](const std::string& part) {
        if (part != chosen_.part) choose_part(part);  // of its rows the one that is chosen stays so
    });
    connect(viewport_, &Viewport::hint, hint_line_, &HintLine::show_hint);
    connect(unit_strip_, &UnitStrip::hint, hint_line_, &HintLine::show_hint);
    connect(unit_strip_, &UnitStrip::answered, viewport_, &Viewport::frame_when_ready);
    connect(recovery_strip_, &RecoveryStrip::open_wanted, this, &Window::recover);
    connect(unsaved_strip_, &UnsavedStrip::save_wanted, this, [this](const std::function<void()>& then) {
        if (save(false) && then) then();
    });
    connect(&controller_, &JobController::job_changed, unsaved_strip_, &UnsavedStrip::dismiss);
    connect(step_panel_, &StepPanel::hint, hint_line_, &HintLine::show_hint);
    connect(step_panel_, &StepPanel::remove_wanted, this, &Window::remove_chosen);
    connect(mend_panel_, &MendPanel::remove_wanted, this, &Window::remove_chosen);
    connect(field_panel_, &FieldPanel::remove_wanted, this, &Window::remove_chosen);
    viewport_->other_keys = [this](int key) { return take_cut_key(key); };
    viewport_->idle_hint = [this] { return usual_hint(); };
    viewport_->selected_rows = [this] { return sheet_->chosen_rows(); };
    connect(spread_row_, &SpreadRow::wanted, viewport_, &Viewport::set_spread);
    connect(field_panel_, &FieldPanel::operation_wanted, this, &Window::apply_operation);
    connect(viewport_, &Viewport::files_dropped, this, &Window::open_files);
    connect(viewport_, &Viewport::key_command, this, [this](const QString& name) { action(name)->trigger(); });
    connect(ledger_, &Ledger::pins_changed, this, [this] {
        viewport_->set_pins(ledger_->pins());
        viewport_->set_findings(ledger_->inspection(), ledger_->chosen_kind(), ledger_->stands());
    });
    connect(mend_panel_, &MendPanel::compare_wanted, viewport_, &Viewport::set_compare);
    connect(viewport_, &Viewport::section_changed, this,
            [this] { actions_["section"]->setChecked(viewport_->section().has_value()); });
    connect(viewport_, &Viewport::measuring_changed, this, [this] {
        actions_["measure"]->setChecked(viewport_->is_measuring());
        actions_["measure-clear"]->setEnabled(!viewport_->measurements().empty());
    });
    connect(field_panel_, &FieldPanel::compare_wanted, viewport_, &Viewport::set_compare);
    connect(field_panel_, &FieldPanel::selection_wanted, this, &Window::select_anew);
    connect(field_panel_, &FieldPanel::direction_wanted, this, &Window::take_direction);
    connect(flush_strip_, &FlushStrip::hint, hint_line_, &HintLine::show_hint);
    step_panel_->pivot = [this] { return viewport_->has_pivot() ? std::optional(viewport_->pivot()) : std::nullopt; };
    connect(step_panel_->copies(), &CopiesPanel::selection_wanted, this, &Window::select_anew);
    connect(field_panel_, &FieldPanel::hint, hint_line_, &HintLine::show_hint);
    connect(viewport_, &Viewport::compare_changed, this, [this] {
        mend_panel_->show_compare(viewport_->compare());
        field_panel_->compare_row()->show_compare(viewport_->compare());
    });
    connect(ledger_, &Ledger::place_chosen, viewport_, &Viewport::frame_place);
    connect(ledger_, &Ledger::row_wanted, this, &Window::choose);
    connect(ledger_, &Ledger::mend_wanted, this, &Window::mend_list);
    connect(question_strip_, &QuestionStrip::hint, hint_line_, &HintLine::show_hint);
    connect(hand_, &HandMode::said, hint_line_, &HintLine::show_hint);
    connect(hand_, &HandMode::changed, this, &Window::show_hand);
    connect(hand_strip_, &HandStrip::findings_wanted, this, [this] {
        if (const auto kind = ledger_->chosen_kind(); kind && ledger_->inspection())
            hand_->choose_findings(ledger_->inspection(), *kind);
        else
            hint_line_->show_hint(tr("Select a line of the ledger first."));
    });
    connect(&controller_, &JobController::evaluated, this, [this] {
        question_strip_->refresh(viewport_->camera());
        if (question_strip_->isVisible()) hint_line_->show_hint(usual_hint());
    });
    connect(mend_panel_, &MendPanel::hint, hint_line_, &HintLine::show_hint);
    connect(mend_panel_, &MendPanel::step_made, this, &Window::choose_step);
    connect(mend_panel_, &MendPanel::pins_changed, this, [this] { viewport_->set_pins(mend_panel_->pins()); });
    connect(hint_line_, &HintLine::details_wanted, this, [this](const QString& text) {
        QMessageBox box(QMessageBox::NoIcon, tr("Details"), text, QMessageBox::Ok, this);
        box.setTextInteractionFlags(Qt::TextSelectableByMouse);
        box.exec();
    });

    start_autosave();
    refresh_actions();
    refresh_title();
    hint_line_->show_hint(usual_hint());
}

/// What is under the pointer says in the hint line what it does; the view does so by itself.
bool Window::eventFilter(QObject* object, QEvent* event) {
    if (route_->take_event(object, event)) return true;
    if (event->type() == QEvent::Enter)
        if (auto* widget = qobject_cast<QWidget*>(object); widget && widget->window() == this)
            for (; widget && widget != this && widget != viewport_; widget = widget->parentWidget()) {
                const QString told = widget->property("hint").toString(), tip = widget->toolTip();
                if (told.isEmpty() && tip.isEmpty()) continue;
                hint_line_->show_hint(told.isEmpty() ? tip : told);
                break;
            }
    return QMainWindow::eventFilter(object, event);
}

Window::~Window() {
    QCoreApplication::instance()->removeEventFilter(this);
    // A field that loses its focus commits what was typed, so the panels must be gone before the controller is.
    hide();
    delete takeCentralWidget();
}

void Window::make_layout() {
    auto* all = new QWidget;
    auto* column = new QVBoxLayout(all);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    make_route();
    fill_find_box();
    column->addWidget(route_);
    route_->set_place_of_pinned(column, 1);

    auto* middle = new QHBoxLayout;
    middle->setSpacing(0);
    auto* left = new QWidget;
    left->setObjectName("sheetPanel");
    left->setAttribute(Qt::WA_StyledBackground);
    auto* left_column = new QVBoxLayout(left);
    left_column->setContentsMargins(0, 0, 1, 0);
    left_column->setSpacing(0);
    sheet_ = new JobSheet(controller_);
    sheet_->setProperty(
        "hint", tr("Click a row to select it; drag rows to change their order, or the stop line up to look back."));
    step_panel_ = new StepPanel(controller_);
    left_column->addWidget(sheet_, 1);
    auto* rule = new QWidget;
    rule->setObjectName("groupRule");
    rule->setAttribute(Qt::WA_StyledBackground);
    rule->setFixedHeight(1);
    left_column->addWidget(rule);
    mend_panel_ = new MendPanel(controller_);
    mend_panel_->hide();
    field_panel_ = new FieldPanel(controller_);
    field_panel_->hide();
    auto* settings = new QWidget;
    settings->setObjectName("sheetPanel");
    settings->setAttribute(Qt::WA_StyledBackground);
    auto* settings_column = new QVBoxLayout(settings);
    settings_column->setContentsMargins(0, 0, 0, 0);
    settings_column->setSpacing(0);
    settings_column->addWidget(step_panel_);
    settings_column->addWidget(mend_panel_);
    settings_column->addWidget(field_panel_);
    spread_row_ = new SpreadRow(controller_);
    settings_column->addWidget(spread_row_);
    settings_column->addStretch(1);
    left_column->addWidget(new SettingsArea(settings));
    hand_ = new HandMode(controller_, this);
    viewport_ = new Viewport(controller_, *hand_);
    empty_bench_ = new EmptyBench(actions_["bring-in"], actions_["open"], actions_["shapes"],
                                  {actions_["demo"], actions_["demo-scan"]});
    auto* over = new QVBoxLayout(viewport_);
    over->addWidget(empty_bench_);
    auto* right = new QWidget;
    right->setObjectName("ledgerPanel");
    right->setAttribute(Qt::WA_StyledBackground);
    auto* right_column = new QVBoxLayout(right);
    right_column->setContentsMargins(1, 0, 0, 0);
    ledger_ = new Ledger(controller_);
    ledger_->setProperty("hint", tr("Click a kind of finding to pin its places in the view; F4 goes to the next one."));
    right_column->addWidget(ledger_);
    left_ = new SidePanel(left, 296, SidePanel::Side::left, tr("job sheet"));
    middle->addWidget(left_);
    auto* bench = new QVBoxLayout;
    bench->setSpacing(0);
    recovery_strip_ = new RecoveryStrip;
    bench->addWidget(recovery_strip_);
    unsaved_strip_ = new UnsavedStrip;
    bench->addWidget(unsaved_strip_);
    notice_strip_ = new NoticeStrip;
    bench->addWidget(notice_strip_);
    flush_strip_ = new FlushStrip;
    bench->addWidget(flush_strip_);
    first_hints_ = new FirstHints;
    bench->addWidget(first_hints_);
    unit_strip_ = new UnitStrip(controller_);
    bench->addWidget(unit_strip_);
    question_strip_ = new QuestionStrip(controller_);
    bench->addWidget(question_strip_);
    hand_strip_ = new HandStrip(*hand_);
    bench->addWidget(hand_strip_);
    bench->addWidget(viewport_, 1);
    middle->addLayout(bench, 1);
    right_ = new SidePanel(right, 268, SidePanel::Side::right, tr("findings"));
    middle->addWidget(right_);
    column->addLayout(middle, 1);
    hint_line_ = new HintLine(controller_);
    column->addWidget(hint_line_);
    setCentralWidget(all);
}

/// Where there is no room for all, the findings fold first, then the job sheet; with room again they come back.
void Window::resizeEvent(QResizeEvent* event) {
    QMainWindow::resizeEvent(event);
    constexpr int least_view = 420;
    const int both = left_->unfolded_width() + right_->unfolded_width() + least_view;
    const int one = left_->unfolded_width() + SidePanel::bar_width + least_view;
    const int fits = width() >= both ? 2 : width() >= one ? 1 : 0;
    if (fits == panels_that_fit_) return;
    panels_that_fit_ = fits;
    right_->fold(fits < 2);
    left_->fold(fits < 1);
    centralWidget()->layout()->activate();
}

void Window::refresh_actions() {
    const Row* row = controller_.row(chosen_);
    const bool any = !controller_.job().parts.empty();
    const bool operand = row && !row->is_base() && (!row->step || row->combines() || is_group(*row));
    empty_bench_->setVisible(!any);
    for (const Operation operation : all_operations) actions_[word_of(operation)]->setEnabled(operand);
    for (const char* name : {"cut-plane", "cut-layers", "drill", "cut-rectangle", "cut-circle", "cut-polygon",
                             "cut-drawing", "cut-line", "notch", "broach", "symmetry"})
        actions_[name]->setEnabled(any);
    for (const char* name : {"switch", "bundle", "unbundle"}) actions_[name]->setEnabled(row && row->step);
    for (const char* name : {"remove", "duplicate"}) actions_[name]->setEnabled(row != nullptr);
    for (const char* name : {"drop", "centre", "lay-flat", "stand-on", "flush", "pivot", "pivot-middle"})
        actions_[name]->setEnabled(row && (!row->step || row->use));
    for (const char* name : {"save", "save-as", "whole", "see-through", "section", "measure", "surface", "export",
                             "report", "next-place", "mend", "by-hand"})
        actions_[name]->setEnabled(any);
    for (const auto& [name, action] : actions_)
        if (name.startsWith("treat-"))
            action->setEnabled(any);
        else if (name.startsWith("copies-"))
            action->setEnabled(row && row->combines());
    for (const Repair repair : whole_plan())
        actions_["mend-" + QString::fromUtf8(word(repair).data())]->setEnabled(any);
    refresh_link_actions();
    const History& h = controller_.history();
    actions_["undo"]->setEnabled(h.can_undo());
    actions_["redo"]->setEnabled(h.can_redo());
    actions_["undo"]->setToolTip(h.can_undo() ? tr("Undo: %1  (Ctrl+Z)").arg(QString::fromStdString(h.undo_name()))
                                              : tr("Nothing to undo"));
    actions_["redo"]->setToolTip(
        h.can_redo() ? tr("Redo: %1  (%2)")
                           .arg(QString::fromStdString(h.redo_name()), QKeySequence(QKeySequence::Redo).toString())
                     : tr("Nothing to redo"));
}

void Window::refresh_title() {
    const QString name = controller_.file().isEmpty() ? tr("new job") : QFileInfo(controller_.file()).fileName();
    setWindowTitle(QString("%1%2 – Clean Anvil").arg(name, controller_.history().is_changed() ? " *" : ""));
}

/// While a body is worked on by hand it is shown alone.
void Window::show_hand() {
    actions_["by-hand"]->setChecked(hand_->is_on());
    if (hand_->is_on()) viewport_->set_compare(Compare::after);
}

void Window::choose_part(const std::string& part) { choose(nearest_row(controller_.rows(), {part, {}})); }

void Window::choose_step(const std::string& step) {
    for (const Row& row : controller_.rows())
        if (row.id.step() == step) return choose(row.id);
}

void Window::choose(const RowId& id) {
    if (id != chosen_) flush_strip_->dismiss();
    if (id.step() != fresh_cut_) fresh_cut_.clear();
    chosen_ = id;
    const Row* row = controller_.row(id);
    const bool other =
        !row || (hand_->chosen_for().empty() ? list_at_hand() != hand_->list() : hand_->chosen_for() != id.step());
    if (hand_->is_on() && other) hand_->stop();
    const bool treats = row && row->step && !row->combines();
    const bool alone = treats && !row->cuts();  // shown by itself
    // Settings are set by the fields of the kind, unless it has asked for the panel that is made for it.
    const bool mends = treats && row->kind && row->kind->panel == "repairs";
    sheet_->choose(id);
    step_panel_->set_row(id);
    if (mends) mend_panel_->set_row(id);
    if (treats && !mends) field_panel_->set_row(id);
    step_panel_->setVisible(!treats);
    mend_panel_->setVisible(mends);
    field_panel_->setVisible(treats && !mends);
    viewport_->set_chosen(id);
    viewport_->show_alone(alone ? id : RowId());
    if (!mends) viewport_->set_pins({});
    refresh_actions();
    inspect_chosen();
    hint_line_->show_hint(usual_hint());
}

/// What can be done next, with what is chosen now.
QString Window::usual_hint() const {
    const Row* row = controller_.row(chosen_);
    if (controller_.job().parts.empty()) return tr("Drop meshes here, or take Bring in or Shapes above.");
    if (!row) return tr("Click a part or a row to select it. Drag to rotate, right-drag to pan, wheel to zoom.");
    if (row->step && controller_.question(row->step->id))
        return tr("The repairs marked … wait for an answer: press one of the pictures above the view.");
    const Part* part = controller_.job().find_part(row->id.part);
    const QString name = part ? quoted(part->name) : QString();
    if (row->cuts()) {
        const QString keys = row->kind->find_field("keep")
                                 ? tr("Drag its handles or type its numbers. K: which side stays. O: on or off.")
                             : row->kind->word == "notch"
                                 ? tr("Type its numbers. K: turn its two sides round. O: on or off.")
                                 : tr("Drag its handles or type its numbers. O: on or off.");
        return fresh_cut_ == row->step->id ? keys + " " + tr("Enter keeps it, Esc takes it back.") : keys;
    }
    if (row->step && row->kind && row->kind->find_field("keep"))
        return tr("K: which half stays. B flips to what the body was before.") +
               (fresh_cut_ == row->step->id ? " " + tr("Enter keeps it, Esc takes it back.") : QString());
    if (row->step && !row->combines())
        return tr("The body at this row alone. B flips to what it was before; its switch turns the row off.");
    if (row->is_base()) return tr("%1 is the base. Drag its handles to move it, or select another row.").arg(name);
    return row->step ? tr("%1: drag its handles to move it, or type where it stands. O switches its step on and off.")
                           .arg(name)
                     : tr("%1 waits on the bench. U, D or I in the view: union, difference, intersection.").arg(name);
}

/// Off, where one of them is on.
void Window::toggle_chosen() {
    std::vector<RowId> steps = sheet_->chosen_rows();
    std::erase_if(steps, [](const RowId& row) { return !row.is_step(); });
    if (steps.empty()) return;
    Job job = controller_.job();
    const bool on = std::ranges::none_of(steps, [&](const RowId& row) { return find_step(job, row.step()).step->on; });
    for (const RowId& row : steps) edit_step(job, row.step(), [&](Step& step) { step.on = on; });
    const QString names = names_of(steps, controller_.rows(), controller_.job());
    controller_.change(std::move(job), on ? tr("switch on %1").arg(names) : tr("switch off %1").arg(names));
}

/// Parts with the steps that use them, where no other step does; else the steps.
void Window::remove_chosen() {
    const std::vector<RowId> rows = sheet_->chosen_rows();
    if (rows.empty()) return;
    const QString names = names_of(rows, controller_.rows(), controller_.job());
    Job job = controller_.job();
    // From the bottom up: what is in a list before what that belongs to.
    for (auto id = rows.rbegin(); id != rows.rend(); ++id) {
        const std::vector<Row> now = rows_of(job);
        const Row* row = find_row(now, *id);
        if (!row) continue;  // gone with another
        if (row->idle && !row->step && row->list->stays && is_used(job, row->list->id)) {
            edit_part(job, row->list->id, [](Part& part) { part.stays = false; });
            continue;
        }
        if (row->step && (!row->use || is_used_elsewhere(now, *row)))
            remove_step(job, row->step->id);
        else
            remove_part(job, row->id.part);
    }
    controller_.change(std::move(job), tr("remove %1").arg(names));
}

void Window::apply_operation(Operation operation) {
    const Row* row = controller_.row(chosen_);
    if (!row || !is_group(*row)) return step_panel_->apply_operation(operation);
    if (operation_of_group(*row->step) == operation) return;
    Job job = controller_.job();
    set_operation_of_group(job, row->step->id, operation);
    controller_.change(std::move(job),
                       tr("%1 with %2").arg(words_of(operation).name, name_of(*row, controller_.job())));
}

void Window::fail(const Error& error) { hint_line_->show_error(error); }

void Window::add_shape(const std::string& word) {
    const Kind* kind = find_shape(word);
    Job job = controller_.job();
    const bool first = job.parts.empty();
    const auto rows = controller_.rows();
    Values values;
    Placement at;
    if (!first) {
        if (const auto [body, stands] = controller_.body_of(rows.front()); body) {
            const Vec3 size = bounds(*body->mesh).size();
            values = values_for_size(*kind, std::max({size.x, size.y, size.z}));
        }
        const QPointF pointer = viewport_->mapFromGlobal(QCursor::pos());
        at = viewport_->standing_under(viewport_->underMouse() ? pointer : QRectF(viewport_->rect()).center());
    }
    const std::string name = unused_name(job, kind->name);
    const std::string id = add_part(job, name, Shape{.kind = word, .values = std::move(values)}, at);
    controller_.change(std::move(job), tr("add %1").arg(QString::fromStdString(name)));
    if (first) viewport_->frame_when_ready();
    choose_part(id);
}

/// Each beside what it is a copy of.
void Window::duplicate_chosen() {
    const std::vector<RowId> rows = sheet_->chosen_rows();
    Job job = controller_.job();
    RowId last;
    for (const RowId& id : rows) {
        Vec3 by;
        if (const Row* row = controller_.row(id); row && (!row->step || row->use)) by = beside(*row);
        if (const RowId made = duplicate(job, id, by); !made.empty()) last = made;
    }
    if (last.empty()) return;
    controller_.change(std::move(job), tr("duplicate %1").arg(names_of(rows, controller_.rows(), controller_.job())));
    choose(last);
}

void Window::move_chosen(const QString& name, const std::function<Transform(const Mesh&, const Transform&)>& by) {
    const Row* row = controller_.row(chosen_);
    if (!row || (row->step && !row->use)) return;
    const auto [body, stands] = controller_.body_of(*row);
    if (!body) return;
    Job job = controller_.job();
    move_row(job, *row, by(*body->mesh, stands));
    controller_.change(std::move(job), name.arg(name_of(*row, controller_.job())));
}

/// On which height a part lies that is put on the bed: the base's lowest point, for the base itself 0.
double Window::bed_of(const Row& row) const {
    if (row.is_base()) return 0;
    const auto [base, at] = controller_.body_of(controller_.rows().front());
    const Box box = base ? bounds(transformed(*base->mesh, at)) : Box();
    return box.empty() ? 0 : box.low.z;
}

void Window::select_anew(const Field& field) {
    const Row* row = controller_.row(chosen_);
    const RowOutcome* done = row && row->step ? controller_.done(row->step->id) : nullptr;
    if (row && row->cuts() && field.name == "face")
        ask_face_of_cut(*row);
    else if (row && row->cuts() && field.type == Field::Type::elements)
        ask_places_of_cut(*row, field);
    else if (done && done->from)
        hand_->choose_anew(*row);
    else
        hint_line_->show_hint(tr("The body before this step is not there: switch it on, and those above it."));
}

}  // namespace anvil::app
