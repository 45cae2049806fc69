// Handles in the view: to move the selected part along an axis, to rotate it about one, and for the measures of a
// shape.
#include <QPainter>
#include <cmath>

#include "app/theme.h"
#include "app/view/steps_shown.h"
#include "app/view/viewport.h"
#include "core/job/place_edits.h"
#include "core/job/quantity.h"

namespace anvil::app {
namespace {

constexpr Vec3 axes[] = {{1, 0, 0}, {0, 1, 0}, {0, 0, 1}};
constexpr double bar_pixels = 74, arc_pixels = 56;
constexpr int arc_points = 12;

QColor axis_colour(int axis) { return axis == 0 ? colour().axis_x : axis == 1 ? colour().axis_y : colour().axis_z; }

double distance_to_segment(const QPointF& p, const QPointF& a, const QPointF& b) {
    const QPointF ab = b - a;
    const double length2 = QPointF::dotProduct(ab, ab);
    const double t = length2 > 0 ? std::clamp(QPointF::dotProduct(p - a, ab) / length2, 0.0, 1.0) : 0.0;
    const QPointF d = p - (a + ab * t);
    return std::hypot(d.x(), d.y());
}

}  // namespace

Vec3 Viewport::chosen_middle() const {
    const Row* row = movable();
    if (!row) return {};
    const auto [ready, stands] = controller_.body_of(*row);
    return apply(stands, ready ? ready->display->bounds.center() : Vec3{});
}

bool Viewport::has_pivot() const { return pivots_.contains(chosen_.part); }

Vec3 Viewport::pivot() const {
    const Row* row = movable();
    const auto at = pivots_.find(chosen_.part);
    return row && at != pivots_.end() ? apply(Transform(row->frame * row->placement().transform()), at->second)
                                      : chosen_middle();
}

void Viewport::set_pivot(const std::optional<Vec3>& place) {
    const Row* row = movable();
    if (!row) return;
    if (place)
        pivots_[chosen_.part] = apply(Transform((row->frame * row->placement().transform()).inverse()), *place);
    else
        pivots_.erase(chosen_.part);
    update();
}

std::vector<Viewport::Handle> Viewport::handles() const {
    std::vector<Handle> out;
    if (const auto section = handle_of_section()) out.push_back(*section);
    if (row_with_handles() && controller_.outcome()) add_cut_handles(out);
    const Row* row = movable();
    if (is_alone() || !row || !controller_.outcome()) return out;
    const Vec3 middle = pivot();
    const double mm = camera_.mm_per_pixel(middle, size());
    auto pixel = [&](const Vec3& p) { return camera_.pixel(p, size()).at; };
    for (int k = 0; k < 3; ++k) {
        Handle& bar = out.emplace_back();
        bar.does = Handle::Does::move;
        bar.axis = k;
        bar.line = {pixel(middle + axes[k] * (mm * 14)), pixel(middle + axes[k] * (mm * bar_pixels))};
        bar.at = middle;
        bar.along = axes[k];
    }
    for (int k = 0; k < 3; ++k) {
        // Seen edge on it could not be dragged with any sense.
        if (std::fabs(dot(axes[k], camera_.direction())) <= 0.12) continue;
        Handle& arc = out.emplace_back();
        arc.does = Handle::Does::rotate;
        arc.axis = k;
        arc.at = middle;
        arc.along = axes[k];
        const Vec3 u = axes[(k + 1) % 3], v = axes[(k + 2) % 3];
        for (int i = 0; i <= arc_points; ++i) {
            const double a = (0.18 + 0.64 * i / arc_points) * 1.5707963267948966;
            arc.line << pixel(middle + (u * std::cos(a) + v * std::sin(a)) * (mm * arc_pixels));
        }
    }
    const Part* part = controller_.job().find_part(chosen_.part);
    const auto* shape = part ? std::get_if<Shape>(&part->source) : nullptr;
    const Kind* kind = shape ? find_shape(shape->kind) : nullptr;
    const Transform stands = row->frame * row->placement().transform();
    if (!shape) {
        const Box box = box_in_list();
        // Off the body, which is dragged by its corners, and on the sides that the bars do not point to.
        constexpr double off = 26;
        const Vec3 low = box.low, c = box.center();
        const Vec3 places[] = {{low.x, c.y, c.z}, {c.x, low.y, c.z}, {c.x, c.y, low.z}, low};
        for (int k = 0; k < 4 && !box.empty(); ++k) {
            if (k < 3 && !(box.size()[k] > 0)) continue;
            const Vec3 from = apply(stands, k < 3 ? c : box.high), at = apply(stands, places[k]);
            // Seen end on it could not be dragged, and would lie before the body.
            if (std::fabs(dot(normalized(at - from), camera_.direction())) > 0.92) continue;
            Handle& handle = out.emplace_back();
            handle.does = Handle::Does::scale;
            handle.axis = k;
            handle.at = at;
            handle.along = normalized(at - from);
            handle.line = {pixel(at + handle.along * (mm * off))};
        }
    }
    if (!kind || !kind->handles) return out;
    for (MeasureHandle& measure : kind->handles(shape->values)) {
        const Vec3 at = apply(stands, measure.at);
        const Vec3 along = normalized(apply(stands, measure.at + measure.along) - at);
        Handle& handle = out.emplace_back();
        handle.does = Handle::Does::measure;
        handle.measure = std::move(measure);
        handle.line = {pixel(at)};
        handle.at = at;
        handle.along = along;
    }
    return out;
}

std::optional<QPointF> Viewport::measure_handle(const std::string& field) const {
    for (const Handle& handle : handles())
        if (handle.does == Handle::Does::measure && handle.measure.field == field) return handle.line[0];
    return std::nullopt;
}
std::optional<QPointF> Viewport::scale_handle(int axis) const {
    for (const Handle& handle : handles())
        if (handle.does == Handle::Does::scale && handle.axis == axis) return handle.line[0];
    return std::nullopt;
}
std::optional<QPointF> Viewport::rotate_handle(int axis) const {
    for (const Handle& handle : handles())
        if (handle.does == Handle::Does::rotate && handle.axis == axis) return handle.line[handle.line.size() / 2];
    return std::nullopt;
}

std::optional<Viewport::Handle> Viewport::handle_under(const QPointF& at) const {
    const std::vector<Handle> all = handles();
    const Handle* best = nullptr;
    double nearest = 9;
    for (std::size_t k = 0; k < all.size(); ++k) {
        double distance = HUGE_VAL;
        const QPolygonF& line = all[k].line;
        if (all[k].does == Handle::Does::move || all[k].does == Handle::Does::section ||
            (all[k].does == Handle::Does::cut && line.size() == 2)) {
            const QPointF d = line[1] - line[0];
            const double length = std::hypot(d.x(), d.y());
            if (length >= 8) distance = distance_to_segment(at, line[0], line[1] + d * (18 / length));
        } else if (line.size() == 1) {
            // Before everything else that is there.
            distance = std::hypot(at.x() - line[0].x(), at.y() - line[0].y()) - 4;
        } else {
            for (int i = 0; i + 1 < line.size(); ++i)
                distance = std::min(distance, distance_to_segment(at, line[i], line[i + 1]) + 2);
        }
        if (distance < nearest) {
            nearest = distance;
            best = &all[k];
        }
    }
    return best ? std::optional(*best) : std::nullopt;
}

void Viewport::begin_handle(const Handle& handle) {
    const Row* row = movable();
    held_ = handle;
    drag_ = Drag::handle;
    grabbed_ = handle.at;
    if (handle.does == Handle::Does::section) return;
    if (handle.does == Handle::Does::cut) {
        start_values_ = row_with_handles()->step->values;
        start_stands_ = row_with_handles()->stands;
        controller_.set_dragging(true);
        return;
    }
    start_ = *row;
    start_->at = row->placement();
    start_measure_ = 0;
    start_job_ = controller_.job();
    start_box_ = box_in_list();
    if (handle.does == Handle::Does::measure) {
        const auto& shape = std::get<Shape>(controller_.job().find_part(chosen_.part)->source);
        start_measure_ = value_of<double>(*find_shape(shape.kind), shape.values, handle.measure.field);
    }
    controller_.set_dragging(true);
}

/// How far the pointer has gone along a direction, as that runs on the screen; in mm.
double Viewport::travel_along(const Vec3& along, const QPointF& at) const {
    const double mm = camera_.mm_per_pixel(grabbed_, size());
    const QPointF d = pixel_of(grabbed_ + along * mm * 50) - pixel_of(grabbed_);
    const double length2 = QPointF::dotProduct(d, d);
    return length2 < 1 ? 0 : QPointF::dotProduct(at - press_, d) / length2 * mm * 50;
}

/// How far the pointer has gone in the plane with that normal through what was grabbed; in mm.
Vec3 Viewport::gone_in_plane(const Vec3& n, const QPointF& at) const {
    return camera_.on_plane(at, size(), n, grabbed_) - camera_.on_plane(press_, size(), n, grabbed_);
}

/// Degrees that the pointer has gone round an axis through what was grabbed.
double Viewport::turn_about(const Vec3& n, const QPointF& at) const {
    const int k = longest_axis(n);
    const Vec3 u = normalized(cross(axes[(k + 1) % 3], n)), v = cross(n, u);
    auto angle = [&](const QPointF& p) {
        const Vec3 place = camera_.on_plane(p, size(), n, grabbed_) - grabbed_;
        return std::atan2(dot(place, v), dot(place, u)) * 57.29577951308232;
    };
    const double turned = angle(at) - angle(press_);
    return turned - 360 * std::round(turned / 360);
}

/// In the coordinates of its own list; empty where it has no body.
Box Viewport::box_in_list() const {
    const auto outcome = controller_.outcome();
    if (!outcome) return {};
    const auto at = outcome->parts.find(chosen_.part);
    return at == outcome->parts.end() ? Box() : at->second.display->bounds;
}

/// By how many times the side that was taken has gone away from the pivot, or come nearer, so that the size is a round
/// number.
void Viewport::drag_scale(const QPointF& at) {
    const Row* row = movable();
    if (!row || start_box_.empty()) return;
    const Transform stands = start_->frame * start_->placement().transform();
    const Vec3 about = has_pivot() ? pivots_.at(chosen_.part) : start_box_.center();
    const double lever = dot(held_.at - apply(stands, about), held_.along);
    const auto typed = numbers_.empty() ? std::nullopt : scale_to_size(start_box_, held_.axis, numbers_.front());
    if (!numbers_.empty() && !typed) {
        typed_trouble_ = tr("A size is more than 0 mm.");
        Q_EMIT hint(typed_trouble_);
        return;
    }
    const Vec3 factors = typed ? *typed
                               : dragged_scale(start_box_, held_.axis, lever, travel_along(held_.along, at),
                                               step_shown(camera_.mm_per_pixel(grabbed_, size())));
    Job job = start_job_;
    const QString name = QString::fromStdString(job.find_part(chosen_.part)->name);
    scale_part(job, chosen_.part, factors, about);
    const Vec3 now{start_box_.size().x * factors.x, start_box_.size().y * factors.y, start_box_.size().z * factors.z};
    auto text = [](double v) {
        return QString::fromStdString(format_quantity(std::round(v * 100) / 100, Unit::millimetre));
    };
    Q_EMIT hint(tr("%1: %2 x %3 x %4").arg(name, text(now.x), text(now.y), text(now.z)));
    controller_.change(std::move(job), tr("scale %1").arg(name), "drag");
}

void Viewport::drag_handle(const QPointF& at, bool snaps) {
    if (held_.does == Handle::Does::cut) {
        drag_cut(at);
        return;
    }
    if (held_.does == Handle::Does::move) {
        const double freely = number_or(travel_along(held_.along, at));
        const double way = snaps ? snapped_travel(freely) : freely;
        move_chosen(held_.along * way, !numbers_.empty() || (snaps && !snapped_to_.isEmpty()));
        if (snaps && !snapped_to_.isEmpty()) Q_EMIT hint(tr("Snapped: %1").arg(snapped_to_));
        return;
    }
    if (held_.does == Handle::Does::scale) {
        drag_scale(at);
        return;
    }
    if (held_.does == Handle::Does::section) {
        section_->origin = grabbed_ + held_.along * number_or(rounded_mm(travel_along(held_.along, at),
                                                                         camera_.mm_per_pixel(grabbed_, size())));
        Q_EMIT hint(
            tr("Section at %1")
                .arg(QString::fromStdString(format_quantity(dot(section_->origin, held_.along), Unit::millimetre))));
        refresh();
        return;
    }
    Job job = controller_.job();
    const QString name = QString::fromStdString(job.find_part(chosen_.part)->name);
    if (held_.does == Handle::Does::rotate) {
        const double degrees = number_or(std::round(turn_about(axes[held_.axis], at)));
        move_row(job, *start_, turned_about(grabbed_, held_.axis, degrees));
        Q_EMIT hint(tr("%1 rotated by %2° about %3").arg(name).arg(degrees).arg(QString("xyz").mid(held_.axis, 1)));
        controller_.change(std::move(job), tr("rotate %1").arg(name), "drag");
        return;
    }
    const auto& shape = std::get<Shape>(job.find_part(chosen_.part)->source);
    const Field& field = *find_shape(shape.kind)->find_field(held_.measure.field);
    const double grown = start_measure_ + held_.measure.per * travel_along(held_.along, at);
    const double value =
        number_or(std::clamp(rounded_mm(grown, camera_.mm_per_pixel(grabbed_, size())), field.least, field.most));
    if (value < field.least || value > field.most) {
        typed_trouble_ =
            tr("%1: from %2 to %3").arg(QString::fromStdString(field.label)).arg(field.least).arg(field.most);
        Q_EMIT hint(typed_trouble_);
        return;
    }
    edit_part(job, chosen_.part, [&](Part& part) { std::get<Shape>(part.source).values[field.name] = value; });
    const QString label = QString::fromStdString(field.label);
    Q_EMIT hint(tr("%1: %2 %3").arg(name, label, QString::fromStdString(format_quantity(value, Unit::millimetre))));
    controller_.change(std::move(job), tr("%1: %2").arg(name, label), "drag");
}

QString Viewport::hint_of(const Handle& handle) const {
    switch (handle.does) {
        case Handle::Does::move:
            return tr("Drag to move along %1. Ctrl: snap onto faces of other parts.")
                .arg(QString("xyz").mid(handle.axis, 1));
        case Handle::Does::scale:
            return handle.axis == 3 ? tr("Drag to scale in proportion, about the ring.")
                                    : tr("Drag to scale along the part's %1, about the ring.")
                                          .arg(QString("xyz").mid(handle.axis, 1));
        case Handle::Does::rotate:
            return tr("Drag to rotate about %1, by whole degrees.").arg(QString("xyz").mid(handle.axis, 1));
        case Handle::Does::cut: return hint_of_cut(handle);
        case Handle::Does::section:
            return tr("Drag to move the section. E takes it away; its menu turns and flips it.");
        case Handle::Does::measure: {
            const auto& shape = std::get<Shape>(controller_.job().find_part(chosen_.part)->source);
            const Kind& kind = *find_shape(shape.kind);
            const double value = value_of<double>(kind, shape.values, handle.measure.field);
            return tr("Drag to change the %1: %2.")
                .arg(QString::fromStdString(kind.find_field(handle.measure.field)->label),
                     QString::fromStdString(format_quantity(value, Unit::millimetre)));
        }
    }
    return {};
}

std::optional<Viewport::Handle> Viewport::handle_of_section() const {
    if (!section_) return std::nullopt;
    const Vec3 n = section_->normal, middle = scene().bounds.center();
    const Vec3 at = middle - n * dot(middle - section_->origin, n);
    const double mm = camera_.mm_per_pixel(at, size());
    Handle out;
    out.does = Handle::Does::section;
    out.at = at;
    out.along = n;
    auto pixel = [&](const Vec3& p) { return camera_.pixel(p, size()).at; };
    out.line = {pixel(at), pixel(at + n * (mm * bar_pixels))};
    return out;
}

std::optional<QPointF> Viewport::section_handle() const {
    const auto handle = handle_of_section();
    return handle ? std::optional(handle->line[1]) : std::nullopt;
}

/// The frame of the plane, and a bar across it with a hatched tag.
void Viewport::draw_section(QPainter& painter) const {
    const auto handle = handle_of_section();
    const Box box = scene().bounds;
    if (!handle || box.empty()) return;
    const Vec3 n = section_->normal, u = normalized(cross(n, std::fabs(n.z) < 0.9 ? Vec3{0, 0, 1} : Vec3{1, 0, 0}));
    const double half = 0.42 * box.diagonal();
    QPolygonF frame;
    for (const auto& [a, b] : {std::pair{-1, -1}, {1, -1}, {1, 1}, {-1, 1}})
        frame << pixel_of(handle->at + u * (half * a) + cross(n, u) * (half * b));
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(colour().petrol, 1, Qt::DashDotLine));
    painter.drawPolygon(frame);
    const QPolygonF& line = handle->line;
    const double length = std::hypot(line[1].x() - line[0].x(), line[1].y() - line[0].y());
    if (length < 8) return;  // seen end on
    painter.setPen(QPen(colour().paper, 5, Qt::SolidLine, Qt::RoundCap));
    painter.drawLine(line[0], line[1]);
    painter.setPen(QPen(colour().ink, 2.4, Qt::SolidLine, Qt::RoundCap));
    painter.drawLine(line[0], line[1]);
    const QRectF tag(line[1].x() - 9, line[1].y() - 9, 18, 18);
    painter.setPen(QPen(colour().ink, 1.4));
    painter.setBrush(colour().panel);
    painter.drawRect(tag);
    for (const double at : {-9.0, 0.0, 9.0}) {
        const double from = std::max(0.0, at), to = std::min(18.0, 18 + at);
        painter.drawLine(QPointF(tag.left() + from, tag.bottom() - (from - at)),
                         QPointF(tag.left() + to, tag.bottom() - (to - at)));
    }
    painter.setBrush(Qt::NoBrush);
}

void Viewport::draw_handles(QPainter& painter) const {
    const std::vector<Handle> all = handles();
    if (!movable() || !controller_.outcome()) return;
    for (const Handle& handle : all) {
        const QPolygonF& line = handle.line;
        if (handle.does == Handle::Does::section || handle.does == Handle::Does::cut) continue;  // drawn by themselves
        if (handle.does == Handle::Does::rotate) {
            painter.setBrush(Qt::NoBrush);
            painter.setPen(QPen(colour().paper, 4, Qt::SolidLine, Qt::RoundCap));
            painter.drawPolyline(line);
            painter.setPen(QPen(axis_colour(handle.axis), 1.8, Qt::SolidLine, Qt::RoundCap));
            painter.drawPolyline(line);
            painter.setPen(QPen(colour().panel, 1.2));
            painter.setBrush(axis_colour(handle.axis));
            painter.drawEllipse(line[line.size() / 2], 5, 5);
        } else if (handle.does == Handle::Does::move) {
            const double length = std::hypot(line[1].x() - line[0].x(), line[1].y() - line[0].y());
            if (length < 8) continue;  // seen end on
            const QPointF along = (line[1] - line[0]) / length;
            painter.setPen(QPen(colour().paper, 5, Qt::SolidLine, Qt::RoundCap));
            painter.drawLine(line[0], line[1]);
            painter.setPen(QPen(axis_colour(handle.axis), 2.4, Qt::SolidLine, Qt::RoundCap));
            painter.drawLine(line[0], line[1]);
            // A flat tag at the end, with the axis' letter: no arrow.
            painter.setPen(QPen(colour().panel, 1.2));
            painter.setBrush(axis_colour(handle.axis));
            const QPointF tag = line[1] + along * 9;
            painter.drawRoundedRect(QRectF(tag.x() - 9, tag.y() - 9, 18, 18), 4, 4);
            painter.setPen(colour().on_accent);
            painter.drawText(QRectF(tag.x() - 9, tag.y() - 9, 18, 17), Qt::AlignCenter,
                             QString("XYZ").mid(handle.axis, 1));
        } else if (handle.does == Handle::Does::scale) {
            // A square; all together: a larger one.
            const double half = handle.axis == 3 ? 6 : 4.5;
            painter.setPen(QPen(handle.axis == 3 ? colour().ink : axis_colour(handle.axis), 1.8));
            painter.setBrush(colour().panel);
            painter.drawRect(QRectF(line[0].x() - half, line[0].y() - half, 2 * half, 2 * half));
        } else {
            // A small lozenge on the surface.
            const QPointF p = line[0];
            painter.setPen(QPen(colour().panel, 1.4));
            painter.setBrush(colour().fuchsia);
            painter.drawPolygon(
                QPolygonF{p + QPointF(0, -7), p + QPointF(7, 0), p + QPointF(0, 7), p + QPointF(-7, 0)});
        }
    }
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(colour().fuchsia, 2));
    const QPointF ring = pixel_of(pivot());
    painter.drawEllipse(ring, 5, 5);
    if (!has_pivot()) return;
    // Put somewhere: it has a dot.
    painter.setBrush(colour().fuchsia);
    painter.drawEllipse(ring, 1.6, 1.6);
    painter.setBrush(Qt::NoBrush);
}

}  // namespace anvil::app
