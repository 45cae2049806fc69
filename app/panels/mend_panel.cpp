#include "app/panels/mend_panel.h"

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
#include "app/words.h"
#include "core/job/quantity.h"
#include "core/mend/hand_tools.h"
#include "core/mend/reaches.h"

namespace anvil::app {
namespace {

/// What a field says while its repair has no reach; nothing where it cannot be typed.
QString without_reach(Repair repair) {
    switch (repair) {
        case Repair::weld: return MendPanel::tr("equal");
        case Repair::bridges:
        case Repair::shells: return MendPanel::tr("none");
        case Repair::holes: return MendPanel::tr("all");
        case Repair::thicken: return MendPanel::tr("not at all");
        default: return {};
    }
}
const Reach* reach_to_type(Repair repair) {
    const auto at = std::ranges::find(reaches(), repair, &Reach::repair);
    return at == reaches().end() || without_reach(repair).isEmpty() ? nullptr : &*at;
}

/// As a length to type; a shell's is the side of a cube of its volume, none is 0.
double reach_of(const MendOptions& o, Repair repair) {
    const double v = o.*reach_to_type(repair)->value;
    if (repair == Repair::shells) return std::cbrt(v);
    if (repair == Repair::thicken && o.sheets != SheetRule::thicken) return 0;
    return std::isfinite(v) ? v : 0;
}
void set_reach(MendOptions& o, Repair repair, double mm) {
    double& v = o.*reach_to_type(repair)->value;
    v = repair == Repair::shells               ? mm * mm * mm
        : repair == Repair::holes && !(mm > 0) ? MendOptions().longest_hole
                                               : mm;
    if (repair == Repair::thicken && (mm > 0 || o.sheets == SheetRule::thicken))
        o.sheets = mm > 0 ? SheetRule::thicken : SheetRule::leave;
}

/// Takes a decision for made.
void answer(MendSettings& settings, Question::About about) {
    const std::string name(word(about));
    if (std::ranges::find(settings.answered, name) == settings.answered.end()) settings.answered.push_back(name);
}

QString moved(double mm) {
    if (mm == 0) return MendPanel::tr("No point moved.");
    return mm < 1e-4 ? MendPanel::tr("Points moved by less than 0.0001 mm.")
                     : MendPanel::tr("Points moved by %1 mm at most.").arg(mm, 0, 'g', 2);
}

}  // namespace

MendPanel::MendPanel(JobController& controller, QWidget* parent) : QWidget(parent), controller_(controller) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(12, 8, 12, 12);
    column->setSpacing(4);
    title_ = bold_label();
    column->addWidget(title_);
    verdict_ = new QLabel;
    verdict_->setWordWrap(true);
    verdict_->setObjectName("emptyText");
    column->addWidget(verdict_);
    rebuild_ = new QPushButton(tr("Rebuild what remains"));
    rebuild_->setToolTip(
        tr("Rebuild the surface around what is left, in cells, as an edit of its own; the rest of the part stays as it "
           "is"));
    connect(rebuild_, &QPushButton::clicked, this, &MendPanel::rebuild_rest);
    column->addWidget(rebuild_);
    plan_ = new QWidget;
    auto* plan_column = new QVBoxLayout(plan_);
    plan_column->setContentsMargins(0, 0, 0, 0);
    plan_column->setSpacing(4);
    column->addWidget(plan_);
    auto* heads = new QHBoxLayout;
    heads->addWidget(section_title(tr("REPAIRS, IN THEIR ORDER")));
    heads->addStretch(1);
    heads->addWidget(section_title(tr("CHANGED")));
    plan_column->addLayout(heads);
    auto* grid = new QGridLayout;
    grid->setHorizontalSpacing(4);
    grid->setVerticalSpacing(0);
    grid->setColumnStretch(0, 1);
    for (const Repair repair : whole_plan()) add_row(repair, grid);
    plan_column->addLayout(grid);
    said_ = new QLabel;
    said_->setWordWrap(true);
    said_->setObjectName("emptyText");
    said_->setTextInteractionFlags(Qt::TextSelectableByMouse);
    column->addWidget(said_);

    column->addWidget(section_title(tr("LOOK AT IT")));
    compare_ = new CompareRow;
    column->addWidget(compare_);
    connect(compare_, &CompareRow::wanted, this, &MendPanel::compare_wanted);
    auto* remove = new QPushButton(tr("Take these repairs off"));
    column->addWidget(remove);
    connect(remove, &QPushButton::clicked, this, &MendPanel::remove_wanted);
    connect(&controller_, &JobController::job_changed, this, &MendPanel::reload);
    connect(&controller_, &JobController::evaluated, this, &MendPanel::reload_done);
    reload();
}

void MendPanel::add_row(Repair repair, QGridLayout* grid) {
    Line& row = lines_[static_cast<std::size_t>(repair)];
    const RepairWords words = words_of(repair);
    const int at = 2 * static_cast<int>(repair);  // a row below may hold more about it
    row.box = new QCheckBox(words.name);
    row.box->setToolTip(words.does);
    grid->setRowMinimumHeight(at, 22);
    const Reach* reach = reach_to_type(repair);
    grid->addWidget(row.box, at, 0, 1, reach ? 1 : 2);
    connect(row.box, &QCheckBox::clicked, this, [this, repair, name = words.name](bool on) {
        change(
            [&](MendSettings& m) {
                std::erase(m.repairs, repair);
                if (on) m.repairs.push_back(repair);
                std::ranges::sort(m.repairs);
            },
            on ? name : tr("do not %1").arg(name));
    });
    if (reach) {
        QString says = QString::fromUtf8(reach->says);
        says = says.at(0).toUpper() + says.mid(1);
        if (repair == Repair::shells) says = tr("Closed shells smaller than a cube of this side go");
        row.reach = new QLineEdit;
        row.reach->setFixedWidth(66);
        row.reach->setPlaceholderText(without_reach(repair));
        row.reach->setToolTip(says);
        row.reach->setAccessibleName(words.name + ": " + says);
        grid->addWidget(row.reach, at, 1);
        connect(row.reach, &QLineEdit::editingFinished, this, [this, repair] { commit(repair); });
        if (repair == Repair::weld) connect(row.reach, &QLineEdit::textEdited, this, &MendPanel::count_weldable);
    }
    row.count = new QToolButton;
    row.count->setObjectName("repairCount");
    row.count->setFixedWidth(46);
    grid->addWidget(row.count, at, 2);
    connect(row.count, &QToolButton::clicked, this,
            [this, number = static_cast<int>(repair)] { show_repair(number == shown_ ? -1 : number); });
    if (repair == Repair::holes)
        add_choices(grid, repair, std::array{FillStyle::smallest, FillStyle::flat, FillStyle::smooth}, fill_,
                    [this](FillStyle style) {
                        change([&](MendSettings& own) { own.options.fill = style; },
                               tr("fill holes: %1").arg(words_of(style).name));
                    });
    if (repair == Repair::thicken)
        add_choices(grid, repair, std::array{SheetRule::leave, SheetRule::thicken, SheetRule::close}, sheets_,
                    [this](SheetRule rule) { choose_sheets(rule); });
}

/// Buttons under a repair's row, one of which is down.
template <class Choice, class Chosen>
void MendPanel::add_choices(QGridLayout* grid, Repair below, const std::array<Choice, 3>& choices,
                            std::array<QToolButton*, 3>& buttons, const Chosen& chosen) {
    auto* line = new QHBoxLayout;
    line->setContentsMargins(20, 0, 0, 2);
    line->setSpacing(4);
    auto* group = new QButtonGroup(this);
    for (const Choice choice : choices) {
        auto* button = buttons[static_cast<std::size_t>(choice)] =
            choice_button(words_of(choice).name, words_of(choice).does);
        group->addButton(button);
        line->addWidget(button);
        connect(button, &QToolButton::clicked, this, [choice, chosen] { chosen(choice); });
    }
    grid->addLayout(line, 2 * static_cast<int>(below) + 1, 0, 1, 3);
}

void MendPanel::choose_sheets(SheetRule rule) {
    const RowOutcome* done = row() ? controller_.done(row_.step()) : nullptr;
    if (!row()) return;
    change(
        [&](MendSettings& own) {
            own.options.sheets = rule;
            if (rule == SheetRule::thicken && !(own.options.thickness > 0) && done && done->from)
                own.options.thickness = usual_thickness(*done->from);
            // Who says what becomes of sheets has decided about them.
            answer(own, Question::About::sheet);
        },
        tr("open sheets: %1").arg(words_of(rule).name));
}

const Row* MendPanel::row() const {
    const Row* at = controller_.row(row_);
    return at && at->step ? at : nullptr;
}

MendSettings MendPanel::settings() const {
    const Row* at = row();
    return at && at->step->kind == "mend" ? mend_settings(at->step->values) : MendSettings();
}

QString MendPanel::body_name() const {
    const Part* part = controller_.job().find_part(row_.part);
    return !part ? QString() : part->id == controller_.job().work() ? tr("the result") : quoted(part->name);
}

void MendPanel::set_row(const RowId& row) {
    if (row == row_) return;
    row_ = row;
    shown_ = -1;
    compare_->show_compare(Compare::after);
    Q_EMIT compare_wanted(Compare::after);
    reload();
}

void MendPanel::change(const std::function<void(MendSettings&)>& edit, const QString& name) {
    const Row* at = row();
    if (!at || at->step->kind != "mend") return;
    MendSettings own = settings();
    edit(own);
    Job job = controller_.job();
    edit_step(job, at->step->id, [&](Step& step) { step.values = values_of(own); });
    controller_.change(std::move(job), name);
}

void MendPanel::reload() {
    const Row* at = row();
    if (!at) return;
    const bool by_hand = at->kind && at->kind->of == KindClass::group;
    const MendSettings set = settings();
    const MendSettings* m = &set;
    plan_->setVisible(!by_hand);
    title_->setText(by_hand                     ? tr("Edits by hand of %1").arg(body_name())
                    : m->options.places.empty() ? tr("Mending %1").arg(body_name())
                                                : tr("Mending selected places of %1").arg(body_name()));
    fill_button(m->options.fill)->setChecked(true);
    sheet_button(m->options.sheets)->setChecked(true);
    for (const Repair repair : whole_plan()) {
        const Line& r = line(repair);
        r.box->setChecked(std::ranges::find(m->repairs, repair) != m->repairs.end());
        if (!r.reach) continue;
        const double mm = reach_of(m->options, repair);
        r.reach->setText(mm > 0 ? QString::fromStdString(format_quantity(mm, Unit::millimetre)) : QString());
        r.reach->setCursorPosition(0);
        mark_wrong(*r.reach, false);
    }
    reload_done();
}

/// What each repair did.
void MendPanel::reload_done() {
    const Row* at = row();
    if (!at) return;
    const auto done = controller_.mended(row_.step());
    const Question* open = controller_.question(row_.step());
    for (const Repair repair : whole_plan()) {
        const Line& r = line(repair);
        const Repaired* what = nullptr;
        if (done)
            for (const Repaired& one : done->repairs)
                if (one.repair == repair) what = &one;
        const bool some = what && (what->changed > 0 || what->refused || what->sheet);
        const bool waits = open && repair >= first_waiting(open->about) && r.box->isChecked();
        r.count->setText(waits                       ? QString::fromUtf8("\xE2\x80\xA6")
                         : some && what->changed > 0 ? QString::number(what->changed)
                         : some                      ? "!"
                                                     : QString());
        r.count->setEnabled(some);
        const QString said = waits  ? tr("It waits for your answer, above the view.")
                             : some ? QString::fromStdString(what->said)
                                    : QString();
        r.count->setToolTip(said);
        r.count->setAccessibleName(said.isEmpty() ? tr("nothing changed") : said);
    }
    QString verdict;
    if (const Error* error = controller_.row_error(*at)) {
        verdict = QString::fromStdString(error->sentence());
    } else if (!at->step->on) {
        verdict = tr("Switched off: the body goes on as it was.");
    } else if (open) {
        verdict = tr("The plan has stopped before %1: it waits for your answer, above the view.")
                      .arg(quoted(words_of(first_waiting(open->about)).name.toStdString()));
    } else if (done) {
        const QString rest = QString::fromStdString(done->remains());
        verdict = !done->by_hand.empty()     ? (done->after.print_ready ? tr("Print-ready.") : rest)
                  : done->before.print_ready ? tr("It was print-ready: there is nothing to mend.")
                  : rest.isEmpty()           ? tr("From %1 of finding to print-ready. %2")
                                         .arg(counted(done->before.fault_kinds(), tr("kind"), tr("kinds")),
                                              moved(done->largest_move))
                                   : rest;
    } else {
        verdict = tr("Being worked out …");
    }
    verdict_->setText(verdict);
    const bool is_last = at->list->steps.back().get() == at->step;
    rebuild_->setVisible(is_last && done && !open && wants_rebuilding(*done));
    show_repair(shown_);
}

/// An edit by hand behind this mending, for each place where faults are left.
void MendPanel::rebuild_rest() {
    const auto done = controller_.mended(row_.step());
    if (!done || !row()) return;
    Job job = controller_.job();
    std::string made;
    for (const HandEdit& edit : rebuild_faults(*done)) made = add_edit(job, controller_.end_of(row()->list->id), edit);
    if (made.empty()) return;
    made = find_step(job, made).group->id;
    controller_.change(std::move(job), tr("rebuild what remains"));
    Q_EMIT step_made(made);
}

void MendPanel::show_repair(int repair) {
    shown_ = repair;
    const auto done = controller_.mended(row_.step());
    QString said;
    if (done && shown_ >= 0)
        for (const Repaired& r : done->repairs)
            if (static_cast<int>(r.repair) == shown_) said = QString::fromStdString(r.said);
    if (done && !done->by_hand.empty()) {
        constexpr std::size_t most = 8;
        QStringList list;
        const std::size_t n = done->by_hand.size();
        for (std::size_t k = n > most ? n - most : 0; k < n; ++k)
            list << QString("%1. %2").arg(k + 1).arg(QString::fromStdString(done->by_hand[k].said));
        said = list.join("\n");
    }
    if (said.isEmpty() && done && !done->repairs.empty()) said = tr("Click a count to see where.");
    said_->setText(said);
    said_->setVisible(!said.isEmpty());
    Q_EMIT pins_changed();
}

void MendPanel::show_compare(Compare compare) { compare_->show_compare(compare); }

QString MendPanel::said() const { return said_->text(); }

std::vector<Pin> MendPanel::pins() const {
    constexpr std::size_t most_pins = 60;
    std::vector<Pin> out;
    const auto done = controller_.mended(row_.step());
    if (!done || !row() || shown_ < 0) return out;
    const Transform& place = row()->stands;
    for (const Repaired& r : done->repairs)
        if (static_cast<int>(r.repair) == shown_)
            for (std::size_t k = 0; k < r.places.size() && k < most_pins; ++k)
                out.push_back({apply(place, r.places[k]), static_cast<int>(k) + 1, false, true});
    return out;
}

void MendPanel::commit(Repair repair) {
    if (!row()) return;
    QLineEdit* edit = reach(repair);
    const QString text = edit->text().trimmed();
    const double now = reach_of(settings().options, repair);
    if (text == (now > 0 ? QString::fromStdString(format_quantity(now, Unit::millimetre)) : QString())) return;
    const auto parsed = text.isEmpty() ? Result<double>(0.0) : parse_quantity(text.toStdString(), Unit::millimetre);
    if (!parsed || *parsed < 0) {
        mark_wrong(*edit, true);
        Q_EMIT hint(parsed ? tr("A length of 0 mm or more is wanted here.")
                           : QString::fromStdString(parsed.error().sentence()));
        return;
    }
    if (*parsed == now) {
        reload();
        return;
    }
    change(
        [&](MendSettings& own) {
            set_reach(own.options, repair, *parsed);
            // Who says how long holes may be has decided about long ones.
            if (repair == Repair::holes) answer(own, Question::About::long_holes);
        },
        tr("%1: reach").arg(words_of(repair).name));
}

/// While a distance is typed: how many points it would merge.
void MendPanel::count_weldable(const QString& text) {
    const auto parsed = parse_quantity(text.toStdString(), Unit::millimetre);
    const auto done = controller_.mended(row_.step());
    const RowOutcome* what = row() ? controller_.done(row_.step()) : nullptr;
    if (!parsed || !(*parsed > 0) || !what || !what->from) return;
    auto count = std::make_shared<std::size_t>(0);
    controller_.ask(
        "weldable",
        [mesh = what->from, mm = *parsed, count](Progress&) { *count = anvil::count_weldable(welded(*mesh), mm); },
        [this, count, mm = *parsed] {
            Q_EMIT hint(
                tr("%1 would go to others within %2 mm.").arg(counted(*count, tr("point"), tr("points"))).arg(mm));
        });
}

}  // namespace anvil::app
