#include "app/panels/sheet_view.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>

#include "app/panels/job_sheet.h"
#include "app/theme.h"

namespace anvil::app {
namespace {

constexpr int tab_width = 46, tab_height = room_under_rows, reach = 5;

}  // namespace

SheetView::SheetView(JobController& controller, JobSheetModel& model, QWidget* parent)
    : QListView(parent), controller_(controller), model_(model) {
    setModel(&model_);
    setMouseTracking(true);
    viewport()->setMouseTracking(true);
}

std::size_t SheetView::steps() const { return steps_in_work(controller_.rows()); }
std::size_t SheetView::shown_stop() const { return std::min(controller_.stop_after(), steps()); }

QRect SheetView::stop_line() const {
    if (steps() == 0) return {};
    const QRect last = visualRect(model_.index(model_.last_row_of(shown_stop())));
    return {0, last.top() + row_height - 1 - reach, viewport()->width(), 2 * reach + 1};
}

QRect SheetView::stop_tab() const {
    const QRect line = stop_line();
    // Across the line, between the figures of two rows; the last row leaves room for it.
    int top = line.center().y() - tab_height / 2;
    if (line.center().y() <= viewport()->height()) top = std::min(top, viewport()->height() - tab_height);
    return {line.width() - tab_width - 34, top, tab_width, tab_height};
}

void SheetView::set_stop(std::size_t count) {
    const std::size_t all = steps();
    controller_.set_stop_after(count >= all ? ~std::size_t{0} : count);
    viewport()->update();
    Q_EMIT hint(count >= all ? tr("All steps count.")
                : count == 0 ? tr("Stop line: the base alone, before any step. Pull it down to have the steps back.")
                             : tr("Stop line: the model as of step %1 of %2. Pull it down to have the others back.")
                                   .arg(count)
                                   .arg(all));
}

void SheetView::move_stop(int by) {
    const auto all = static_cast<int>(steps());
    if (all > 0) set_stop(static_cast<std::size_t>(std::clamp(static_cast<int>(shown_stop()) + by, 0, all)));
}

void SheetView::paintEvent(QPaintEvent* event) {
    QListView::paintEvent(event);
    const QRect line = stop_line();
    if (line.isEmpty()) return;
    QPainter painter(viewport());
    painter.setRenderHint(QPainter::Antialiasing);
    const bool pulled = shown_stop() < steps();
    const QColor tint = pulled || pulling_ ? colour().fuchsia : colour().muted;
    const int y = line.center().y();
    painter.setPen(QPen(tint, 2));
    painter.drawLine(0, y, line.width(), y);
    // A tab to take hold of, like the slide of a ruler.
    const QRect tab = stop_tab();
    painter.setPen(Qt::NoPen);
    painter.setBrush(tint);
    painter.drawRect(tab);
    QFont font = this->font();
    font.setPixelSize(10);
    font.setBold(true);
    painter.setFont(font);
    painter.setPen(colour().panel);
    painter.drawText(tab, Qt::AlignCenter, pulled ? tr("STOP %1").arg(shown_stop()) : tr("STOP"));
}

void SheetView::mousePressEvent(QMouseEvent* event) {
    const QRect line = stop_line();
    if (event->button() == Qt::LeftButton && !line.isEmpty() &&
        (stop_tab().contains(event->pos()) || std::abs(event->pos().y() - line.center().y()) <= 3)) {
        pulling_ = true;
        viewport()->update();
        return;
    }
    QListView::mousePressEvent(event);
}

void SheetView::mouseMoveEvent(QMouseEvent* event) {
    if (pulling_) {
        // The end of a step that is nearest to the pointer.
        std::size_t wanted = 0;
        int nearest = std::numeric_limits<int>::max();
        for (std::size_t n = 0; n <= steps(); ++n) {
            const int away =
                std::abs(visualRect(model_.index(model_.last_row_of(n))).top() + row_height - event->pos().y());
            if (away < nearest) nearest = away, wanted = n;
        }
        if (wanted != shown_stop()) set_stop(wanted);
        return;
    }
    const QRect line = stop_line();
    const bool over = !line.isEmpty() && std::abs(event->pos().y() - line.center().y()) <= 3;
    viewport()->setCursor(over ? Qt::SplitVCursor : Qt::ArrowCursor);
    if (over) Q_EMIT hint(tr("Pull the stop line up to look at the model as of any step (Ctrl+Up, Ctrl+Down)."));
    QListView::mouseMoveEvent(event);
}

void SheetView::mouseReleaseEvent(QMouseEvent* event) {
    if (pulling_) {
        pulling_ = false;
        viewport()->update();
        return;
    }
    QListView::mouseReleaseEvent(event);
}

void SheetView::keyPressEvent(QKeyEvent* event) {
    if (event->modifiers() == Qt::ControlModifier && (event->key() == Qt::Key_Up || event->key() == Qt::Key_Down)) {
        move_stop(event->key() == Qt::Key_Up ? -1 : 1);
        return;
    }
    if (event->modifiers() == Qt::ControlModifier && (event->key() == Qt::Key_Right || event->key() == Qt::Key_Left)) {
        bundle(event->key() == Qt::Key_Right);
        return;
    }
    QListView::keyPressEvent(event);
}

/// The settings under the sheet grow with what is chosen; the chosen row stays in sight.
void SheetView::resizeEvent(QResizeEvent* event) {
    QListView::resizeEvent(event);
    if (currentIndex().isValid()) scrollTo(currentIndex());
}

std::vector<RowId> SheetView::chosen_rows() const {
    std::vector<int> rows;
    for (const QModelIndex& index : selectionModel()->selectedRows()) rows.push_back(index.row());
    std::ranges::sort(rows);
    std::vector<RowId> out;
    for (const int row : rows) out.push_back(model_.id_at(row));
    return out;
}

void SheetView::bundle(bool into) { model_.bundle(chosen_rows(), into); }

}  // namespace anvil::app
