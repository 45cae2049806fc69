#include "app/panels/kind_list.h"

#include <QLocale>
#include <QPainter>
#include <QStyledItemDelegate>

#include "app/theme.h"
#include "core/inspect/inspect.h"

namespace anvil::app {
namespace {

constexpr int kind_height = 28;

class KindDelegate : public QStyledItemDelegate {
  public:
    using QStyledItemDelegate::QStyledItemDelegate;
    QSize sizeHint(const QStyleOptionViewItem&, const QModelIndex&) const override { return {180, kind_height}; }
    void paint(QPainter* painter, const QStyleOptionViewItem& option, const QModelIndex& index) const override {
        painter->save();
        const QRect r = option.rect;
        if (index.data(Qt::UserRole).toInt() == folded_line) {
            painter->setPen(colour().muted);
            painter->drawText(r.adjusted(76, 0, -4, 0), Qt::AlignVCenter | Qt::AlignLeft,
                              index.data(Qt::DisplayRole).toString());
            const bool open = index.data(Qt::UserRole + 1).toBool();
            const QPointF at(r.left() + 62, r.center().y() + 1);
            painter->setRenderHint(QPainter::Antialiasing);
            painter->setPen(QPen(colour().muted, 1.4));
            if (open)
                painter->drawPolyline(QPolygonF{at + QPointF(-4, -2), at + QPointF(0, 2), at + QPointF(4, -2)});
            else
                painter->drawPolyline(QPolygonF{at + QPointF(-2, -4), at + QPointF(2, 0), at + QPointF(-2, 4)});
            painter->restore();
            return;
        }
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
        const Severity grade = severity(static_cast<FindingKind>(index.data(Qt::UserRole).toInt()));
        const bool accepted = count > 0 && index.data(Qt::UserRole + 2).toInt() == count;
        painter->setPen(accepted                     ? colour().muted
                        : count <= 0                 ? colour().pine
                        : grade == Severity::fault   ? colour().brick
                        : grade == Severity::caution ? colour().ochre
                                                     : colour().muted);
        const QString number =
            count < 0 ? QString::fromUtf8("\xE2\x80\xA6")
                      : QLocale(QLocale::English).toString(count).replace(",", QString::fromUtf8("\xE2\x80\x89"));
        painter->drawText(QRect(r.left() + 10, r.top(), 56, r.height()), Qt::AlignVCenter | Qt::AlignRight, number);
        painter->setFont(option.font);
        painter->setPen(count > 0 && !accepted ? colour().ink : colour().muted);
        painter->drawText(r.adjusted(76, 0, -4, 0), Qt::AlignVCenter | Qt::AlignLeft,
                          index.data(Qt::DisplayRole).toString());
        painter->restore();
    }
};

}  // namespace

KindList::KindList() { setItemDelegate(new KindDelegate(this)); }

void KindList::resizeEvent(QResizeEvent* event) {
    const int rest = height() % kind_height;
    if (viewportMargins().bottom() != rest) setViewportMargins(0, 0, 0, rest);
    QListWidget::resizeEvent(event);
}

}  // namespace anvil::app
