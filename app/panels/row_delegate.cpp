#include "app/panels/row_delegate.h"

#include <QMouseEvent>
#include <QPainter>

#include "app/panels/job_sheet.h"
#include "app/theme.h"

namespace anvil::app {
namespace {
constexpr int switch_width = 30, number_width = 24, mark_width = 28, change_width = 74, verdict_width = 18, indent = 18;
}  // namespace

QSize RowDelegate::sizeHint(const QStyleOptionViewItem&, const QModelIndex& index) const {
    const bool last = index.row() + 1 == index.model()->rowCount();
    return {200, row_height + (last ? room_under_rows : 0)};
}

void RowDelegate::paint(QPainter* painter, const QStyleOptionViewItem& option, const QModelIndex& index) const {
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
            painter->drawLine(rail, r.top() - 6, rail, next >= d ? r.bottom() : d == depth ? middle : r.bottom() - 4);
        }
        x += depth * indent;
    }
    icon(index.data(M::OperationRole).toString())
        .paint(painter, QRect(x, r.top() + 7, 20, 20), Qt::AlignCenter, on && !below ? QIcon::Normal : QIcon::Disabled);
    x += mark_width;
    const bool has_switch = kind == M::step_row || kind == M::treatment_row;
    const int right = r.right() - switch_width - verdict_width;
    if (const QString verdict = index.data(M::VerdictRole).toString(); !verdict.isEmpty())
        icon(verdict).paint(painter, QRect(right, r.center().y() - 7, 14, 14));
    const QString change = index.data(M::ChangeRole).toString();
    painter->setFont(option.font);
    const int text_width = right - x - (change.isEmpty() ? 0 : change_width);
    QFont name = option.font;
    name.setBold(kind == M::base_row);
    name.setStrikeOut(has_switch && !on);
    name.setItalic(kind == M::treatment_row);
    painter->setFont(name);
    painter->setPen(text);
    const QString mark = index.data(M::MarkRole).toString();
    const int mark_room = mark.isEmpty() ? 0 : 18;
    const QString shown = QFontMetrics(name).elidedText(index.data(Qt::DisplayRole).toString(), Qt::ElideRight,
                                                        text_width - mark_room - 4);
    painter->drawText(QRect(x, r.top(), text_width, r.height()), Qt::AlignVCenter | Qt::AlignLeft, shown);
    if (!mark.isEmpty())
        icon(mark).paint(painter,
                         QRect(x + QFontMetrics(name).horizontalAdvance(shown) + 5, r.center().y() - 7, 14, 14));
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

bool RowDelegate::editorEvent(QEvent* event, QAbstractItemModel* model, const QStyleOptionViewItem& option,
                              const QModelIndex& index) {
    const int kind = index.data(JobSheetModel::KindRole).toInt();
    // On the press: choosing the row may make the sheet shorter, and the release then meets another one.
    if ((event->type() == QEvent::MouseButtonPress || event->type() == QEvent::MouseButtonDblClick) &&
        (kind == JobSheetModel::step_row || kind == JobSheetModel::treatment_row)) {
        const auto* mouse = static_cast<QMouseEvent*>(event);
        if (mouse->position().x() > option.rect.right() - switch_width)
            return model->setData(index, !index.data(JobSheetModel::OnRole).toBool(), JobSheetModel::OnRole);
    }
    return QStyledItemDelegate::editorEvent(event, model, option, index);
}

void RowDelegate::updateEditorGeometry(QWidget* editor, const QStyleOptionViewItem& option, const QModelIndex&) const {
    editor->setGeometry(option.rect.left() + 4 + number_width + mark_width, option.rect.top() + 3,
                        option.rect.width() - number_width - mark_width - switch_width - 8, row_height - 7);
}

}  // namespace anvil::app
