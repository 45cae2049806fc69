#include "app/view/horizon_dial.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <cmath>
#include <numbers>

#include "app/theme.h"

namespace anvil::app {
namespace {
constexpr double rim = 50, inner = 22;
}

HorizonDial::HorizonDial(QWidget* parent) : QWidget(parent) {
    setFixedSize(140, 140);
    setMouseTracking(true);
    setFocusPolicy(Qt::TabFocus);
    setAccessibleName(tr("Horizon dial: rotates the view"));
    setToolTip(
        tr("Click a side to look at it; drag round the rim to rotate. Keys 1 to 6: front, right, back, left, top, "
           "underside."));
}

const std::array<HorizonDial::Side, 6>& HorizonDial::sides() {
    static const std::array<Side, 6> all = {{{tr("front"), 0, 0},
                                             {tr("right"), 90, 0},
                                             {tr("back"), 180, 0},
                                             {tr("left"), -90, 0},
                                             {tr("top"), 0, 90},
                                             {tr("bottom"), 0, -90}}};
    return all;
}

void HorizonDial::set_turn(double turn, double tilt) {
    turn_ = turn;
    tilt_ = tilt;
    update();
}

/// The walls stand round the rim as they stand round the part, seen from above, the viewer being below.
QPointF HorizonDial::place(int side) const {
    const QPointF centre = QRectF(rect()).center();
    if (side == 4) return centre - QPointF(0, 9);
    if (side == 5) return centre + QPointF(0, 9);
    const double angle = (sides()[static_cast<std::size_t>(side)].turn - turn_) * std::numbers::pi / 180;
    return centre + QPointF(std::sin(angle) * (rim + 3), std::cos(angle) * rim);
}

int HorizonDial::side_at(const QPointF& p) const {
    const QPointF d = p - QRectF(rect()).center();
    if (std::hypot(d.x(), d.y()) < inner) return d.y() < 0 ? 4 : 5;
    int best = -1;
    double nearest = 20;
    for (int k = 0; k < 4; ++k) {
        const QPointF e = p - place(k);
        if (const double n = std::hypot(e.x(), e.y()); n < nearest) nearest = n, best = k;
    }
    return best;
}

void HorizonDial::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const QPointF centre = QRectF(rect()).center();
    QColor ground = colour().panel;
    ground.setAlpha(225);
    painter.setPen(QPen(colour().rule, 1));
    painter.setBrush(ground);
    painter.drawEllipse(centre, rim + 18, rim + 18);
    painter.setPen(QPen(hasFocus() ? colour().petrol : colour().muted, 1));
    painter.setBrush(Qt::NoBrush);
    for (int k = 0; k < 72; ++k) {  // a ruled rim, turning with the view
        const double a = (k * 5 - turn_) * std::numbers::pi / 180, r0 = rim - 12, r1 = r0 + (k % 18 == 0 ? -5 : -2);
        painter.drawLine(centre + QPointF(std::sin(a) * r0, std::cos(a) * r0),
                         centre + QPointF(std::sin(a) * r1, std::cos(a) * r1));
    }
    painter.setPen(QPen(colour().rule, 1));
    painter.setBrush(colour().hover);
    painter.drawEllipse(centre, inner, inner);
    painter.drawLine(centre - QPointF(inner - 3, 0), centre + QPointF(inner - 3, 0));
    // The viewer's own mark, at the bottom.
    painter.setPen(Qt::NoPen);
    painter.setBrush(colour().petrol);
    const QPointF foot = centre + QPointF(0, rim - 14);
    painter.drawEllipse(foot, 2.5, 2.5);

    QFont font = this->font();
    font.setPixelSize(11);
    painter.setFont(font);
    for (int k = 0; k < 6; ++k) {
        const Side& side = sides()[static_cast<std::size_t>(k)];
        const bool faced = k < 4 ? std::fabs(std::remainder(side.turn - turn_, 360)) < 1 && std::fabs(tilt_) < 1
                                 : std::fabs(tilt_ - side.tilt) < 1;
        painter.setPen(k == hovered_ || faced ? colour().petrol : colour().ink);
        font.setBold(faced);
        font.setUnderline(k == hovered_);
        painter.setFont(font);
        painter.drawText(QRectF(place(k) - QPointF(26, 9), QSizeF(52, 18)), Qt::AlignCenter, side.name);
    }
}

void HorizonDial::mousePressEvent(QMouseEvent* event) {
    press_ = last_ = event->position();
    dragged_ = false;
    event->accept();
}
void HorizonDial::mouseMoveEvent(QMouseEvent* event) {
    hovered_ = side_at(event->position());
    if (event->buttons() & Qt::LeftButton) {
        if ((event->position() - press_).manhattanLength() > 3) dragged_ = true;
        if (dragged_) {
            const QPointF c = QRectF(rect()).center(), a = last_ - c, b = event->position() - c;
            const double turned =
                std::atan2(a.x() * b.y() - a.y() * b.x(), QPointF::dotProduct(a, b)) * 180 / std::numbers::pi;
            Q_EMIT view_chosen(turn_ + turned, tilt_);
        }
        last_ = event->position();
    }
    update();
    event->accept();
}
void HorizonDial::mouseReleaseEvent(QMouseEvent* event) {
    const int side = side_at(event->position());
    if (!dragged_ && side >= 0) {
        const Side& s = sides()[static_cast<std::size_t>(side)];
        Q_EMIT view_chosen(side < 4 ? s.turn : 0, s.tilt);
    }
    event->accept();
}
void HorizonDial::leaveEvent(QEvent*) {
    hovered_ = -1;
    update();
}
void HorizonDial::keyPressEvent(QKeyEvent* event) {
    const int side = event->key() - Qt::Key_1;
    if (side < 0 || side > 5) return QWidget::keyPressEvent(event);
    const Side& s = sides()[static_cast<std::size_t>(side)];
    Q_EMIT view_chosen(s.turn, s.tilt);
}

}  // namespace anvil::app
