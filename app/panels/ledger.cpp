#include "app/panels/ledger.h"

#include <QComboBox>
#include <QEvent>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QStyle>
#include <QVBoxLayout>

#include "app/panels/finding_words.h"
#include "app/panels/kind_list.h"
#include "app/panels/measures_table.h"
#include "app/panels/parts_of_panels.h"
#include "app/theme.h"
#include "app/words.h"
#include "core/job/accepted_in_job.h"
#include "core/job/kinds/mend_values.h"
#include "core/job/quantity.h"

namespace anvil::app {
namespace {

constexpr int most_pins = 60;

/// Whether a whole plan has done what it can behind the last step that combines.
bool ends_mended(const Part& part) {
    for (auto at = part.steps.rbegin(); at != part.steps.rend(); ++at) {
        const Kind* kind = find_kind((*at)->kind);
        if (kind && (kind->of == KindClass::combine || kind->of == KindClass::cut)) return false;
        if ((*at)->on && (*at)->kind == "mend" && mend_settings((*at)->values).is_whole_plan()) return true;
    }
    return false;
}

}  // namespace

Ledger::Ledger(JobController& controller, QWidget* parent) : QWidget(parent), controller_(controller) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 12);
    column->setSpacing(2);
    auto* title = new QLabel(tr("Findings"));
    title->setObjectName("panelTitle");
    column->addWidget(title);
    auto* head = new QHBoxLayout;
    head->setContentsMargins(12, 2, 12, 6);
    mark_ = new QLabel;
    mark_->setFixedSize(30, 30);
    verdict_ = new QLabel;
    verdict_->setWordWrap(true);
    verdict_->setTextInteractionFlags(Qt::TextSelectableByMouse);
    head->addWidget(mark_, 0, Qt::AlignTop);
    head->addWidget(verdict_, 1);
    column->addLayout(head);
    mend_all_ = new QPushButton(tr("Mend all"));
    mend_all_->setProperty("strong", true);
    mend_all_->setToolTip(tr("Run the whole plan of repairs, as a row of the job sheet; undo takes it back"));
    auto* all_row = new QHBoxLayout;
    all_row->setContentsMargins(12, 0, 12, 6);
    all_row->addWidget(mend_all_);
    column->addLayout(all_row);
    kinds_ = new KindList;
    kinds_->setAccessibleName(tr("Kinds of finding"));
    column->addWidget(kinds_, 1);
    meaning_ = new QLabel;
    meaning_->setWordWrap(true);
    meaning_->setObjectName("panelNote");
    column->addWidget(meaning_);
    stepper_ = new QWidget;
    auto* row = new QHBoxLayout(stepper_);
    row->setContentsMargins(12, 0, 12, 0);
    previous_ = new QPushButton(tr("Previous"));
    next_ = new QPushButton(tr("Next place"));
    place_ = new QLabel;
    place_->setAlignment(Qt::AlignCenter);
    row->addWidget(previous_);
    row->addWidget(place_, 1);
    row->addWidget(next_);
    column->addWidget(stepper_);
    threshold_box_ = new QWidget;
    auto* threshold_row = new QHBoxLayout(threshold_box_);
    threshold_row->setContentsMargins(12, 0, 12, 0);
    threshold_name_ = new QLabel;
    threshold_name_->setObjectName("emptyText");
    threshold_ = new QLineEdit;
    threshold_->setFixedWidth(78);
    threshold_row->addWidget(threshold_name_, 1);
    threshold_row->addWidget(threshold_);
    column->addWidget(threshold_box_);
    connect(threshold_, &QLineEdit::editingFinished, this, &Ledger::commit_threshold);
    mender_ = new QWidget;
    auto* mend_row = new QHBoxLayout(mender_);
    mend_row->setContentsMargins(12, 2, 12, 0);
    mend_one_ = new QPushButton(tr("Mend this place"));
    mend_kind_ = new QPushButton;
    fill_ = new QComboBox;
    for (const FillStyle style : {FillStyle::smallest, FillStyle::flat, FillStyle::smooth})
        fill_->addItem(words_of(style).name);
    fill_->setToolTip(
        tr("How the hole is closed: by the smallest surface, flat in its plane, or smoothly going on from "
           "the surface round it"));
    fill_->setAccessibleName(tr("How holes are closed"));
    mend_row->addWidget(mend_one_);
    mend_row->addWidget(mend_kind_, 1);
    mend_row->addWidget(fill_);
    column->addWidget(mender_);
    accepter_ = new QWidget;
    auto* accept_row = new QHBoxLayout(accepter_);
    accept_row->setContentsMargins(12, 2, 12, 0);
    accept_one_ = new QPushButton;
    accept_kind_ = new QPushButton;
    accept_row->addWidget(accept_one_);
    accept_row->addWidget(accept_kind_, 1);
    column->addWidget(accepter_);
    auto section = [](const QString& text) {
        auto* label = section_title(text);
        label->setContentsMargins(12, 10, 12, 0);
        return label;
    };
    remarks_title_ = section(tr("REMARKS ON THE STEPS"));
    column->addWidget(remarks_title_);
    remarks_ = new QListWidget;
    remarks_->setObjectName("remarks");
    remarks_->setWordWrap(true);
    remarks_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    remarks_->setAccessibleName(tr("Remarks on the steps"));
    column->addWidget(remarks_);
    measures_title_ = section(tr("MEASURES"));
    column->addWidget(measures_title_);
    measures_ = new QLabel;
    measures_->setContentsMargins(10, 2, 10, 0);
    measures_->setTextFormat(Qt::RichText);
    measures_->setTextInteractionFlags(Qt::TextSelectableByMouse);
    column->addWidget(measures_);
    connect(kinds_, &QListWidget::currentRowChanged, this, [this] { choose_kind(true); });
    connect(kinds_, &QListWidget::itemClicked, this, [this](const QListWidgetItem* item) {
        if (item->data(Qt::UserRole).toInt() == folded_line) unfold(!unfolded_);
    });
    connect(previous_, &QPushButton::clicked, this, [this] { step(-1); });
    connect(next_, &QPushButton::clicked, this, [this] { step(1); });
    connect(mend_one_, &QPushButton::clicked, this, [this] { ask_to_mend(false); });
    connect(mend_kind_, &QPushButton::clicked, this, [this] { ask_to_mend(true); });
    connect(accept_one_, &QPushButton::clicked, this, [this] { accept(false); });
    connect(accept_kind_, &QPushButton::clicked, this, [this] { accept(true); });
    connect(mend_all_, &QPushButton::clicked, this, [this] {
        const auto plan = whole_plan();
        Q_EMIT mend_wanted(subject_.part, {plan.begin(), plan.end()}, {});
    });
    connect(remarks_, &QListWidget::itemClicked, this, [this](const QListWidgetItem* item) {
        if (const auto id = item->data(Qt::UserRole).value<RowId>(); !id.empty()) Q_EMIT row_wanted(id);
    });
    connect(&controller_, &JobController::evaluated, this, &Ledger::reload_measures);
    connect(&controller_, &JobController::evaluated, this, &Ledger::reload_remarks);
    reload();
}

QString Ledger::verdict() const { return verdict_->text(); }
QString Ledger::measures() const { return measures_->text(); }

void Ledger::show(Subject subject) {
    subject_ = std::move(subject);
    reload();
}

QString Ledger::verdict_of(QString& mark) const {
    const auto& inspection = subject_.inspection;
    mark = "verdict-none";
    if (!inspection && !subject_.is_result) return tr("%1 is being looked at …").arg(subject_.name);
    if (!inspection || controller_.job().parts.empty()) return tr("Nothing to judge yet.");
    if (inspection->mesh.empty()) {
        const auto outcome = controller_.outcome();
        mark = "verdict-caution";
        if (!subject_.is_result) return tr("<b>Empty.</b> %1 has no faces.").arg(subject_.name);
        return tr("Empty.") + " " +
               (outcome && outcome->evaluation ? QString::fromStdString(outcome->evaluation->combined->reason)
                                               : QString());
    }
    if (!inspection->complete && inspection->print_ready) return tr("Nothing found yet; looking on …");
    if (inspection->print_ready) {
        QStringList cautions;
        for (int k = 0; k < finding_kinds; ++k) {
            const auto kind = static_cast<FindingKind>(k);
            const std::size_t open = inspection->count(kind) - acceptance_.count(kind);
            if (severity(kind) != Severity::caution || open == 0) continue;
            const FindingWords w = words_of(kind);
            cautions << counted(open, w.one, w.many);
        }
        mark = cautions.isEmpty() ? "verdict-sound" : "verdict-caution";
        return tr("<b>Print-ready.</b> %1 is closed, manifold and free of crossings, in %2.")
                   .arg(subject_.name, counted(inspection->measures.shells, tr("shell"), tr("shells"))) +
               (cautions.isEmpty() ? "" : " " + tr("But look at %1.").arg(cautions.join(", ")));
    }
    if (inspection->complete && acceptance_.holds_all_faults()) {
        mark = "verdict-caution";
        return tr("<b>Accepted as it is.</b> %1 has %2 that may stay; without them it would be print-ready.")
            .arg(subject_.name, counted(acceptance_.count(), tr("finding"), tr("findings")));
    }
    mark = "verdict-fault";
    const QString form = inspection->form == Form::sheet   ? tr("a sheet that encloses nothing")
                         : inspection->form == Form::mixed ? tr("a solid with sheets beside")
                         : inspection->closed              ? tr("closed")
                                                           : tr("open");
    return tr("<b>Not print-ready.</b> %1 is %2 and has %3 of finding.")
        .arg(subject_.name, form, counted(inspection->fault_kinds(), tr("kind"), tr("kinds")));
}

void Ledger::reload() {
    // While something is still looked at nothing is listed; the choice outlives that.
    if (kinds_->count() > 0)
        kept_kind_ = kinds_->currentItem() ? kinds_->currentItem()->data(Qt::UserRole).toInt() : -1;
    const int chosen = kept_kind_;
    const auto& inspection = subject_.inspection;
    acceptance_ = inspection ? Acceptance(*inspection, accepted_findings(controller_.job().settings, accepted_under()))
                             : Acceptance();
    kinds_->blockSignals(true);
    kinds_->clear();
    // What was found comes first, then what of it may stay; what was looked for and not found is one line, which
    // unfolds.
    enum Group { open, accepted, not_found };
    if (inspection && !inspection->mesh.empty())
        for (const Group group : {open, accepted, not_found}) {
            if (group == not_found && !add_folded_line()) break;
            for (int k = 0; k < finding_kinds; ++k) {
                const auto kind = static_cast<FindingKind>(k);
                const auto n = inspection->count(kind), may_stay = acceptance_.count(kind);
                if ((n == 0 ? not_found : n == may_stay ? accepted : open) != group) continue;
                const bool found = n > 0, looked = inspection->complete || is_cheap(kind);
                const FindingWords w = words_of(kind);
                QString name = n == 1 ? w.one : w.many;
                if (may_stay > 0) name += n == may_stay ? tr(", accepted") : tr(", %1 accepted").arg(may_stay);
                auto* item = new QListWidgetItem(name, kinds_);
                item->setData(Qt::UserRole, k);
                item->setData(Qt::UserRole + 1, looked ? static_cast<int>(n) : -1);
                item->setData(Qt::UserRole + 2, static_cast<int>(may_stay));
                item->setData(Qt::AccessibleTextRole,
                              looked ? QString::number(n) + " " + name : tr("%1: still looked for").arg(w.many));
                item->setToolTip(w.meaning);
                const bool can_be_chosen = found || (looked && threshold_of(kind));
                if (!can_be_chosen) item->setFlags(Qt::ItemIsEnabled);
                if (can_be_chosen && k == chosen) kinds_->setCurrentItem(item);
            }
        }
    kinds_->blockSignals(false);
    verdict_->setText(verdict_of(mark_name_));
    show_mark();
    const Part* part = controller_.job().find_part(subject_.part);
    const bool has_plan = part && ends_mended(*part);
    mend_all_->setVisible(inspection && !inspection->mesh.empty() && !inspection->print_ready && part && !has_plan);
    choose_kind(false);
    reload_measures();
    reload_remarks();
}

/// The line for all kinds that were not found. Returns whether they are listed under it.
bool Ledger::add_folded_line() {
    int none = 0, pending = 0;
    for (int k = 0; k < finding_kinds; ++k) {
        const auto kind = static_cast<FindingKind>(k);
        if (subject_.inspection->count(kind) > 0) continue;
        ++(subject_.inspection->complete || is_cheap(kind) ? none : pending);
    }
    if (none + pending == 0) return true;
    const QString kinds = counted(static_cast<std::size_t>(none), tr("kind"), tr("kinds"));
    auto* item = new QListWidgetItem(
        pending > 0 ? tr("%1: none, %2 still looked for").arg(kinds).arg(pending) : tr("%1: none").arg(kinds), kinds_);
    item->setData(Qt::UserRole, folded_line);
    item->setData(Qt::UserRole + 1, unfolded_);
    item->setFlags(Qt::ItemIsEnabled);
    item->setToolTip(unfolded_ ? tr("Click to list only the kinds that were found") : tr("Click to list them"));
    return unfolded_;
}

void Ledger::unfold(bool on) {
    if (unfolded_ == on) return;
    unfolded_ = on;
    reload();
}

void Ledger::choose(FindingKind kind) {
    if (subject_.inspection && subject_.inspection->count(kind) == 0) unfold(true);
    for (int row = 0; row < kinds_->count(); ++row)
        if (kinds_->item(row)->data(Qt::UserRole).toInt() == static_cast<int>(kind)) kinds_->setCurrentRow(row);
}

/// The kind whose line is chosen, whether it has places or not.
std::optional<FindingKind> Ledger::kind_at_hand() const {
    const QListWidgetItem* item = kinds_->currentItem();
    if (!item || !(item->flags() & Qt::ItemIsSelectable)) return std::nullopt;
    return static_cast<FindingKind>(item->data(Qt::UserRole).toInt());
}

void Ledger::show_threshold() {
    const Threshold* t = subject_.inspection ? threshold_of(kind_at_hand()) : nullptr;
    threshold_box_->setVisible(t != nullptr);
    if (!t) return;
    threshold_name_->setText(t->label);
    threshold_->setAccessibleName(t->label);
    threshold_->setText(threshold_text(*t, subject_.inspection->options));
    mark_wrong(*threshold_, false);
}

void Ledger::commit_threshold() {
    const Threshold* t = subject_.inspection ? threshold_of(kind_at_hand()) : nullptr;
    if (!t || threshold_->text() == threshold_text(*t, subject_.inspection->options)) return;
    const auto parsed = parse_quantity(threshold_->text().toStdString(), Unit::millimetre);
    if (!parsed || *parsed < 0) {
        mark_wrong(*threshold_, true);
        return;
    }
    Job job = controller_.job();
    set_threshold(job.settings, t->name, t->is_cube ? std::pow(*parsed, 3) : *parsed);
    controller_.change(std::move(job), tr("list %1 from another size on").arg(words_of(t->kind).many));
}

/// Lets the place at hand stay, or all of its kind; or takes that back.
void Ledger::accept(bool everywhere) {
    if (places_.empty() || at_ < 0) return;
    const Finding& at = *places_[static_cast<std::size_t>(at_)];
    const bool back = everywhere ? acceptance_.count(at.kind) == places_.size() : acceptance_.holds(at);
    const auto findings = accepted_with(*subject_.inspection, everywhere ? places_ : std::vector<const Finding*>{&at});
    Job job = controller_.job();
    const FindingWords w = words_of(at.kind);
    const QString what = everywhere && places_.size() > 1 ? tr("all %1").arg(w.many) : w.one;
    if (back)
        take_back_findings(job.settings, accepted_under(), findings);
    else
        accept_findings(job.settings, accepted_under(), findings);
    controller_.change(std::move(job), back ? tr("tell again: %1").arg(what) : tr("accept %1").arg(what));
}

/// What the buttons would do at the place at hand.
void Ledger::show_acceptance() {
    accepter_->setVisible(at_ >= 0);
    if (at_ < 0) return;
    const Finding& at = *places_[static_cast<std::size_t>(at_)];
    const bool one = acceptance_.holds(at), all = acceptance_.count(at.kind) == places_.size();
    accept_one_->setText(one ? tr("Tell this again") : tr("Accept this place"));
    accept_one_->setToolTip(
        one ? tr("Counts it as a finding again")
            : tr("It was looked at and may stay: the verdict no longer counts it. Undo takes it back"));
    accept_kind_->setText(all ? tr("Tell all %1 again").arg(places_.size()) : tr("Accept all %1").arg(places_.size()));
    accept_kind_->setToolTip(accept_one_->toolTip());
    accept_kind_->setVisible(places_.size() > 1);
}

std::optional<FindingKind> Ledger::chosen_kind() const {
    if (places_.empty()) return std::nullopt;
    return places_.front()->kind;
}

/// Asks for the repairs of the chosen kind, at the present place or everywhere.
void Ledger::ask_to_mend(bool everywhere) {
    if (places_.empty() || at_ < 0 || subject_.part.empty()) return;
    const Finding& at = *places_[static_cast<std::size_t>(at_)];
    std::vector<Vec3> places;
    if (!everywhere) {
        if (!subject_.body) return;
        // The body as the repairs see it; its points are numbered alike.
        const Mesh part = welded(*subject_.body);
        if (part.points.size() != subject_.inspection->mesh.points.size()) return;
        places = places_of(at, part);
    }
    MendOptions options{.fill = static_cast<FillStyle>(fill_->currentIndex()), .places = std::move(places)};
    if (at.kind == FindingKind::short_edges) options.weld_distance = subject_.inspection->options.short_below;
    if (at.kind == FindingKind::tiny_shells) options.smallest_shell = subject_.inspection->options.tiny_below;
    if (at.kind == FindingKind::cracks) options.border_reach = subject_.inspection->options.crack_below;
    Q_EMIT mend_wanted(subject_.part, repairs_for(at.kind), options);
}

/// What was assumed about parts, what steps do not do, and what became of contacts. A click goes to the part.
void Ledger::reload_remarks() {
    remarks_->clear();
    const auto outcome = controller_.outcome();
    if (outcome && outcome->evaluation && subject_.is_result) {
        for (const Remark& remark : outcome->evaluation->remarks) {
            const QString text = QString::fromStdString(remark.text);
            auto* item = new QListWidgetItem(text.at(0).toUpper() + text.mid(1), remarks_);
            item->setData(Qt::UserRole, QVariant::fromValue(remark.row));
            item->setToolTip(text);
        }
    }
    int height = 0;
    for (int k = 0; k < remarks_->count(); ++k) height += remarks_->sizeHintForRow(k);
    remarks_->setFixedHeight(std::min(height + 14, 110));
    remarks_title_->setVisible(remarks_->count() > 0);
    remarks_->setVisible(remarks_->count() > 0);
}

void Ledger::show_mark() { mark_->setPixmap(icon(mark_name_).pixmap(30, 30)); }

void Ledger::changeEvent(QEvent* event) {
    if (event->type() == QEvent::StyleChange && !mark_name_.isEmpty()) {  // the theme has changed
        show_mark();
        reload_measures();
    }
    QWidget::changeEvent(event);
}

/// Lists the places of the chosen kind. `go`: shows the first one, else the place at hand stays, and so does the view.
void Ledger::choose_kind(bool go) {
    places_.clear();
    if (go) at_ = -1;
    QString meaning;
    const auto at_hand = kind_at_hand();
    const bool chosen = subject_.inspection && at_hand && kinds_->currentItem()->data(Qt::UserRole + 1).toInt() > 0;
    if (chosen) {
        for (const Finding& f : subject_.inspection->findings)
            if (f.kind == *at_hand) places_.push_back(&f);
        meaning = words_of(*at_hand).meaning;
    } else if (subject_.inspection && !subject_.inspection->findings.empty()) {
        meaning = tr("Select a line to see its places pinned in the view.");
    }
    if (at_hand && !chosen) meaning = words_of(*at_hand).meaning;
    meaning_->setText(meaning);
    meaning_->setVisible(!meaning.isEmpty());
    show_threshold();
    stepper_->setVisible(!places_.empty());
    const auto repairs = places_.empty() ? std::vector<Repair>() : repairs_for(places_.front()->kind);
    mender_->setVisible(!repairs.empty() && !subject_.part.empty());
    QStringList names;
    for (const Repair r : repairs) names << words_of(r).name;
    mend_one_->setToolTip(names.join(", "));
    mend_kind_->setToolTip(names.join(", "));
    mend_kind_->setText(tr("Mend all %1").arg(places_.size()));
    mend_kind_->setVisible(places_.size() > 1);
    fill_->setVisible(!places_.empty() && places_.front()->kind == FindingKind::holes);
    mend_one_->setText(fill_->isVisibleTo(this) ? tr("Fill this") : tr("Mend this place"));
    if (fill_->isVisibleTo(this)) mend_kind_->setText(tr("All %1").arg(places_.size()));
    if (places_.empty()) {
        at_ = -1;
        show_acceptance();
        Q_EMIT pins_changed();
        return;
    }
    at_ = std::min(at_, static_cast<int>(places_.size()) - 1);
    step(go ? 1 : 0);
}

void Ledger::step(int by) {
    if (places_.empty()) return;
    const int n = static_cast<int>(places_.size());
    at_ = at_ < 0 ? 0 : (at_ + by + n) % n;
    const Finding& at = *places_[static_cast<std::size_t>(at_)];
    place_->setText(tr("%1 of %2").arg(at_ + 1).arg(n));
    meaning_->setText(about(*subject_.inspection, at) + (acceptance_.holds(at) ? " " + tr("Accepted.") : QString()));
    show_acceptance();
    Q_EMIT pins_changed();
    if (by != 0) Q_EMIT place_chosen(placed(at.place));
}

std::string Ledger::accepted_under() const {
    return subject_.part == controller_.job().work() ? std::string() : subject_.part;
}

/// Parts are inspected before they are placed; what is shown is where they stand.
Vec3 Ledger::placed(const Vec3& p) const { return apply(subject_.stands, p); }

std::vector<Pin> Ledger::pins() const {
    // A window of pins round the present one: a thousand would hide the part.
    std::vector<Pin> out;
    const int n = static_cast<int>(places_.size());
    const int first = std::max(0, std::min(at_ - most_pins / 2, n - most_pins));
    for (int k = first; k < std::min(n, first + most_pins); ++k)
        if (k != at_) out.push_back({placed(places_[static_cast<std::size_t>(k)]->place), k + 1, false});
    if (at_ >= 0) out.push_back({placed(places_[static_cast<std::size_t>(at_)]->place), at_ + 1, true});
    return out;
}

void Ledger::reload_measures() {
    const auto outcome = controller_.outcome();
    const bool any = !controller_.job().parts.empty();
    measures_title_->setVisible(subject_.inspection && any && outcome);
    if (!subject_.inspection || !any || !outcome) {
        measures_->setText({});
        return;
    }
    measures_->setText(measures_table(*subject_.inspection, subject_.before.get()));
}

}  // namespace anvil::app
