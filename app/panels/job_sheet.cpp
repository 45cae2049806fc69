#include "app/panels/job_sheet.h"

#include <QLabel>
#include <QMimeData>
#include <QVBoxLayout>

#include "app/panels/measures_table.h"
#include "app/panels/row_delegate.h"
#include "app/panels/row_words.h"
#include "app/theme.h"
#include "app/words.h"

namespace anvil::app {
namespace {

/// "+1 234", "−56.7": mm3 with about four digits.
QString change_text(double v) {
    QString text = std::fabs(v) >= 1000 ? QString::number(v / 1000, 'f', std::fabs(v) >= 100000 ? 0 : 1) + " cm³"
                                        : QString::number(v, 'f', 1) + " mm³";
    if (v > 0) text.prepend("+");
    return text.replace("-", QString::fromUtf8("\xE2\x88\x92"));
}

/// The drawing of a row's verdict; none where there is none.
QString icon_of(Verdict verdict) {
    switch (verdict) {
        case Verdict::none: break;
        case Verdict::sound: return "verdict-sound";
        case Verdict::caution: return "verdict-caution";
        case Verdict::fault: return "verdict-fault";
    }
    return {};
}
QString words_of(Verdict verdict) {
    switch (verdict) {
        case Verdict::none: break;
        case Verdict::sound: return JobSheetModel::tr(", sound");
        case Verdict::caution: return JobSheetModel::tr(", worth a look");
        case Verdict::fault: return JobSheetModel::tr(", faulty");
    }
    return {};
}

}  // namespace

JobSheetModel::JobSheetModel(JobController& controller, QObject* parent)
    : QAbstractListModel(parent), controller_(controller) {
    connect(&controller_, &JobController::job_changed, this, &JobSheetModel::reload);
    auto tell_all = [this] {
        if (rowCount() > 0) Q_EMIT dataChanged(index(0), index(rowCount() - 1));
    };
    connect(&controller_, &JobController::evaluated, this, tell_all);
    connect(&controller_, &JobController::inspected, this, tell_all);
    reload();
}

void JobSheetModel::reload() {
    beginResetModel();
    count_ = static_cast<int>(controller_.rows().size());
    endResetModel();
}

int JobSheetModel::rowCount(const QModelIndex& parent) const { return parent.isValid() ? 0 : count_; }

const Row* JobSheetModel::row_at(int row) const {
    const auto& rows = controller_.rows();
    return row >= 0 && row < static_cast<int>(rows.size()) ? &rows[static_cast<std::size_t>(row)] : nullptr;
}
RowId JobSheetModel::id_at(int row) const { return row_at(row) ? row_at(row)->id : RowId(); }

int JobSheetModel::row_of(const RowId& id) const {
    const Row* row = controller_.row(id);
    return row ? static_cast<int>(row - controller_.rows().data()) : -1;
}

int JobSheetModel::last_row_of(std::size_t steps) const {
    std::size_t seen = 0;
    for (int row = 1; row < rowCount(); ++row)
        if (const Row& r = *row_at(row); r.idle || (r.step && ++seen > steps)) return row - 1;
    return rowCount() - 1;
}

QVariant JobSheetModel::treatment_data(const Row& row, int role) const {
    const std::shared_ptr<const Mended> mended = controller_.mended(row.step->id);
    switch (role) {
        case Qt::DisplayRole:
        case Qt::EditRole: return name_of(*row.step);
        case KindRole: return treatment_row;
        case OperationRole:
            return !row.kind                        ? QString("unknown")
                   : hand_tool_from(row.kind->word) ? QString("by-hand")
                                                    : QString::fromStdString(row.kind->word);
        case NoteRole: {
            const RowOutcome* done = controller_.done(row.step->id);
            if (done && done->treated && done->treated->by_hand && done->treated->by_hand->refused)
                return QString::fromStdString(done->treated->said);
            return mended ? QString::fromStdString(mended->remains()) : QString();
        }
        case Qt::AccessibleTextRole: {
            const Part* list = controller_.job().find_part(row.list->id);
            return tr("%1 of %2, %3%4")
                .arg(name_of(*row.step), QString::fromStdString(list->name),
                     data(index(row_of(row.id)), ChangeRole).toString(), words_of(controller_.verdict(row)));
        }
        case Qt::ToolTipRole: {
            QStringList said = told_of(*row.step, controller_.done(row.step->id));
            if (said.isEmpty()) said << tr("It changes the body above it; its switch turns it on and off.");
            return said.join("\n");
        }
        default: return {};
    }
}

bool JobSheetModel::is_named_group(const Row& row) { return row.kind && row.kind->word == "group"; }

/// Beside the name: of a part that follows another one, and of one that is exported beside the result.
QString JobSheetModel::mark_of(const Row& row) const {
    const Part* part = !row.step || row.use ? controller_.job().find_part(row.id.part) : nullptr;
    if (!part) return {};
    const auto& results = controller_.job().results;
    if (!row.step && row.idle && std::ranges::find(results, row.list->id) != results.end()) return "deliver";
    return std::holds_alternative<Link>(part->source) ? "link" : QString();
}

/// What a row changed, in a word or two.
QString JobSheetModel::change_of(const Row& row, const RowOutcome* done) const {
    const bool is_base = row.is_base();
    const Error* error = controller_.row_error(row);
    if (!row.step) return error ? tr("not sound") : is_base ? tr("base") : tr("waits");
    if (!row.kind) return tr("not known");
    if (!row.step->on) return tr("off");
    if (error) return tr("left out");
    if (controller_.is_below_stop(row)) return tr("stopped");
    if (!row.is_in_segment()) {
        if (controller_.question(row.step->id)) return tr("waits for you");
        return done ? change_of_treatment(*done) : QString();
    }
    if (row.cuts() && done && !done->counted && !done->note.empty()) return tr("waits for you");
    if (!done || !done->counted) return QString();
    if (is_trim(row.kind->operation)) return done->note.empty() ? tr("trimmed") : tr("no change");
    if (row.kind->operation == Operation::scribe) return tr("lines");
    if (row.cuts() && done->pieces_after != done->pieces_before) return tr("%1 pieces").arg(done->pieces_after);
    if (done->volume_after == done->volume_before && done->pieces_after != done->pieces_before)
        return tr("%1 pieces").arg(done->pieces_after);
    if (done->volume_after == done->volume_before) return tr("no change");
    return change_text(done->volume_after - done->volume_before);
}

QVariant JobSheetModel::data(const QModelIndex& index, int role) const {
    const Row* row = index.isValid() ? row_at(index.row()) : nullptr;
    if (!row) return {};
    const Step* step = row->step;
    const bool is_base = row->is_base();
    const RowOutcome* done = step ? controller_.done(step->id) : nullptr;
    switch (role) {
        case NumberRole:
            return step && !row->number.starts_with("0.") ? QString::fromStdString(row->number)
                   : is_base                              ? QString::fromUtf8("\xE2\x80\x94")
                                                          : QString();
        case OnRole: return !step || step->on;
        case BelowStopRole: return controller_.is_below_stop(*row);
        case FaultRole: return controller_.row_error(*row) != nullptr;
        case DepthRole: return row->depth;
        case PartRole: return QString::fromStdString(row->id.part);
        case ChangeRole: return change_of(*row, done);
        case VerdictRole: return icon_of(controller_.verdict(*row));
        case MarkRole: return mark_of(*row);
        default: break;
    }
    if (step && !row->combines()) return treatment_data(*row, role);
    const Part* part = controller_.job().find_part(row->id.part);
    switch (role) {
        case Qt::DisplayRole:
        case Qt::EditRole: return part ? QString::fromStdString(part->name) : QString();
        case KindRole: return step ? step_row : is_base ? base_row : idle_row;
        case OperationRole: return step ? word_of(row->kind->operation) : is_base ? QString("base") : QString("idle");
        case NoteRole: {
            const auto outcome = controller_.outcome();
            if (done) return QString::fromStdString(done->note);
            return is_base && outcome && outcome->evaluation ? QString::fromStdString(outcome->evaluation->base_note)
                                                             : QString();
        }
        case Qt::AccessibleTextRole:
            return tr("%1, %2, %3%4")
                .arg(data(index, OperationRole).toString(), data(index, Qt::DisplayRole).toString(),
                     data(index, ChangeRole).toString(), words_of(controller_.verdict(*row)));
        case Qt::ToolTipRole:
            if (const Error* error = controller_.row_error(*row)) return QString::fromStdString(error->sentence());
            if (const QString note = data(index, NoteRole).toString(); !note.isEmpty()) return note;
            if (done && done->counted) {
                QString said = tr("%1 → %2").arg(volume_text(done->volume_before), volume_text(done->volume_after));
                if (done->pieces_after != 1) said += tr(" in %1 pieces").arg(done->pieces_after);
                return said + tr(". With the steps that combine beside it, it took %1.").arg(time_text(done->seconds));
            }
            return step
                       ? tr("Drag it to another place, or onto a step to act on that one's part first; double-click to "
                            "rename; the switch turns it on and off.")
                       : tr("Double-click to rename.");
        default: return {};
    }
}

bool JobSheetModel::setData(const QModelIndex& index, const QVariant& value, int role) {
    const Row* row = row_at(index.row());
    if (!row) return false;
    Job job = controller_.job();
    if (role == OnRole && row->step) {
        const bool on = value.toBool();
        edit_step(job, row->step->id, [&](Step& step) { step.on = on; });
        const QString name = name_of(*row, job);
        controller_.change(std::move(job), on ? tr("switch on %1").arg(name) : tr("switch off %1").arg(name));
        return true;
    }
    const Part* part = job.find_part(row->id.part);
    if (role == Qt::EditRole && is_named_group(*row)) {
        const QString name = value.toString().trimmed(), before = name_of(*row->step);
        if (name.isEmpty() || name == before) return false;
        edit_step(job, row->step->id, [&](Step& step) { step.values["name"] = name.toStdString(); });
        controller_.change(std::move(job), tr("rename %1").arg(before));
        return true;
    }
    if (role == Qt::EditRole && part && (!row->step || row->use)) {
        const QString name = value.toString().trimmed(), before = QString::fromStdString(part->name);
        if (name.isEmpty() || name == before) return false;
        rename_part(job, row->id.part, name.toStdString());
        controller_.change(std::move(job), tr("rename %1").arg(before));
        return true;
    }
    return false;
}

Qt::ItemFlags JobSheetModel::flags(const QModelIndex& index) const {
    if (!index.isValid()) return Qt::ItemIsDropEnabled;
    Qt::ItemFlags f = Qt::ItemIsEnabled | Qt::ItemIsSelectable;
    const Row* row = row_at(index.row());
    if (!row) return f;
    if (!row->step || row->use || is_named_group(*row)) f |= Qt::ItemIsEditable;
    if (row->step) f |= Qt::ItemIsDragEnabled;
    if (row->step && (row->use || holds_steps(*row))) f |= Qt::ItemIsDropEnabled;
    return f;
}

/// A row that others are grouped under.
bool JobSheetModel::holds_steps(const Row& row) { return row.kind && row.kind->of == KindClass::group; }

QMimeData* JobSheetModel::mimeData(const QModelIndexList& indexes) const {
    QByteArray rows;
    for (const QModelIndex& index : indexes) rows += QByteArray::number(index.row()) + ' ';
    auto* data = new QMimeData;
    data->setData("application/x-anvil-row", rows);
    return data;
}

namespace {

/// Steps only, and none that moves along with another of them.
std::vector<RowId> movable_ones(std::vector<RowId> rows) {
    std::erase_if(rows, [](const RowId& row) { return !row.is_step(); });
    const std::vector<RowId> all = rows;
    std::erase_if(rows, [&](const RowId& row) {
        return std::ranges::any_of(all, [&](const RowId& other) {
            return other.way.size() < row.way.size() &&
                   std::ranges::equal(other.way, std::span(row.way).first(other.way.size()));
        });
    });
    return rows;
}

}  // namespace

bool JobSheetModel::dropMimeData(const QMimeData* data, Qt::DropAction, int row, int, const QModelIndex& parent) {
    std::vector<int> numbers;
    for (const QByteArray& number : data->data("application/x-anvil-row").trimmed().split(' '))
        numbers.push_back(number.toInt());
    std::ranges::sort(numbers);
    std::vector<RowId> moved;
    for (const int number : numbers) moved.push_back(id_at(number));
    moved = movable_ones(std::move(moved));
    if (moved.empty()) return false;
    // After this call returns the view would remove the dragged rows; the job is changed afterwards instead, as it is
    // then.
    if (row < 0 && parent.isValid()) {
        QMetaObject::invokeMethod(
            this, [this, moved, onto = id_at(parent.row())] { move_onto(moved, onto); }, Qt::QueuedConnection);
        return false;
    }
    // In front of the row at the gap; where that is none of a step, last of all.
    const Row* at = row_at(row);
    const RowId before = at && at->step && !at->idle ? at->id : RowId();
    QMetaObject::invokeMethod(
        this, [this, moved, before] { move(moved, before); }, Qt::QueuedConnection);
    return false;
}

/// In front of the step of another row, in the same list; last of all where that is none.
void JobSheetModel::move(const std::vector<RowId>& moved, const RowId& before) {
    Job job = controller_.job();
    auto order = [](const Job& of) {
        std::vector<std::vector<std::string>> ways;
        for (const Row& row : rows_of(of)) ways.push_back(row.id.way);
        return ways;
    };
    const auto old = order(job);
    for (const RowId& one : moved) {
        // The rows change with each step that is moved.
        const std::vector<Row> rows = rows_of(job);
        const Row *from = find_row(rows, one), *to = find_row(rows, before);
        if (!from || !from->step || (!to && !before.empty())) return;  // gone meanwhile
        const Place place = to ? place_of(*to) : Place{job.work()};
        if (auto done = move_step(job, one.step(), place, way_between(*from, to)); !done) {
            Q_EMIT said(QString::fromStdString(done.error().sentence()));
            return;
        }
    }
    if (order(job) != old)
        controller_.change(std::move(job),
                           tr("reorder %1").arg(names_of(moved, controller_.rows(), controller_.job())));
}

void JobSheetModel::move_onto(const std::vector<RowId>& moved, const RowId& onto) {
    const Row* other = controller_.row(onto);
    if (!other) return;
    Job job = controller_.job();
    const QString names = names_of(moved, controller_.rows(), controller_.job()), with = name_of(*other, job);
    const bool into_group = holds_steps(*other);
    bool any = false;
    for (const RowId& one : moved) {
        const FoundStep found = find_step(job, one.step());
        if (one == onto || !found.step || (into_group && found.group == find_step(job, onto.step()).step)) continue;
        if (auto done = move_into(job, one.step(), onto.step()); !done) {
            Q_EMIT said(QString::fromStdString(done.error().sentence()));
            return;
        }
        any = true;
    }
    if (!any) return;
    if (into_group) return controller_.change(std::move(job), tr("group %1").arg(names));
    controller_.change(std::move(job), tr("bundle %1 with %2").arg(names, with));
    Q_EMIT said(moved.size() == 1 ? tr("\"%1\" now acts on \"%2\", before that acts on the body.").arg(names, with)
                                  : tr("They now act on \"%1\", before that acts on the body.").arg(with));
}

void JobSheetModel::bundle(const std::vector<RowId>& rows, bool into) {
    const std::vector<RowId> moved = movable_ones(rows);
    const Row* first = moved.empty() ? nullptr : controller_.row(moved.front());
    if (!first) {
        Q_EMIT said(tr("Select a step first: a bundle is made of steps."));
        return;
    }
    const QString names = names_of(moved, controller_.rows(), controller_.job());
    if (into) {
        const Row* above = nullptr;
        for (int k = row_of(first->id) - 1; k >= 0 && row_at(k)->depth >= first->depth && !above; --k)
            if (const Row* r = row_at(k); r->depth == first->depth && r->combines()) above = r;
        if (above)
            move_onto(moved, above->id);
        else
            Q_EMIT said(tr("There is no step above that \"%1\" could be bundled with.").arg(names));
        return;
    }
    Job job = controller_.job();
    bool any = false;
    for (auto at = moved.rbegin(); at != moved.rend(); ++at)  // each behind the same step, so that their order stays
        any = move_out(job, *at) || any;
    if (any) controller_.change(std::move(job), tr("unbundle %1").arg(names));
    Q_EMIT said(!any                ? tr("\"%1\" lies in no bundle.").arg(names)
                : moved.size() == 1 ? tr("\"%1\" now acts after the bundle, by itself.").arg(names)
                                    : tr("They now act after the bundle, by themselves."));
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
    view_->setSelectionMode(QAbstractItemView::ExtendedSelection);
    connect(view_->selectionModel(), &QItemSelectionModel::currentChanged, this, [this](const QModelIndex& current) {
        if (!choosing_ && current.isValid()) Q_EMIT chosen(model_->id_at(current.row()));
    });
    connect(view_->selectionModel(), &QItemSelectionModel::selectionChanged, this, [this] {
        if (!choosing_) selected_ = chosen_rows();
    });
    connect(view_, &SheetView::hint, this, &JobSheet::hint);
    connect(model_, &JobSheetModel::said, this, &JobSheet::hint);
    auto update_note = [this, note] {
        const Job& job = controller_.job();
        note->setText(job.parts.empty()
                          ? tr("Empty. The steps of the work are listed here.")
                          : tr("%1 · %2").arg(controller_.file().isEmpty() ? tr("not saved yet")
                                                                           : controller_.file().section('/', -1),
                                              counted(steps_in_work(controller_.rows()), tr("step"), tr("steps"))));
    };
    connect(&controller_, &JobController::job_changed, this, update_note);
    update_note();
}

void JobSheet::choose(const RowId& id) {
    const int row = model_->row_of(id);
    // The view is at it already, and sees to what is chosen with it.
    if (row >= 0 && view_->currentIndex().row() == row) return;
    if (std::ranges::find(selected_, id) == selected_.end()) selected_ = {id};
    choosing_ = true;
    view_->clearSelection();
    view_->selectionModel()->setCurrentIndex(row < 0 ? QModelIndex() : model_->index(row),
                                             QItemSelectionModel::NoUpdate);
    for (const RowId& one : selected_)
        if (const int at = model_->row_of(one); at >= 0)
            view_->selectionModel()->select(model_->index(at), QItemSelectionModel::Select);
    choosing_ = false;
}

}  // namespace anvil::app
