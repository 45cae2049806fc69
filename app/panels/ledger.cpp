#include "app/panels/ledger.h"

#include <QEvent>
#include <QHBoxLayout>
#include <QLabel>
#include <QLocale>
#include <QPainter>
#include <QPushButton>
#include <QStyledItemDelegate>
#include <QVBoxLayout>

#include "app/theme.h"
#include "app/words.h"

namespace anvil::app {
namespace {

constexpr int most_pins = 60;

class KindDelegate : public QStyledItemDelegate {
  public:
    using QStyledItemDelegate::QStyledItemDelegate;
    QSize sizeHint(const QStyleOptionViewItem&, const QModelIndex&) const override { return {180, 28}; }
    void paint(QPainter* painter, const QStyleOptionViewItem& option, const QModelIndex& index) const override {
        painter->save();
        const QRect r = option.rect;
        const int count = index.data(Qt::UserRole + 1).toInt();
        if (option.state & QStyle::State_Selected) {
            painter->fillRect(r, colour().blush);
            painter->fillRect(QRect(r.left(), r.top(), 3, r.height()), colour().fuchsia);
        }
        painter->setPen(colour().rule);
        painter->drawLine(r.bottomLeft(), r.bottomRight());
        QFont bold = option.font;
        bold.setBold(true);
        painter->setFont(count > 0 ? bold : option.font);
        const bool caution = is_caution(static_cast<FindingKind>(index.data(Qt::UserRole).toInt()));
        painter->setPen(count == 0 ? colour().pine : caution ? colour().ochre : colour().brick);
        const QString number =
            QLocale(QLocale::English).toString(count).replace(",", QString::fromUtf8("\xE2\x80\x89"));
        painter->drawText(QRect(r.left() + 10, r.top(), 56, r.height()), Qt::AlignVCenter | Qt::AlignRight, number);
        painter->setFont(option.font);
        painter->setPen(count > 0 ? colour().ink : colour().muted);
        painter->drawText(r.adjusted(76, 0, -4, 0), Qt::AlignVCenter | Qt::AlignLeft,
                          index.data(Qt::DisplayRole).toString());
        painter->restore();
    }
};

QString number(double v, int decimals) {
    return QLocale(QLocale::English).toString(v, 'f', decimals).replace(",", QString::fromUtf8("\xE2\x80\x89"));
}
QString volume(double mm3) { return std::fabs(mm3) >= 1000 ? number(mm3 / 1000, 2) + " cm³" : number(mm3, 2) + " mm³"; }
QString area(double mm2) { return std::fabs(mm2) >= 1000 ? number(mm2 / 100, 1) + " cm²" : number(mm2, 2) + " mm²"; }
QString size(const Box& box) {
    const Vec3 s = box.size();
    return QString("%1 × %2 × %3 mm").arg(number(s.x, 1), number(s.y, 1), number(s.z, 1));
}

}  // namespace

FindingWords words_of(FindingKind kind) {
    using K = FindingKind;
    auto tr = [](const char* text) { return Ledger::tr(text); };
    switch (kind) {
        case K::open_edges:
            return {tr("open edge"), tr("open edges"),
                    tr("An edge with a face on one side only: the skin ends there.")};
        case K::holes: return {tr("hole"), tr("holes"), tr("A closed loop of open edges.")};
        case K::nonmanifold_edges:
            return {tr("non-manifold edge"), tr("non-manifold edges"),
                    tr("More than two faces share the edge: inside and outside cannot be told apart.")};
        case K::nonmanifold_vertices:
            return {tr("non-manifold point"), tr("non-manifold points"),
                    tr("Fans of faces that meet in a single point only.")};
        case K::misoriented_edges:
            return {tr("misoriented edge"), tr("misoriented edges"), tr("The two faces look to different sides.")};
        case K::zero_length_edges:
            return {tr("edge of no length"), tr("edges of no length"), tr("Both ends are the same point.")};
        case K::degenerate_faces:
            return {tr("face without area"), tr("faces without area"), tr("Three corners in one line.")};
        case K::duplicate_faces: return {tr("doubled face"), tr("doubled faces"), tr("A face that is there twice.")};
        case K::self_intersections:
            return {tr("pair of crossing faces"), tr("pairs of crossing faces"),
                    tr("Two faces that run through or lie on each other.")};
        case K::t_junctions:
            return {tr("T-junction"), tr("T-junctions"),
                    tr("A point lies on an open edge without being joined to it.")};
        case K::interior_faces:
            return {tr("face inside the solid"), tr("faces inside the solid"), tr("Material on both sides.")};
        case K::inverted_shells: return {tr("shell inside out"), tr("shells inside out"), tr("Its faces look inward.")};
        case K::thin_skins:
            return {tr("thin skin"), tr("thin skins"),
                    tr("Two walls nearer to each other than a print can show. Sound, but worth a look.")};
    }
    return {};
}

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
    kinds_ = new QListWidget;
    kinds_->setItemDelegate(new KindDelegate(kinds_));
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
    auto section = [](const QString& text) {
        auto* label = new QLabel(text);
        label->setObjectName("sectionTitle");
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
    connect(kinds_, &QListWidget::currentRowChanged, this, &Ledger::choose_kind);
    connect(previous_, &QPushButton::clicked, this, [this] { step(-1); });
    connect(next_, &QPushButton::clicked, this, [this] { step(1); });
    connect(remarks_, &QListWidget::itemClicked, this, [this](const QListWidgetItem* item) {
        if (const QString part = item->data(Qt::UserRole).toString(); !part.isEmpty())
            Q_EMIT part_wanted(part.toStdString());
    });
    connect(&controller_, &JobController::evaluated, this, &Ledger::reload_measures);
    connect(&controller_, &JobController::evaluated, this, &Ledger::reload_remarks);
    reload();
}

QString Ledger::verdict() const { return verdict_->text(); }
QString Ledger::measures() const { return measures_->text(); }

void Ledger::show_inspection(std::shared_ptr<const Inspection> inspection, const QString& subject, bool of_result) {
    inspection_ = std::move(inspection);
    subject_ = subject;
    of_result_ = of_result;
    reload();
}

void Ledger::reload() {
    const int chosen = kinds_->currentItem() ? kinds_->currentItem()->data(Qt::UserRole).toInt() : -1;
    kinds_->blockSignals(true);
    kinds_->clear();
    QString sentence;
    QString mark = "verdict-none";
    if (!inspection_ || controller_.job().parts.empty()) {
        sentence = tr("Nothing to judge yet.");
    } else if (inspection_->mesh.empty()) {
        const auto outcome = controller_.outcome();
        sentence =
            tr("Empty.") + " " +
            (outcome && outcome->evaluation ? QString::fromStdString(outcome->evaluation->combined.reason) : QString());
        mark = "verdict-caution";
    } else if (inspection_->print_ready) {
        const auto shells = inspection_->measures.shells;
        sentence = tr("<b>Print-ready.</b> %1 is closed, manifold and free of crossings, in %2.")
                       .arg(subject_, counted(shells, tr("shell"), tr("shells")));
        const auto skins = inspection_->count(FindingKind::thin_skins);
        if (skins > 0) sentence += " " + tr("But look at %1.").arg(counted(skins, tr("thin skin"), tr("thin skins")));
        mark = skins > 0 ? "verdict-caution" : "verdict-sound";
    } else {
        const auto kinds = static_cast<std::size_t>(
            std::count_if(inspection_->counts.begin(), inspection_->counts.end(), [](std::size_t n) { return n > 0; }));
        sentence = tr("<b>Not print-ready.</b> %1 is %2 and has %3 of finding.")
                       .arg(subject_, inspection_->closed ? tr("closed") : tr("open"),
                            counted(kinds, tr("kind"), tr("kinds")));
        mark = "verdict-fault";
    }
    // What was found comes first; what was looked for and not found follows, so that the checks can be seen.
    if (inspection_ && !inspection_->mesh.empty())
        for (const bool found : {true, false})
            for (int k = 0; k < finding_kinds; ++k) {
                const auto n = inspection_->counts[static_cast<std::size_t>(k)];
                if ((n > 0) != found) continue;
                const FindingWords w = words_of(static_cast<FindingKind>(k));
                auto* item = new QListWidgetItem(n == 1 ? w.one : w.many, kinds_);
                item->setData(Qt::UserRole, k);
                item->setData(Qt::UserRole + 1, static_cast<int>(n));
                item->setData(Qt::AccessibleTextRole, counted(n, w.one, w.many));
                item->setToolTip(w.meaning);
                if (!found) item->setFlags(Qt::ItemIsEnabled);
                if (found && k == chosen) kinds_->setCurrentItem(item);
            }
    kinds_->blockSignals(false);
    verdict_->setText(sentence);
    mark_name_ = mark;
    show_mark();
    choose_kind();
    reload_measures();
    reload_remarks();
}

/// What was assumed about parts, what steps do not do, and what became of contacts. A click goes to the part.
void Ledger::reload_remarks() {
    remarks_->clear();
    const auto outcome = controller_.outcome();
    if (outcome && outcome->evaluation && of_result_) {
        const Evaluation& e = *outcome->evaluation;
        std::vector<std::string> about;  // the parts whose notes come first among the messages, in their order
        if (!e.base_note.empty()) about.push_back(controller_.job().base);
        for (const StepOutcome& row : e.steps)
            if (!row.note.empty()) about.push_back(row.part);
        for (std::size_t k = 0; k < e.combined.messages.size(); ++k) {
            const QString text = QString::fromStdString(e.combined.messages[k]);
            auto* item = new QListWidgetItem(text.at(0).toUpper() + text.mid(1), remarks_);
            item->setData(Qt::UserRole, k < about.size() ? QString::fromStdString(about[k]) : QString());
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

void Ledger::choose_kind() {
    places_.clear();
    at_ = -1;
    QString meaning;
    const bool chosen =
        inspection_ && kinds_->currentItem() && kinds_->currentItem()->data(Qt::UserRole + 1).toInt() > 0;
    if (chosen) {
        const auto kind = static_cast<FindingKind>(kinds_->currentItem()->data(Qt::UserRole).toInt());
        for (const Finding& f : inspection_->findings)
            if (f.kind == kind) places_.push_back(&f);
        meaning = words_of(kind).meaning;
    } else if (inspection_ && !inspection_->findings.empty()) {
        meaning = tr("Choose a line to see its places pinned in the view.");
    }
    meaning_->setText(meaning);
    meaning_->setVisible(!meaning.isEmpty());
    stepper_->setVisible(!places_.empty());
    if (!places_.empty())
        step(1);
    else
        Q_EMIT pins_changed();
}

void Ledger::step(int by) {
    if (places_.empty()) return;
    const int n = static_cast<int>(places_.size());
    at_ = at_ < 0 ? 0 : (at_ + by + n) % n;
    const Finding& at = *places_[static_cast<std::size_t>(at_)];
    place_->setText(tr("%1 of %2").arg(at_ + 1).arg(n));
    if (at.kind == FindingKind::thin_skins)
        meaning_->setText(tr("A skin of %1 mm at its thinnest, over %2. Walls under %3 mm are listed.")
                              .arg(at.thickness, 0, 'g', 2)
                              .arg(area(at.area))
                              .arg(inspection_->thin_below, 0, 'g', 2));
    Q_EMIT pins_changed();
    if (by != 0) Q_EMIT place_chosen(places_[static_cast<std::size_t>(at_)]->place);
}

std::vector<Pin> Ledger::pins() const {
    // A window of pins round the present one: a thousand would hide the part.
    std::vector<Pin> out;
    const int n = static_cast<int>(places_.size());
    const int first = std::max(0, std::min(at_ - most_pins / 2, n - most_pins));
    for (int k = first; k < std::min(n, first + most_pins); ++k)
        if (k != at_) out.push_back({places_[static_cast<std::size_t>(k)]->place, k + 1, false});
    if (at_ >= 0) out.push_back({places_[static_cast<std::size_t>(at_)]->place, at_ + 1, true});
    return out;
}

void Ledger::reload_measures() {
    const auto outcome = controller_.outcome();
    const Part* base = controller_.job().find_part(controller_.job().base);
    measures_title_->setVisible(inspection_ && base && outcome);
    if (!inspection_ || !base || !outcome) {
        measures_->setText({});
        return;
    }
    const Measures& now = inspection_->measures;
    const Measures* before = of_result_ ? outcome->base_measures.get() : nullptr;
    auto row = [&](const QString& name, const QString& was, const QString& is) {
        const bool same = was == is || was.isEmpty();
        const QString muted = colour().muted.name();
        const QString values = same ? is : QString("<span style='color:%1'>%2 →</span> <b>%3</b>").arg(muted, was, is);
        return QString("<tr><td style='color:%1; padding-right:8px'>%2</td><td align='right'>%3</td></tr>")
            .arg(muted, name, values);
    };
    auto was = [&](const QString& text) { return before ? text : QString(); };
    auto whole = [&](std::size_t n) { return number(static_cast<double>(n), 0); };
    static const Measures none;
    const Measures& b = before ? *before : none;
    measures_->setText("<table width='100%' cellspacing='0' cellpadding='2'>" +
                       row(tr("size"), {}, now.triangles ? ::anvil::app::size(now.bounds) : tr("none")) +
                       row(tr("volume"), inspection_->closed ? was(volume(b.volume)) : QString(),
                           inspection_->closed ? volume(now.volume) : tr("none: it is open")) +
                       row(tr("area"), was(area(b.area)), area(now.area)) +
                       row(tr("faces"), was(whole(b.triangles)), whole(now.triangles)) +
                       row(tr("points"), was(whole(b.vertices)), whole(now.vertices)) +
                       row(tr("shells"), was(whole(b.shells)), whole(now.shells)) + "</table>");
}

}  // namespace anvil::app
