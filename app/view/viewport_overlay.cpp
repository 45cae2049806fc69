// What is painted over the picture: handles, pins, what is chosen by hand, the line of a comparison, the legend.
#include <QPainter>

#include "app/theme.h"
#include "app/view/viewport.h"

namespace anvil::app {
void Viewport::draw_overlay(QPainter& painter) const {
    if (controller_.job().parts.empty()) return;
    if (section_) draw_section(painter);
    draw_cut_handles(painter);
    if (!is_alone()) {
        draw_handles(painter);
        // What a cut tells of, such as where a notch comes out twisted.
        if (const Row* row = cut_row())
            if (const RowOutcome* done = controller_.done(row->step->id); done && done->cut && !done->error)
                draw_points(painter, done->cut->places, row->stands);
    }
    if (hand_.is_on()) {
        draw_points(painter, hand_.chosen_points(), hand_.stands());
        draw_outline(painter);
    } else if (const Field* field = field_used_on(); field && field->of == ElementKind::points) {
        draw_points(painter, used_on(true).mesh.points.raw(), controller_.row(alone_)->stands);
    } else if (const Row* row = controller_.row(alone_); row && row->step) {
        if (const RowOutcome* done = controller_.done(row->step->id); done && done->treated)
            draw_points(painter, done->treated->places, row->stands);
    }
    if (asking_) draw_drawn(painter);
    if (drag_ == Drag::line) draw_line(painter);
    draw_typed(painter);
    draw_measurements(painter);
    draw_pins(painter);
    if (is_divided()) draw_divider(painter);
    if (!alone_.empty() && !hand_.is_on() && compare_ == Compare::distance) draw_legend(painter);
}

void Viewport::draw_points(QPainter& painter, const std::vector<Vec3>& points, const Transform& stands) const {
    painter.setPen(QPen(colour().panel, 1));
    painter.setBrush(colour().fuchsia);
    for (const Vec3& p : points) {
        const auto [at, visible] = camera_.pixel(apply(stands, p), size());
        if (visible && rect().contains(at.toPoint())) painter.drawEllipse(at, 4, 4);
    }
    painter.setBrush(Qt::NoBrush);
}

/// What is being dragged over the view, on to its edges.
void Viewport::draw_line(QPainter& painter) const {
    const QPointF d = last_ - press_;
    const double length = std::hypot(d.x(), d.y());
    if (asking_ && asking_->stroke) {
        painter.setPen(QPen(colour().fuchsia, 2));
        painter.drawPolyline(outline_);
        return;
    }
    const QPolygonF shown = asking_ && asking_->shows ? asking_->shows(press_, last_, numbers_).line : QPolygonF();
    if (shown.size() > 2) {
        painter.setPen(QPen(colour().fuchsia, 2));
        painter.setBrush(Qt::NoBrush);
        painter.drawPolygon(shown);
        return;
    }
    if (length < 1) return;
    const QLineF line = shown.size() == 2 ? QLineF(shown[0], shown[1]) : QLineF(press_, last_);
    const QPointF beyond = (line.p2() - line.p1()) * ((width() + height()) / length);
    painter.setPen(QPen(colour().fuchsia, 1, Qt::DashLine));
    painter.drawLine(line.p1() - beyond, line.p2() + beyond);
    painter.setPen(QPen(colour().panel, 5, Qt::SolidLine, Qt::RoundCap));
    painter.drawLine(line);
    painter.setPen(QPen(colour().fuchsia, 2.4, Qt::SolidLine, Qt::RoundCap));
    painter.drawLine(line);
}

/// What was drawn so far.
void Viewport::draw_drawn(QPainter& painter) const {
    QPolygonF line;
    for (const Vec3& p : asking_->drawn) line << pixel_of(p);
    painter.setBrush(Qt::NoBrush);
    for (const QPen& pen : {QPen(colour().panel, 5), QPen(colour().fuchsia, 2.2)}) {
        painter.setPen(pen);
        painter.drawPolyline(line);
    }
    painter.setPen(QPen(colour().panel, 1));
    painter.setBrush(colour().fuchsia);
    for (const QPointF& p : line) painter.drawEllipse(p, 3.5, 3.5);
    painter.setBrush(Qt::NoBrush);
    if (line.isEmpty() || !asking_->shows || drag_ != Drag::none) return;
    painter.setPen(QPen(colour().fuchsia, 1.6, Qt::DashLine));
    painter.drawPolyline(asking_->shows(press_, last_, numbers_).line);
}

void Viewport::draw_outline(QPainter& painter) const {
    if (drag_ != Drag::outline || outline_.isEmpty()) return;
    painter.setPen(QPen(colour().fuchsia, 1.5, Qt::DashLine));
    QColor wash = colour().fuchsia;
    wash.setAlpha(24);
    painter.setBrush(wash);
    painter.drawPolygon(outline_);
    painter.setBrush(Qt::NoBrush);
}

/// A ruled line with a tag on each side: what is on the left was there before.
void Viewport::draw_divider(QPainter& painter) const {
    const double x = width() * divider_, y = height() - 34;
    painter.setPen(QPen(colour().panel, 5));
    painter.drawLine(QPointF(x, 0), QPointF(x, height()));
    painter.setPen(QPen(colour().petrol, 2));
    painter.drawLine(QPointF(x, 0), QPointF(x, height()));
    const std::pair<QString, int> tags[] = {{tr("before"), -1}, {tr("after"), 1}};
    for (const auto& [text, side] : tags) {
        const double w = painter.fontMetrics().horizontalAdvance(text) + 20;
        const QRectF tag(side < 0 ? x - w : x, y, w, 24);
        painter.setPen(Qt::NoPen);
        painter.setBrush(side < 0 ? colour().muted : colour().petrol);
        painter.drawRect(tag);
        painter.setPen(colour().on_accent);
        painter.drawText(tag, Qt::AlignCenter, text);
    }
    painter.setBrush(Qt::NoBrush);
}

/// The colours of the distances, from none to the largest.
void Viewport::draw_legend(QPainter& painter) const {
    const RowOutcome* done = controller_.done(alone_.step());
    if (!done || !done->treated) return;
    const auto distances = const_cast<Looks&>(looks_).distances(done->treated->mesh, done->from);
    const QRectF plate(14, height() - 76, 300, 62), bar(plate.left() + 12, plate.top() + 26, plate.width() - 24, 10);
    painter.setPen(QPen(colour().rule, 1));
    painter.setBrush(colour().panel);
    painter.drawRect(plate);
    painter.setPen(colour().ink);
    painter.drawText(plate.adjusted(12, 4, -8, 0), Qt::AlignTop | Qt::AlignLeft,
                     distances.display ? tr("Distance to the surface before") : tr("Distances are being measured …"));
    if (!distances.display) return;
    for (int k = 0; k < static_cast<int>(bar.width()); ++k)
        painter.fillRect(QRectF(bar.left() + k, bar.top(), 1, bar.height()),
                         Looks::distance_colour(k / (bar.width() - 1)));
    for (const double share : {0.0, 0.5, 1.0})
        painter.drawText(QRectF(bar.left(), bar.bottom() + 2, bar.width(), 20),
                         share == 0     ? Qt::AlignLeft
                         : share == 0.5 ? Qt::AlignHCenter
                                        : Qt::AlignRight,
                         share == 0 ? QString("0") : QString::number(distances.largest * share, 'g', 3) + " mm");
    painter.setBrush(Qt::NoBrush);
}

void Viewport::draw_pins(QPainter& painter) const {
    for (const Pin& pin : pins_) {
        const auto [at, visible] = camera_.pixel(pin.place, size());
        if (!visible || !rect().contains(at.toPoint())) continue;
        const QPointF head = at - QPointF(0, 24);
        const QColor fill = pin.chosen ? colour().fuchsia : pin.mended ? colour().pine : colour().brick;
        painter.setPen(QPen(colour().paper, 4, Qt::SolidLine, Qt::RoundCap));
        painter.drawLine(at, head);
        painter.setPen(QPen(fill, 2, Qt::SolidLine, Qt::RoundCap));
        painter.drawLine(at, head);
        painter.setBrush(fill);
        painter.setPen(QPen(colour().paper, 1.5));
        const QString text = QString::number(pin.number);
        const double w = std::max(20.0, painter.fontMetrics().horizontalAdvance(text) + 10.0);
        const QRectF plate(head.x() - w / 2, head.y() - 10, w, 20);
        painter.drawRoundedRect(plate, 3, 3);
        painter.setPen(colour().on_accent);
        painter.drawText(plate.adjusted(0, -1, 0, 0), Qt::AlignCenter, text);
    }
    painter.setBrush(Qt::NoBrush);
}

}  // namespace anvil::app
