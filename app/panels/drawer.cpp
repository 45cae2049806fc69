#include "app/panels/drawer.h"

#include <QAction>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QPainter>
#include <QToolButton>
#include <QVBoxLayout>

#include "app/panels/route.h"
#include "app/theme.h"

namespace anvil::app {
namespace {

constexpr QSize drawing_size{60, 32};
constexpr int tile_margin = 8;

/// In lines of the text, so that tiles grow with it.
int tile_width(const QFontMetrics& text) {
    return drawing_size.width() + 3 * tile_margin + text.averageCharWidth() * 15;
}

}  // namespace

Tile::Tile(QAction* tool, QWidget* parent) : QAbstractButton(parent), tool_(tool) {
    setFocusPolicy(Qt::StrongFocus);
    setAttribute(Qt::WA_Hover);
    take_state();
    connect(tool_, &QAction::changed, this, &Tile::take_state);
}

void Tile::take_state() {
    setEnabled(tool_->isEnabled());
    setAccessibleName(tool_->text());
    setAccessibleDescription(tool_->statusTip());
    setToolTip(tool_->toolTip());
    update();
}

QSize Tile::sizeHint() const {
    return {tile_width(fontMetrics()),
            std::max(drawing_size.height(), fontMetrics().lineSpacing() * 3) + 2 * tile_margin - 4};
}

void Tile::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const Palette& c = colour();
    const QRectF frame = QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5);
    const bool on = tool_->isCheckable() && tool_->isChecked();
    painter.setPen(QPen(hasFocus() || on ? c.petrol : c.rule, hasFocus() ? 1.6 : 1));
    painter.setBrush(isDown() || on ? c.wash : underMouse() && isEnabled() ? c.hover : c.panel);
    painter.drawRoundedRect(frame, 3, 3);
    QRect drawing(QPoint(tile_margin, 0), drawing_size);
    drawing.moveTop((height() - drawing.height()) / 2);
    app::drawing(tool_->property("drawing").toString())
        .paint(&painter, drawing, Qt::AlignCenter, isEnabled() ? QIcon::Normal : QIcon::Disabled);
    const int left = drawing.right() + 1 + tile_margin, line = fontMetrics().lineSpacing();
    QRect text(left, 0, width() - left - tile_margin / 2, 3 * line);
    text.moveTop((height() - text.height()) / 2);
    QFont bold = font();
    bold.setBold(true);
    painter.setFont(bold);
    painter.setPen(isEnabled() ? c.ink : c.faded);
    const QString key = tool_->property("key").toString();
    const int key_width = key.isEmpty() ? 0 : fontMetrics().horizontalAdvance(key) + 6;
    painter.drawText(QRect(text.left(), text.top(), text.width() - key_width, line), Qt::AlignVCenter | Qt::AlignLeft,
                     painter.fontMetrics().elidedText(tool_->text(), Qt::ElideRight, text.width() - key_width));
    QFont small = font();
    small.setPixelSize(std::max(12, QFontInfo(font()).pixelSize() - 1));
    painter.setFont(small);
    painter.setPen(isEnabled() ? c.muted : c.faded);
    painter.drawText(QRect(text.left(), text.top(), text.width(), line), Qt::AlignVCenter | Qt::AlignRight, key);
    painter.drawText(QRect(text.left(), text.top() + line, text.width(), 2 * line), Qt::AlignLeft | Qt::TextWordWrap,
                     tool_->statusTip());
}

Drawer::Drawer(QWidget* parent) : QWidget(parent) {
    setObjectName("drawer");
    setAttribute(Qt::WA_StyledBackground);
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(10, 6, 8, 8);
    row->setSpacing(8);
    auto* column = new QVBoxLayout;
    column->setSpacing(4);
    note_ = new QLabel;
    note_->setObjectName("remark");
    note_->setWordWrap(true);
    column->addWidget(note_);
    field_ = new QWidget;
    grid_ = new QGridLayout(field_);
    grid_->setContentsMargins(0, 0, 0, 0);
    grid_->setSpacing(6);
    column->addWidget(field_);
    column->addStretch(1);
    row->addLayout(column, 1);
    pin_ = new QToolButton;
    pin_->setProperty("choice", true);
    pin_->setCheckable(true);
    pin_->setIcon(icon("pin"));
    pin_->setAccessibleName(tr("Keep the drawer open"));
    pin_->setToolTip(tr("Keep the drawer open"));
    row->addWidget(pin_, 0, Qt::AlignTop);
    connect(pin_, &QToolButton::toggled, this, &Drawer::pinned);
    hide();
}

bool Drawer::is_pinned() const { return pin_->isChecked(); }
void Drawer::set_pinned(bool on) { pin_->setChecked(on); }

void Drawer::show_station(const Station& station) {
    for (Tile* tile : tiles_) delete tile;
    tiles_.clear();
    for (QAction* tool : station.tools) {
        auto* tile = new Tile(tool, field_);
        connect(tile, &Tile::clicked, this, [this, tool] {
            Q_EMIT used();
            tool->trigger();
        });
        tiles_.push_back(tile);
    }
    const QString note = station.note ? station.note() : QString();
    note_->setText(note);
    note_->setVisible(!note.isEmpty());
    setAccessibleName(tr("Tools: %1").arg(station.name));
    lay_out();
}

int Drawer::columns_for(int width) const {
    const int room = width - 18 - pin_->sizeHint().width() - 8;
    return std::max(1, (room + grid_->spacing()) / (tile_width(fontMetrics()) + grid_->spacing()));
}

int Drawer::height_for(int width) const {
    if (tiles_.empty()) return 0;
    const int rows = (static_cast<int>(tiles_.size()) + columns_for(width) - 1) / columns_for(width);
    const int note = note_->isHidden() ? 0 : note_->heightForWidth(width - 60) + 4;
    return 14 + note + rows * (tiles_.front()->sizeHint().height() + grid_->spacing()) - grid_->spacing();
}

void Drawer::lay_out() {
    const int columns = columns_for(width());
    for (Tile* tile : tiles_) grid_->removeWidget(tile);
    for (int k = 0; k < grid_->columnCount(); ++k) grid_->setColumnStretch(k, 0);
    for (std::size_t k = 0; k < tiles_.size(); ++k) {
        tiles_[k]->setFixedHeight(tiles_[k]->sizeHint().height());
        tiles_[k]->setMinimumWidth(tiles_[k]->sizeHint().width());
        tiles_[k]->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
        grid_->addWidget(tiles_[k], static_cast<int>(k) / columns, static_cast<int>(k) % columns);
        tiles_[k]->show();
    }
    for (int k = 0; k < columns; ++k) grid_->setColumnStretch(k, 1);
    setFixedHeight(height_for(width()));
}

void Drawer::resizeEvent(QResizeEvent* event) {
    QWidget::resizeEvent(event);
    if (event->oldSize().width() != width()) lay_out();
}

/// The arrows go from tile to tile.
void Drawer::keyPressEvent(QKeyEvent* event) {
    const auto at = std::ranges::find_if(tiles_, [](Tile* tile) { return tile->hasFocus(); });
    const int columns = columns_for(width());
    const int by = event->key() == Qt::Key_Right  ? 1
                   : event->key() == Qt::Key_Left ? -1
                   : event->key() == Qt::Key_Down ? columns
                   : event->key() == Qt::Key_Up   ? -columns
                                                  : 0;
    if (by == 0 || at == tiles_.end()) return QWidget::keyPressEvent(event);
    const auto to = (at - tiles_.begin()) + by;
    if (to >= 0 && to < static_cast<long>(tiles_.size()))
        tiles_[static_cast<std::size_t>(to)]->setFocus(Qt::TabFocusReason);
}

}  // namespace anvil::app
