// The station Cut: outlines that are dragged or drawn in the view.
#include <QGuiApplication>
#include <cmath>

#include "app/panels/hint_line.h"
#include "app/view/viewport.h"
#include "app/window.h"
#include "core/cut/frame.h"
#include "core/job/new_cut.h"
#include "core/job/quantity.h"

namespace anvil::app {

/// The face under a point, or the plane through the body's middle square to the view.
DrawingPlane Window::drawing_plane(const CutSubject& subject, const QPointF& at) const {
    if (draws_on_faces_)
        if (const Viewport::Hit hit = viewport_->hit_at(at); !hit.part.empty() && hit.normal != Vec3{})
            return {hit.place, hit.normal, hit};
    return {apply(subject.stands, subject.box.center()), -viewport_->camera().direction(), std::nullopt};
}

void Window::start_outline_cut(const std::string& shape) {
    const auto subject = cut_subject();
    if (!subject) return;
    if (shape == "drawing" || shape == "line") {
        ask_stroke(*subject, shape, {}, {});
        return;
    }
    Viewport::Request request;
    const QString where = draws_on_faces_ ? tr("It lies on the face under it; S: square to the view instead.")
                                          : tr("It lies square to the view; S: on the face under it instead.");
    request.asked =
        (shape == "rectangle" ? tr("Drag from corner to corner over %1; width, length can be typed meanwhile.")
         : shape == "circle"
             ? tr("Drag from the middle of the circle over %1; its diameter can be typed meanwhile.")
             : tr("Drag from the middle of the polygon to a flat over %1; its size over flats can be typed meanwhile."))
            .arg(subject->name) +
        " " + where + " " + tr("Esc: leave it.");
    using Numbers = std::vector<double>;
    auto values = [this, s = *subject, shape](const DrawingPlane& plane, const QPointF& from, const QPointF& to,
                                              const Numbers& typed) -> std::optional<Values> {
        const Camera& c = viewport_->camera();
        const QSize size = viewport_->size();
        const Transform home(s.stands.inverse());
        const Vec3 origin = apply(home, plane.origin), normal = apply_direction(home, plane.normal),
                   eye = apply(home, c.eye());
        const auto a = met_on_plane(eye, apply_direction(home, c.ray(from, size)), origin, normal);
        const auto b = met_on_plane(eye, apply_direction(home, c.ray(to, size)), origin, normal);
        return a && b ? values_of_outline(shape, *a, *b, normal, typed) : std::nullopt;
    };
    request.typed_label = shape == "rectangle" ? tr("width, length")
                          : shape == "circle"  ? tr("diameter")
                                               : tr("over flats");
    request.typed = [this, s = *subject, values](const QPointF& from, const QPointF& to, const Numbers& typed) {
        const DrawingPlane plane = drawing_plane(s, from);
        if (const auto drawn = values(plane, from, to, typed))
            put_outline(s, plane, *drawn);
        else
            hint_line_->show_hint(tr("That is too small to be an outline."));
    };
    request.line = [typed = request.typed](const QPointF& from, const QPointF& to) { typed(from, to, {}); };
    // What lies under the point where it began is looked for once.
    auto began = std::make_shared<std::pair<QPointF, DrawingPlane>>(QPointF(-1, -1), DrawingPlane());
    request.shows = [this, s = *subject, values, began](const QPointF& from, const QPointF& to, const Numbers& typed) {
        if (began->first != from) *began = {from, drawing_plane(s, from)};
        Viewport::Request::Shown shown;
        const auto drawn = values(began->second, from, to, typed);
        if (!drawn) return shown;
        for (const Vec3& p : outline_of(*drawn)) shown.line << viewport_->pixel_of(apply(s.stands, p));
        QStringList said;
        for (const char* field : {"width", "length", "diameter", "across"})
            if (const auto at = drawn->find(field); at != drawn->end())
                said << QString::fromStdString(format_quantity(std::get<double>(at->second), Unit::millimetre));
        shown.said = said.join(" × ");
        return shown;
    };
    request.key = [this, shape](int key) {
        if (key != Qt::Key_S) return false;
        draws_on_faces_ = !draws_on_faces_;
        start_outline_cut(shape);
        return true;
    };
    viewport_->ask(std::move(request));
}

/// Where a point drawn on the screen lies in the plane; with Ctrl that of a corner, middle or centre near it.
std::optional<Vec3> Window::place_drawn(const DrawingPlane& plane, const QPointF& at, bool snaps) const {
    if (snaps && (QGuiApplication::keyboardModifiers() & Qt::ControlModifier))
        if (const Viewport::Hit hit = viewport_->hit_at(at, true); !hit.part.empty())
            return hit.place - plane.normal * (dot(hit.place - plane.origin, plane.normal) / norm2(plane.normal));
    const Camera& c = viewport_->camera();
    return met_on_plane(c.eye(), c.ray(at, viewport_->size()), plane.origin, plane.normal);
}

/// Corner by corner, or freehand, until it is closed. `exact`: lengths were typed.
void Window::ask_stroke(const CutSubject& subject, const std::string& shape, const std::vector<Vec3>& so_far,
                        const DrawingPlane& plane, bool exact) {
    const bool closed = shape == "drawing";
    const std::size_t least = closed ? 3 : 2;
    auto finish = [this, subject, shape, so_far, plane, exact] {
        viewport_->end_asking();
        std::vector<Vec3> points;
        const Transform home(subject.stands.inverse());
        for (const Vec3& p : so_far) points.push_back(apply(home, p));
        put_outline(subject, plane, values_of_drawn(shape, points, apply_direction(home, plane.normal), exact));
    };
    Viewport::Request request;
    request.drawn = so_far;
    request.asked =
        so_far.empty() ? tr("Click corner after corner on %1, or draw freehand. S: %2. Esc: leave it.")
                             .arg(subject.name, draws_on_faces_ ? tr("square to the view instead of on the face")
                                                                : tr("on the face instead of square to the view"))
        : closed
            ? tr("Go on, with Ctrl on corners, middles and centres, or type length, angle; click the first point to "
                 "close it. Enter: done. Backspace: one back. Esc: leave it.")
            : tr("Go on, with Ctrl on corners, middles and centres, or type length, angle. Enter: done. Backspace: one "
                 "back. Esc: leave it.");
    if (!so_far.empty()) {
        auto next = [this, so_far, plane](const QPointF& to, const std::vector<double>& typed) -> std::optional<Vec3> {
            const auto towards = place_drawn(plane, to, true);
            return towards ? std::optional(stretch_end(so_far.back(), *towards, plane.normal, typed)) : std::nullopt;
        };
        request.typed_label = tr("length, angle");
        request.typed_units = {Unit::millimetre, Unit::degree};
        request.typed = [this, subject, shape, so_far, plane, next](const QPointF&, const QPointF& to,
                                                                    const std::vector<double>& typed) {
            std::vector<Vec3> points = so_far;
            if (const auto p = next(to, typed)) points.push_back(*p);
            ask_stroke(subject, shape, points, plane, true);
        };
        request.shows = [this, so_far, plane, next](const QPointF&, const QPointF& to,
                                                    const std::vector<double>& typed) {
            const auto p = next(to, typed);
            if (!p) return Viewport::Request::Shown();
            const Stretch told = stretch_between(so_far.back(), *p, plane.normal);
            return Viewport::Request::Shown{
                {viewport_->pixel_of(so_far.back()), viewport_->pixel_of(*p)},
                tr("%1, %2°")
                    .arg(QString::fromStdString(format_quantity(std::round(told.length * 100) / 100, Unit::millimetre)))
                    .arg(std::round(told.angle * 10) / 10)};
        };
    }
    request.stroke = [this, subject, shape, so_far, plane, finish, closed, least, exact](const QPolygonF& stroke) {
        const DrawingPlane on = so_far.empty() ? drawing_plane(subject, stroke.front()) : plane;
        if (closed && so_far.size() >= least && stroke.size() == 1 &&
            (viewport_->pixel_of(so_far.front()) - stroke.front()).manhattanLength() < 12) {
            finish();
            return;
        }
        std::vector<Vec3> points = so_far;
        for (const QPointF& at : stroke)
            if (const auto p = place_drawn(on, at, stroke.size() == 1)) points.push_back(*p);
        ask_stroke(subject, shape, points, on, exact);
    };
    request.key = [this, subject, shape, so_far, plane, finish, least, exact](int key) {
        if (key == Qt::Key_S && so_far.empty()) {
            draws_on_faces_ = !draws_on_faces_;
            ask_stroke(subject, shape, {}, {});
            return true;
        }
        if (key == Qt::Key_Backspace && !so_far.empty()) {
            ask_stroke(subject, shape, {so_far.begin(), so_far.end() - 1}, plane, exact);
            return true;
        }
        if ((key == Qt::Key_Return || key == Qt::Key_Enter) && so_far.size() >= least) {
            finish();
            return true;
        }
        return false;
    };
    viewport_->ask(std::move(request));
}

/// An outline on the plane that it was drawn on; on a flat face, which it follows.
void Window::put_outline(const CutSubject& subject, const DrawingPlane& plane, Values values) {
    if (!plane.on) {
        put_cut(subject, "cut-outline", std::move(values));
        return;
    }
    ask_flat_face(subject, *plane.on,
                  [this, subject, values = std::move(values)](std::vector<Anchor> face, const Vec3&, const Vec3&) {
                      Values all = values;
                      if (!face.empty()) all["face"] = std::move(face);
                      put_cut(subject, "cut-outline", std::move(all));
                  });
}

}  // namespace anvil::app
