// Places that are met exactly: what the pointer snaps to, and what is measured between two of them.
#include <QApplication>
#include <QClipboard>
#include <QPainter>
#include <cmath>

#include "app/theme.h"
#include "app/view/viewport.h"
#include "app/words.h"
#include "core/job/quantity.h"

namespace anvil::app {
namespace {

constexpr double reach = 12;  // pixels

QString length_text(double mm) {
    return QString::fromStdString(format_quantity(std::round(mm * 1000) / 1000, Unit::millimetre));
}

}  // namespace

/// What lies under a point of this widget: a place that can be meant exactly, where one is near; else a place on a
/// face.
std::optional<Viewport::Snapped> Viewport::snapped_at(const QPointF& at, const std::string& but, bool at_once) const {
    Hit hit = hit_under(at, but);
    // A corner on the outline of a body may lie a hair beside it.
    for (const QPointF& beside : {QPointF(6, 0), QPointF(-6, 0), QPointF(0, 6), QPointF(0, -6)})
        if (hit.part.empty()) hit = hit_under(at + beside, but);
    if (hit.part.empty() || !hit.mesh) return std::nullopt;
    Snapped out{hit.place, hit.normal, tr("on a face"), 0};
    const auto places = places_of(hit.mesh, at_once);
    if (!places) return out;
    double nearest = reach;
    for (const SnapPlace& place : places->about(hit.face)) {
        const Vec3 there = apply(hit.stands, place.place);
        const QPointF d = pixel_of(there) - at;
        // What is small comes before the middle of a face.
        double away = std::hypot(d.x(), d.y()) + (place.kind == SnapPlace::Kind::face_middle ? 3 : 0);
        // A circle is meant near its rim, too, whose corners are those of its facets only.
        if (place.kind == SnapPlace::Kind::circle_centre)
            away = std::min(away, 0.5 * std::fabs(norm(hit.place - there) - place.radius) /
                                      camera_.mm_per_pixel(hit.place, size()));
        if (away >= nearest) continue;
        nearest = away;
        out.place = there;
        out.radius = place.radius;
        out.what = place.kind == SnapPlace::Kind::corner        ? tr("corner")
                   : place.kind == SnapPlace::Kind::edge_middle ? tr("middle of an edge")
                   : place.kind == SnapPlace::Kind::circle_centre
                       ? tr("centre of a circle, Ø %1").arg(length_text(2 * place.radius))
                       : tr("middle of a face");
    }
    return out;
}

/// The places of a body. Of a large one they are looked for on the worker's thread, unless they are wanted at once;
/// null until they are there.
std::shared_ptr<const SnapPlaces> Viewport::places_of(const std::shared_ptr<const Mesh>& mesh, bool at_once) const {
    constexpr std::size_t large = 20'000;
    auto& known = snaps_[mesh.get()];
    if (known.mesh.lock() == mesh && (known.places || !at_once)) return known.places;
    known = {mesh, nullptr};
    if (at_once || mesh->faces.size() <= large) return known.places = std::make_shared<const SnapPlaces>(*mesh);
    auto found = std::make_shared<std::shared_ptr<const SnapPlaces>>();
    controller_.ask(
        "places to snap to", [mesh, found](Progress&) { *found = std::make_shared<const SnapPlaces>(*mesh); },
        [this, mesh, found] {
            snaps_[mesh.get()] = {mesh, *found};
            if (measuring_) const_cast<Viewport*>(this)->hover_to_measure(mapFromGlobal(QCursor::pos()));
        },
        [this, mesh] { snaps_.erase(mesh.get()); });
    return nullptr;
}

void Viewport::start_measuring(bool on) {
    measuring_ = on;
    first_.reset();
    hover_.reset();
    if (on) {
        setFocus();
        setCursor(Qt::CrossCursor);
        Q_EMIT hint(
            tr("Click two places: corners, middles of edges and faces, and centres of circles are met exactly. "
               "Esc: done."));
    } else {
        unsetCursor();
    }
    update();
    Q_EMIT measuring_changed();
}

void Viewport::clear_measurements() {
    measurements_.clear();
    update();
    Q_EMIT measuring_changed();
}

void Viewport::hover_to_measure(const QPointF& at) {
    hover_ = snapped_at(at, {}, false);
    setCursor(Qt::CrossCursor);
    const QString where = hover_ ? hover_->what : QString();
    Q_EMIT hint(
        !hover_   ? tr("Click a place on a body. Esc: done; Backspace takes the last measurement off.")
        : !first_ ? tr("%1. Click: measure from here.").arg(where)
                  : tr("%1. Click: measure to here, %2.").arg(where, length_text(norm(hover_->place - first_->place))));
    update();
}

void Viewport::take_to_measure(const QPointF& at) {
    for (const Measurement& m : measurements_)
        if (label_of(m).contains(at)) {
            QApplication::clipboard()->setText(m.value);
            Q_EMIT hint(tr("Copied %1: paste it into any field.").arg(m.value));
            return;
        }
    const auto here = snapped_at(at);
    if (!here) return;
    if (!first_) {
        first_ = here;
        hover_to_measure(at);
        return;
    }
    Measurement made{first_->place, here->place, {}, {}};
    const double length = norm(here->place - first_->place);
    if (length < 1e-9 && here->radius > 0) {  // the same circle twice
        made.value = length_text(2 * here->radius);
        made.text = tr("Ø %1, R %2").arg(made.value, length_text(here->radius));
    } else {
        made.value = made.text = length_text(length);
        const double angle = angle_between(first_->normal, here->normal);
        if (angle > 0.01) made.text += tr(", faces at %1°").arg(std::round(angle * 100) / 100);
    }
    measurements_.push_back(std::move(made));
    first_.reset();
    Q_EMIT hint(
        tr("%1. Click it to copy the number. Click another place to go on; Esc: done.").arg(measurements_.back().text));
    update();
    Q_EMIT measuring_changed();
}

QRectF Viewport::label_of(const Measurement& m) const {
    const QPointF middle = (pixel_of(m.a) + pixel_of(m.b)) / 2;
    const double w = fontMetrics().horizontalAdvance(m.text) + 14;
    return {middle.x() - w / 2, middle.y() - 30, w, 22};
}

/// Lines with a tick at both ends, and what they measure on a plate.
void Viewport::draw_measurements(QPainter& painter) const {
    auto dot = [&](const Vec3& p, bool open) {
        painter.setPen(QPen(open ? colour().fuchsia : colour().panel, 1.6));
        painter.setBrush(open ? colour().panel : colour().ink);
        painter.drawEllipse(pixel_of(p), 4, 4);
    };
    auto line = [&](const Vec3& a, const Vec3& b, Qt::PenStyle style) {
        painter.setPen(QPen(colour().paper, 4));
        painter.drawLine(pixel_of(a), pixel_of(b));
        painter.setPen(QPen(colour().ink, 1.6, style));
        painter.drawLine(pixel_of(a), pixel_of(b));
    };
    for (const Measurement& m : measurements_) {
        line(m.a, m.b, Qt::SolidLine);
        dot(m.a, false);
        dot(m.b, false);
    }
    if (measuring_ && first_) {
        if (hover_) line(first_->place, hover_->place, Qt::DashLine);
        dot(first_->place, false);
    }
    if (hover_) dot(hover_->place, true);
    for (const Measurement& m : measurements_) {
        const QRectF plate = label_of(m);
        painter.setPen(QPen(colour().ink, 1));
        painter.setBrush(colour().panel);
        painter.drawRect(plate);
        painter.setPen(colour().ink);
        painter.drawText(plate, Qt::AlignCenter, m.text);
    }
    painter.setBrush(Qt::NoBrush);
}

/// How far a bar is drawn so that a flat face of the part comes into the plane of one of another body: onto it, or
/// beside it. Where none is near, as far as it was drawn.
double Viewport::snapped_travel(double freely) {
    snapped_to_.clear();
    const Row* row = movable();
    if (!row || !controller_.outcome()) return freely;
    std::vector<FlatSide> own, others;
    std::vector<std::string> whose;  // of the other sides, ids of parts
    auto add_sides = [&](const Row& of, const Transform& before, std::vector<FlatSide>& out) {
        const auto [ready, stands] = controller_.body_of(of);
        const auto places = ready ? places_of(ready->mesh, false) : nullptr;
        if (!places) return;
        for (const FlatSide& side : places->sides()) out.push_back(placed(side, before * stands));
    };
    // The part has gone some way already.
    const Vec3 gone = apply(row->frame, row->placement().position) - apply(row->frame, start_position_);
    add_sides(*row, translation(-gone), own);
    for (const Row& other : controller_.rows()) {
        const bool is_body = other.is_base() || (other.idle && !other.step) || (other.step && other.use);
        if (other.id.part == chosen_.part || !is_body) continue;
        add_sides(other, Transform::Identity(), others);
        whose.resize(others.size(), other.is_base() ? base_of(controller_.job()) : other.id.part);
    }
    const auto found = face_to_face(own, others, held_.along, freely, reach * camera_.mm_per_pixel(grabbed_, size()));
    if (!found) return freely;
    const Part* part = controller_.job().find_part(whose[found->other]);
    const QString name = part ? quoted(part->name) : QString();
    snapped_to_ = found->onto ? tr("onto a face of %1").arg(name) : tr("flush with a face of %1").arg(name);
    return found->travel;
}

/// How far what is dragged goes so that the place it was taken by comes onto what the pointer is over; on nothing, onto
/// whole steps of a grid.
Vec3 Viewport::snapped_move(const QPointF& at, const Vec3& freely) {
    if (const auto to = snapped_at(at, chosen_.part, false)) {
        hover_ = to;
        snapped_to_ = to->what;
        return to->place - grabbed_;
    }
    hover_.reset();
    const double mm = camera_.mm_per_pixel(grabbed_, size());
    double step = 0.1;
    while (step < 8 * mm) step *= 10;
    snapped_to_ = tr("grid of %1").arg(length_text(step));
    Vec3 by = freely;
    for (int k = 0; k < 3; ++k) {
        const double wanted = std::round((start_position_[k] + freely[k]) / step) * step;
        by[k] = std::fabs(freely[k]) < 1e-12 ? 0 : wanted - start_position_[k];
    }
    return by;
}

}  // namespace anvil::app
