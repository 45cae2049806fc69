// Handles of cuts: what their fields mean in the view, to be dragged.
#include <QPainter>
#include <cmath>

#include "app/theme.h"
#include "app/view/steps_shown.h"
#include "app/view/viewport.h"
#include "core/job/cutting.h"
#include "core/job/place_edits.h"
#include "core/job/quantity.h"

namespace anvil::app {
namespace {

constexpr double cut_bar = 66, cut_arc = 52;  // pixels
constexpr int cut_arc_points = 10;

QString text_of_mm(double v) { return QString::fromStdString(format_quantity(v, Unit::millimetre)); }

}  // namespace

/// A place or a length is a bar, a direction an arc about the axis that it turns about.
void Viewport::add_cut_handles(std::vector<Handle>& out) const {
    const Row* row = row_with_handles();
    if (!check_values(*row->kind, row->step->values)) return;
    const Transform& stands = row->stands;
    const RowOutcome* done = controller_.done(row->step->id);
    const Values values =
        done && done->cut ? values_where_it_stands(*row->kind, row->step->values, *done->cut) : row->step->values;
    for (MeasureHandle& measure : row->kind->handles(values)) {
        Handle handle;
        handle.does = Handle::Does::cut;
        handle.at = apply(stands, measure.at);
        handle.along = normalized(apply(stands, measure.at + measure.along) - handle.at);
        const double mm = camera_.mm_per_pixel(handle.at, size());
        auto pixel = [&](const Vec3& p) { return camera_.pixel(p, size()).at; };
        const Field& field = *row->kind->find_field(measure.field);
        if (field.type == Field::Type::direction) {
            if (std::fabs(dot(handle.along, camera_.direction())) <= 0.12) continue;  // seen edge on
            const Vec3 now = value_of<Vec3>(*row->kind, values, measure.field);
            const Vec3 u = normalized(apply(stands, measure.at + now) - handle.at), v = cross(handle.along, u);
            for (int i = 0; i <= cut_arc_points; ++i) {
                const double a = (0.2 + 0.6 * i / cut_arc_points) * 1.5707963267948966;
                handle.line << pixel(handle.at + (u * std::cos(a) + v * std::sin(a)) * (mm * cut_arc));
            }
        } else if (measure.across != Vec3{}) {
            handle.line = {pixel(handle.at)};
        } else {
            handle.line = {pixel(handle.at), pixel(handle.at + handle.along * (mm * cut_bar))};
        }
        handle.measure = std::move(measure);
        out.push_back(std::move(handle));
    }
}

std::optional<QPointF> Viewport::cut_handle(const std::string& field, int number) const {
    for (const Handle& handle : handles())
        if (handle.does == Handle::Does::cut && handle.measure.field == field && number-- == 0)
            return handle.line.size() == 2 ? handle.line[1] : handle.line[handle.line.size() / 2];
    return std::nullopt;
}

/// How far the pointer has gone in a plane of the list, told by hundredths, tenths or whole millimetres.
Vec3 Viewport::travel_in_plane(const Vec3& along, const Vec3& across, const QPointF& at) const {
    const Vec3 o = apply(start_stands_, Vec3{}), u = apply(start_stands_, along) - o,
               v = apply(start_stands_, across) - o;
    const Vec3 n = cross(u, v);
    if (!numbers_.empty()) return along * numbers_[0] + across * (numbers_.size() > 1 ? numbers_[1] : 0);
    const Vec3 way = gone_in_plane(n, at);
    const double mm = camera_.mm_per_pixel(grabbed_, size());
    return along * rounded_mm(dot(way, u), mm) + across * rounded_mm(dot(way, v), mm);
}

void Viewport::drag_cut(const QPointF& at) {
    const Row* row = row_with_handles();
    if (!row) return;
    const Field& field = *row->kind->find_field(held_.measure.field);
    const double mm = camera_.mm_per_pixel(grabbed_, size());
    Value value;
    QString said;
    const bool in_plane = held_.measure.across != Vec3{};
    const Vec3 by = in_plane ? travel_in_plane(held_.measure.along, held_.measure.across, at) : Vec3{};
    if (row->kind->dragged && (field.type == Field::Type::elements || field.type == Field::Type::text)) {
        const Values now = row->kind->dragged(start_values_, held_.measure, by);
        value = now.contains(field.name) ? now.at(field.name) : field.usual;
        said = tr("moved by %1").arg(text_of_mm(std::round(norm(by) * 100) / 100));
    } else if (field.type == Field::Type::direction) {
        const double degrees = number_or(std::round(turn_about(held_.along, at)));
        value = turned_direction(value_of<Vec3>(*row->kind, start_values_, field.name), held_.measure.along, degrees);
        said = tr("turned by %1°").arg(degrees);
    } else if (field.type == Field::Type::place) {
        // Of the coordinate along its way the numbers stay readable.
        Vec3 to = value_of<Vec3>(*row->kind, start_values_, field.name) +
                  (in_plane ? by : held_.measure.along * number_or(rounded_mm(travel_along(held_.along, at), mm)));
        const int axis = longest_axis(held_.measure.along);
        if (!in_plane && numbers_.empty() && std::fabs(held_.measure.along[axis]) == 1)
            to[axis] = rounded_mm(to[axis], mm);
        value = to;
        said = tr("x %1, y %2, z %3").arg(text_of_mm(to.x), text_of_mm(to.y), text_of_mm(to.z));
    } else {
        const double start = value_of<double>(*row->kind, start_values_, field.name);
        const double now = start + held_.measure.per * travel_along(held_.along, at);
        const double v = number_or(std::clamp(rounded_mm(now, mm), field.least, field.most));
        value = v;
        said = field.type == Field::Type::angle ? tr("%1°").arg(v) : text_of_mm(v);
    }
    Values wanted = row->step->values;
    wanted[field.name] = value;
    if (const auto checked = check_values(*row->kind, wanted); !checked && !numbers_.empty()) {
        typed_trouble_ = QString::fromStdString(checked.error().sentence());
        Q_EMIT hint(typed_trouble_);
        return;
    }
    Job job = controller_.job();
    edit_step(job, row->step->id, [&](Step& step) {
        if (value == field.usual)
            step.values.erase(field.name);
        else
            step.values[field.name] = value;
    });
    const QString name = QString::fromStdString(row->kind->name), label = QString::fromStdString(field.label);
    Q_EMIT hint(tr("%1, %2: %3").arg(name, label, said));
    controller_.change(std::move(job), tr("%1: %2").arg(name, label), "drag");
}

QString Viewport::hint_of_cut(const Handle& handle) const {
    const Row* row = row_with_handles();
    if (!row) return {};
    const Field& field = *row->kind->find_field(handle.measure.field);
    const QString label = QString::fromStdString(field.label);
    if (handle.measure.across != Vec3{}) return tr("Drag to move it in its plane.");
    if (field.type == Field::Type::direction) return tr("Drag to tilt it, by whole degrees.");
    if (field.type == Field::Type::place) return tr("Drag to move it along this direction.");
    return tr("Drag to change the %1: %2.")
        .arg(label, text_of_mm(value_of<double>(*row->kind, row->step->values, field.name)));
}

void Viewport::draw_cut_handles(QPainter& painter) const {
    for (const Handle& handle : handles()) {
        if (handle.does != Handle::Does::cut) continue;
        const QPolygonF& line = handle.line;
        if (line.size() == 1) {  // what is moved in a plane: a square, so that it is none of a length
            painter.setPen(QPen(colour().panel, 1.6));
            painter.setBrush(colour().fuchsia);
            painter.drawRect(QRectF(line[0].x() - 5, line[0].y() - 5, 10, 10));
            continue;
        }
        painter.setBrush(Qt::NoBrush);
        painter.setPen(QPen(colour().paper, 5, Qt::SolidLine, Qt::RoundCap));
        painter.drawPolyline(line);
        painter.setPen(QPen(colour().fuchsia, 2.2, Qt::SolidLine, Qt::RoundCap));
        painter.drawPolyline(line);
        const QPointF p = line.size() == 2 ? line[1] : line[line.size() / 2];
        painter.setPen(QPen(colour().panel, 1.4));
        painter.setBrush(colour().fuchsia);
        if (line.size() == 2)
            painter.drawPolygon(
                QPolygonF{p + QPointF(0, -8), p + QPointF(8, 0), p + QPointF(0, 8), p + QPointF(-8, 0)});
        else
            painter.drawEllipse(p, 5.5, 5.5);
    }
    painter.setBrush(Qt::NoBrush);
}

}  // namespace anvil::app
