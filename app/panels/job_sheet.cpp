#include "app/panels/job_sheet.h"

#include <QLabel>
#include <QMimeData>
#include <QMouseEvent>
#include <QPainter>
#include <QStyledItemDelegate>
#include <QVBoxLayout>

#include "app/theme.h"
#include "app/words.h"
#include "core/job/bundles.h"

namespace anvil::app {
namespace {

constexpr int switch_width = 30, number_width = 24, mark_width = 28, change_width = 74, indent = 18;

/// "+1 234", "−56.7": mm3 with about four digits.
QString change_text(double v) {
    QString text = std::fabs(v) >= 1000 ? QString::number(v / 1000, 'f', std::fabs(v) >= 100000 ? 0 : 1) + " cm³"
                                        : QString::number(v, 'f', 1) + " mm³";
    if (v > 0) text.prepend("+");
    return text.replace("-", QString::fromUtf8("\xE2\x88\x92"));
}

class RowDelegate : public QStyledItemDelegate {
  public:
    using QStyledItemDelegate::QStyledItemDelegate;
    QSize sizeHint(const QStyleOptionViewItem&, const QModelIndex& index) const override {
        const bool last = index.row() + 1 == index.model()->rowCount();
        return {200, row_height + (last ? room_under_rows : 0)};
    }

    void paint(QPainter* painter, const QStyleOptionViewItem& option, const QModelIndex& index) const override {
        using M = JobSheetModel;
        painter->save();
        painter->setRenderHint(QPainter::Antialiasing);
        const QRect r(option.rect.topLeft(), QSize(option.rect.width(), row_height));
        const bool chosen = option.state & QStyle::State_Selected, on = index.data(M::OnRole).toBool();
        const int kind = index.data(M::KindRole).toInt();
        const bool below = index.data(M::BelowStopRole).toBool();
        if (chosen) {
            painter->fillRect(r, colour().wash);
            painter->fillRect(QRect(r.left(), r.top(), 3, r.height()), colour().petrol);
        }
        painter->setPen(colour().rule);
        painter->drawLine(r.bottomLeft(), r.bottomRight());
        if (option.state & QStyle::State_HasFocus && chosen) {
            painter->setPen(QPen(colour().petrol, 1, Qt::DotLine));
            painter->drawRect(r.adjusted(4, 1, -2, -2));
        }
        const QColor text = kind == M::idle_row || !on || below ? colour().muted : colour().ink;
        int x = r.left() + 8;
        // Number, as on a work order.
        painter->setPen(colour().muted);
        QFont small = option.font;
        small.setPixelSize(11);
        painter->setFont(small);
        painter->drawText(QRect(x, r.top(), number_width, r.height()), Qt::AlignVCenter | Qt::AlignLeft,
                          index.data(M::NumberRole).toString());
        x += number_width;
        if (const int depth = index.data(M::DepthRole).toInt(); depth > 0) {
            // A bracket that holds the bundle together, from the head's mark down past its last row.
            painter->setPen(QPen(on && !below ? colour().ink : colour().muted, 1.2));
            const int next = index.sibling(index.row() + 1, 0).data(M::DepthRole).toInt();
            for (int d = 1; d <= depth; ++d) {
                const int rail = x + (d - 1) * indent + 10, middle = r.center().y();
                if (d == depth) painter->drawLine(rail, middle, rail + 8, middle);
                painter->drawLine(rail, r.top() - 6, rail,
                                  next >= d    ? r.bottom()
                                  : d == depth ? middle
                                               : r.bottom() - 4);
            }
            x += depth * indent;
        }
        icon(index.data(M::OperationRole).toString())
            .paint(painter, QRect(x, r.top() + 7, 20, 20), Qt::AlignCenter,
                   on && !below ? QIcon::Normal : QIcon::Disabled);
        x += mark_width;
        const bool has_switch = kind == M::step_row || kind == M::mending_row;
        const int right = r.right() - (has_switch ? switch_width : 6);
        const QString change = index.data(M::ChangeRole).toString();
        painter->setFont(option.font);
        const int text_width = right - x - (change.isEmpty() ? 0 : change_width);
        QFont name = option.font;
        name.setBold(kind == M::base_row);
        name.setStrikeOut(has_switch && !on);
        name.setItalic(kind == M::mending_row);
        painter->setFont(name);
        painter->setPen(text);
        painter->drawText(
            QRect(x, r.top(), text_width, r.height()), Qt::AlignVCenter | Qt::AlignLeft,
            QFontMetrics(name).elidedText(index.data(Qt::DisplayRole).toString(), Qt::ElideRight, text_width - 4));
        painter->setFont(small);
        painter->setPen(index.data(M::FaultRole).toBool()               ? colour().brick
                        : !index.data(M::NoteRole).toString().isEmpty() ? colour().ochre
                                                                        : colour().muted);
        painter->drawText(QRect(right - change_width, r.top(), change_width - 6, r.height()),
                          Qt::AlignVCenter | Qt::AlignRight, change);
        if (has_switch) {  // the switch: a peg that sits left or right
            const QRectF slot(r.right() - switch_width + 2, r.center().y() - 5, 22, 12);
            painter->setPen(QPen(on ? colour().petrol : colour().muted, 1.2));
            painter->setBrush(on ? colour().wash : colour().panel);
            painter->drawRect(slot);
            painter->setBrush(on ? colour().petrol : colour().muted);
            painter->setPen(Qt::NoPen);
            painter->drawRect(QRectF(on ? slot.right() - 9 : slot.left() + 2, slot.top() + 2.5, 7, 7));
        }
        painter->restore();
    }

    bool editorEvent(QEvent* event, QAbstractItemModel* model, const QStyleOptionViewItem& option,
                     const QModelIndex& index) override {
        const int kind = index.data(JobSheetModel::KindRole).toInt();
        // On the press: choosing the row may make the sheet shorter, and the release then meets another one.
        if ((event->type() == QEvent::MouseButtonPress || event->type() == QEvent::MouseButtonDblClick) &&
            (kind == JobSheetModel::step_row || kind == JobSheetModel::mending_row)) {
            const auto* mouse = static_cast<QMouseEvent*>(event);
            if (mouse->position().x() > option.rect.right() - switch_width)
                return model->setData(index, !index.data(JobSheetModel::OnRole).toBool(), JobSheetModel::OnRole);
        }
        return QStyledItemDelegate::editorEvent(event, model, option, index);
    }

    void updateEditorGeometry(QWidget* editor, const QStyleOptionViewItem& option, const QModelIndex&) const override {
        editor->setGeometry(option.rect.left() + 4 + number_width + mark_width, option.rect.top() + 3,
                            option.rect.width() - number_width - mark_width - switch_width - 8, row_height - 7);
    }
};

}  // namespace

JobSheetModel::JobSheetModel(JobController& controller, QObject* parent)
    : QAbstractListModel(parent), controller_(controller) {
    connect(&controller_, &JobController::job_changed, this, &JobSheetModel::reload);
    connect(&controller_, &JobController::evaluated, this, [this] {
        if (rowCount() > 0) Q_EMIT dataChanged(index(0), index(rowCount() - 1));
    });
    reload();
}

void JobSheetModel::reload() {
    beginResetModel();
    rows_.clear();
    const Job& job = controller_.job();
    auto add = [&](Row row) {
        const bool first = std::ranges::none_of(rows_, [&](const Row& r) { return r.id.part == row.id.part; });
        rows_.push_back(row);
        if (const Part* part = job.find_part(row.id.part); part && first)
            for (const Mending& m : part->mendings)
                rows_.push_back({mending_row, -1, row.depth + 1, {row.id.part, {}, m.id}});
    };
    if (!job.parts.empty()) add({base_row, -1, 0, {job.base}});
    for (std::size_t i = 0; i < job.steps.size(); ++i)
        add({step_row, static_cast<int>(i), job.steps[i].depth, {job.steps[i].part, job.steps[i].id}});
    for (const Part* p : job.idle_parts()) add({idle_row, -1, 0, {p->id}});
    endResetModel();
}

int JobSheetModel::rowCount(const QModelIndex& parent) const {
    return parent.isValid() ? 0 : static_cast<int>(rows_.size());
}

const JobSheetModel::Row* JobSheetModel::row_at(int row) const {
    return row >= 0 && row < rowCount() ? &rows_[static_cast<std::size_t>(row)] : nullptr;
}
int JobSheetModel::step_at(int row) const { return row_at(row) ? row_at(row)->step : -1; }
RowId JobSheetModel::id_at(int row) const { return row_at(row) ? row_at(row)->id : RowId(); }

int JobSheetModel::row_of(const RowId& id) const {
    const auto at = std::ranges::find(rows_, id, &Row::id);
    return at == rows_.end() ? -1 : static_cast<int>(at - rows_.begin());
}

RowId JobSheetModel::nearest(const RowId& id) const {
    if (row_of(id) >= 0) return id;
    const auto at = std::ranges::find_if(rows_, [&](const Row& r) { return r.id.part == id.part; });
    return at == rows_.end() ? RowId() : at->id;
}

int JobSheetModel::last_row_of(std::size_t steps) const {
    for (int row = 1; row < rowCount(); ++row)
        if (const Row& r = rows_[static_cast<std::size_t>(row)];
            r.kind == idle_row || (r.kind == step_row && r.step >= static_cast<int>(steps)))
            return row - 1;
    return rowCount() - 1;
}

/// "fill holes" for one repair, "3 repairs" for some, "mend" for all.
static QString name_of(const Mending& m) {
    if (!m.edits.empty())
        return JobSheet::tr("by hand: %1").arg(counted(m.edits.size(), JobSheet::tr("edit"), JobSheet::tr("edits")));
    if (m.repairs.size() == whole_plan().size()) return JobSheet::tr("mend");
    if (m.repairs.size() == 1) return words_of(m.repairs.front()).name;
    return JobSheet::tr("mend: %1").arg(counted(m.repairs.size(), JobSheet::tr("repair"), JobSheet::tr("repairs")));
}

QVariant JobSheetModel::mending_data(const Row& row, int role) const {
    const Part* part = controller_.job().find_part(row.id.part);
    const Mending* mending = part ? part->find_mending(row.id.mending) : nullptr;
    if (!mending) return {};
    const std::shared_ptr<const Mended> done = controller_.mended(row.id.part, row.id.mending);
    const Error* error = controller_.row_error(mending->id);
    switch (role) {
        case Qt::DisplayRole: return name_of(*mending);
        case KindRole: return mending_row;
        case OperationRole: return QString("mend");
        case OnRole: return mending->on;
        case NoteRole: return done ? QString::fromStdString(done->remains()) : QString();
        case DepthRole: return row.depth;
        case PartRole: return QString::fromStdString(row.id.part);
        case FaultRole: return error != nullptr;
        case BelowStopRole: return false;
        case ChangeRole: {
            if (!mending->on) return tr("off");
            if (error) return tr("left out");
            if (!done) return QString();
            std::size_t changed = 0;
            for (const Repaired& r : done->repairs) changed += r.changed;
            for (const HandDone& h : done->by_hand) changed += h.changed;
            if (controller_.question(row.id.part, row.id.mending)) return tr("waits for you");
            if (changed == 0) return tr("no change");
            return done->after.print_ready ? tr("print-ready") : counted(changed, tr("change"), tr("changes"));
        }
        case Qt::AccessibleTextRole:
            return tr("%1 of %2, %3")
                .arg(name_of(*mending), QString::fromStdString(part->name), mending_data(row, ChangeRole).toString());
        case Qt::ToolTipRole: {
            QStringList said;
            if (error) said << QString::fromStdString(error->sentence());
            if (done)
                for (const Repaired& r : done->repairs)
                    if (!r.said.empty()) said << QString::fromStdString(r.said);
            if (done)
                for (const HandDone& h : done->by_hand) said << QString::fromStdString(h.said);
            if (done && !done->remains().empty()) said << QString::fromStdString(done->remains());
            return said.isEmpty() ? tr("Repairs of the part above; the peg switches them on and off.")
                                  : said.join("\n");
        }
        default: return {};
    }
}

QVariant JobSheetModel::data(const QModelIndex& index, int role) const {
    const Row* row = row_at(index.row());
    if (!index.isValid() || !row) return {};
    if (row->kind == mending_row) return mending_data(*row, role);
    const Job& job = controller_.job();
    const int s = row->step;
    if (s >= static_cast<int>(job.steps.size())) return {};
    const Part* part = job.find_part(row->id.part);
    const Step* step = s >= 0 ? &job.steps[static_cast<std::size_t>(s)] : nullptr;
    const bool is_base = row->kind == base_row;
    const auto outcome = controller_.outcome();
    const StepOutcome* done = nullptr;
    if (outcome && outcome->evaluation && step)
        for (const StepOutcome& o : outcome->evaluation->steps)
            if (o.step == step->id) done = &o;
    const Error* error = step || is_base ? controller_.row_error(step ? step->id : row->id.part) : nullptr;
    switch (role) {
        case Qt::DisplayRole:
        case Qt::EditRole: return part ? QString::fromStdString(part->name) : QString();
        case KindRole: return row->kind;
        case NumberRole: return step ? QString::number(s + 1) : is_base ? QString::fromUtf8("\xE2\x80\x94") : QString();
        case OperationRole: return step ? word_of(step->operation) : is_base ? QString("base") : QString("idle");
        case OnRole: return !step || step->on;
        case BelowStopRole: return step && static_cast<std::size_t>(s) >= controller_.stop_after();
        case FaultRole: return error != nullptr;
        case NoteRole:
            if (done) return QString::fromStdString(done->note);
            return is_base && outcome && outcome->evaluation ? QString::fromStdString(outcome->evaluation->base_note)
                                                             : QString();
        case DepthRole: return row->depth;
        case PartRole: return QString::fromStdString(row->id.part);
        case ChangeRole:
            if (step && !step->on) return tr("off");
            if (error) return step ? tr("left out") : tr("not sound");
            if (!step) return is_base ? tr("base") : tr("waits");
            if (static_cast<std::size_t>(s) >= controller_.stop_after()) return tr("stopped");
            if (!done || !done->counted) return QString();
            if (is_trim(step->operation)) return done->note.empty() ? tr("trimmed") : tr("no change");
            if (step->operation == Operation::scribe) return tr("lines");
            if (done->volume_after == done->volume_before && done->pieces_after != done->pieces_before)
                return tr("%1 pieces").arg(done->pieces_after);
            if (done->volume_after == done->volume_before) return tr("no change");
            return change_text(done->volume_after - done->volume_before);
        case Qt::AccessibleTextRole:
            return tr("%1, %2, %3")
                .arg(data(index, OperationRole).toString(), data(index, Qt::DisplayRole).toString(),
                     data(index, ChangeRole).toString());
        case Qt::ToolTipRole:
            if (error) return QString::fromStdString(error->sentence());
            if (const QString note = data(index, NoteRole).toString(); !note.isEmpty()) return note;
            return step
                       ? tr("Drag to reorder, double-click to rename; the peg switches the step on and off. Ctrl+Right "
                            "bundles it with the step above.")
                       : tr("Double-click to rename.");
        default: return {};
    }
}

bool JobSheetModel::setData(const QModelIndex& index, const QVariant& value, int role) {
    const Row* row = row_at(index.row());
    if (!row) return false;
    Job job = controller_.job();
    Part* part = job.find_part(row->id.part);
    if (!part) return false;
    if (role == OnRole && row->kind != base_row && row->kind != idle_row) {
        bool& on = row->kind == mending_row ? part->find_mending(row->id.mending)->on
                                            : job.steps[static_cast<std::size_t>(row->step)].on;
        on = value.toBool();
        const QString name = row->kind == mending_row ? tr("mending of %1").arg(QString::fromStdString(part->name))
                                                      : QString::fromStdString(part->name);
        controller_.change(std::move(job),
                           value.toBool() ? tr("switch on %1").arg(name) : tr("switch off %1").arg(name));
        return true;
    }
    if (role == Qt::EditRole && row->kind != mending_row) {
        const QString name = value.toString().trimmed();
        if (name.isEmpty() || part->name == name.toStdString()) return false;
        const QString before = QString::fromStdString(part->name);
        part->name = name.toStdString();
        controller_.change(std::move(job), tr("rename %1").arg(before));
        return true;
    }
    return false;
}

Qt::ItemFlags JobSheetModel::flags(const QModelIndex& index) const {
    if (!index.isValid()) return Qt::ItemIsDropEnabled;
    Qt::ItemFlags f = Qt::ItemIsEnabled | Qt::ItemIsSelectable;
    if (id_at(index.row()).mending.empty()) f |= Qt::ItemIsEditable;
    if (step_at(index.row()) >= 0) f |= Qt::ItemIsDragEnabled;
    return f;
}

QMimeData* JobSheetModel::mimeData(const QModelIndexList& indexes) const {
    auto* data = new QMimeData;
    data->setData("application/x-anvil-row", QByteArray::number(indexes.first().row()));
    return data;
}

bool JobSheetModel::dropMimeData(const QMimeData* data, Qt::DropAction, int row, int, const QModelIndex&) {
    const int from = step_at(data->data("application/x-anvil-row").toInt());
    const Job& job = controller_.job();
    const int count = static_cast<int>(job.steps.size());
    if (from < 0) return false;
    // In front of the first step at or below the gap.
    std::size_t to = static_cast<std::size_t>(count);
    for (int r = std::max(row, 0); row >= 0 && r < rowCount(); ++r)
        if (step_at(r) >= 0) {
            to = static_cast<std::size_t>(step_at(r));
            break;
        }
    const QString name = QString::fromStdString(job.find_part(job.steps[static_cast<std::size_t>(from)].part)->name);
    // After this call returns the view would remove the dragged row; the job is changed afterwards instead, as it is
    // then.
    const std::string moved = job.steps[static_cast<std::size_t>(from)].id,
                      before = to < job.steps.size() ? job.steps[to].id : std::string();
    QMetaObject::invokeMethod(
        this, [this, moved, before, name] { reorder(moved, before, name); }, Qt::QueuedConnection);
    return false;
}

/// In front of the step `before`; at the end where that is empty.
void JobSheetModel::reorder(const std::string& moved, const std::string& before, const QString& name) {
    Job job = controller_.job();
    auto at = [&](const std::string& id) {
        return static_cast<std::size_t>(std::ranges::find(job.steps, id, &Step::id) - job.steps.begin());
    };
    const std::size_t from = at(moved), to = at(before);
    if (from == job.steps.size() || (!before.empty() && to == job.steps.size())) return;  // gone meanwhile
    if (move_step(job.steps, from, to) != from) controller_.change(std::move(job), tr("reorder %1").arg(name));
}

QString JobSheetModel::bundle(int row, bool into) {
    const int step = step_at(row);
    if (step < 0) return tr("Choose a step first: a bundle is made of steps.");
    const auto i = static_cast<std::size_t>(step);
    Job job = controller_.job();
    const QString name = QString::fromStdString(job.find_part(job.steps[i].part)->name);
    if (into) {
        if (!put_in_bundle(job.steps, i))
            return tr("There is no step above that \"%1\" could be bundled with.").arg(name);
        const std::size_t head = *bundle_head(job.steps, i);
        const QString with = QString::fromStdString(job.find_part(job.steps[head].part)->name);
        controller_.change(std::move(job), tr("bundle %1 with %2").arg(name, with));
        return tr("\"%1\" now acts on \"%2\", before that acts on the body.").arg(name, with);
    }
    if (!take_out_of_bundle(job.steps, i)) return tr("\"%1\" lies in no bundle.").arg(name);
    controller_.change(std::move(job), tr("unbundle %1").arg(name));
    return tr("\"%1\" now acts after the bundle, by itself.").arg(name);
}

JobSheet::JobSheet(JobController& controller, QWidget* parent)
    : QWidget(parent),
      controller_(controller),
      model_(new JobSheetModel(controller, this)),
      view_(new SheetView(controller, *model_)) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(2);
    auto* title = new QLabel(tr("Job sheet"));
    title->setObjectName("panelTitle");
    auto* note = new QLabel;
    note->setObjectName("panelNote");
    note->setWordWrap(true);
    column->addWidget(title);
    column->addWidget(note);
    column->addWidget(view_, 1);
    view_->setItemDelegate(new RowDelegate(view_));
    view_->setDragDropMode(QAbstractItemView::InternalMove);
    view_->setEditTriggers(QAbstractItemView::DoubleClicked | QAbstractItemView::EditKeyPressed);
    view_->setAccessibleName(tr("Job sheet"));
    view_->setVerticalScrollMode(QAbstractItemView::ScrollPerItem);
    view_->setMinimumHeight(8 * row_height);
    view_->setMouseTracking(true);
    connect(view_, &QListView::entered, this,
            [this](const QModelIndex& row) { Q_EMIT hint(row.data(Qt::ToolTipRole).toString()); });
    connect(view_->selectionModel(), &QItemSelectionModel::currentChanged, this, [this](const QModelIndex& current) {
        if (!choosing_ && current.isValid()) Q_EMIT chosen(model_->id_at(current.row()));
    });
    connect(view_, &SheetView::hint, this, &JobSheet::hint);
    auto update_note = [this, note] {
        const Job& job = controller_.job();
        note->setText(job.parts.empty()
                          ? tr("Empty. The steps of the work are listed here.")
                          : tr("%1 · %2").arg(controller_.file().isEmpty() ? tr("not saved yet")
                                                                           : controller_.file().section('/', -1),
                                              counted(job.steps.size(), tr("step"), tr("steps"))));
    };
    connect(&controller_, &JobController::job_changed, this, update_note);
    update_note();
}

void JobSheet::choose(const RowId& id) {
    choosing_ = true;
    const int row = model_->row_of(id);
    view_->setCurrentIndex(row < 0 ? QModelIndex() : model_->index(row));
    if (row < 0) view_->clearSelection();
    choosing_ = false;
}

}  // namespace anvil::app
