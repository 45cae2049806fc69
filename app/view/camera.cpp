#include "app/view/camera.h"

#include <algorithm>
#include <numbers>

namespace anvil::app {
namespace {
constexpr double degree = std::numbers::pi / 180;
}

Vec3 Camera::direction() const {
    const double a = turn * degree, b = tilt * degree;
    return {-std::sin(a) * std::cos(b), std::cos(a) * std::cos(b), -std::sin(b)};
}
Vec3 Camera::right() const { return {std::cos(turn * degree), std::sin(turn * degree), 0}; }
Vec3 Camera::up() const { return cross(right(), direction()); }

QMatrix4x4 Camera::view() const {
    // Relative to the eye, so that single precision suffices far from the origin.
    const Vec3 r = right(), u = up(), d = direction(), e = eye();
    auto f = [](double v) { return static_cast<float>(v); };
    return {f(r.x),  f(r.y),  f(r.z),  f(-dot(r, e)), f(u.x), f(u.y), f(u.z), f(-dot(u, e)),
            f(-d.x), f(-d.y), f(-d.z), f(dot(d, e)),  0,      0,      0,      1};
}

QMatrix4x4 Camera::projection(const QSize& size, const Box& scene) const {
    const double reach = scene.empty() ? distance : norm(scene.center() - eye()) + scene.diagonal();
    QMatrix4x4 m;
    m.perspective(static_cast<float>(field_of_view),
                  static_cast<float>(size.width()) / static_cast<float>(std::max(1, size.height())),
                  static_cast<float>(std::max(distance * 0.02, reach * 0.002)), static_cast<float>(reach * 3));
    return m;
}

Camera::Pixel Camera::pixel(const Vec3& point, const QSize& size) const {
    const Vec3 p = point - eye();
    const double depth = dot(p, direction());
    if (depth <= 0) return {{}, false};
    const double scale = size.height() / 2.0 / std::tan(field_of_view / 2 * degree) / depth;
    return {{size.width() / 2.0 + dot(p, right()) * scale, size.height() / 2.0 - dot(p, up()) * scale}, true};
}

ViewMap Camera::map(const QSize& size, const Transform& placement) const {
    const double scale = size.height() / 2.0 / std::tan(field_of_view / 2 * degree);
    const Vec3 d = direction();
    const Vec3 rows[] = {d * (size.width() / 2.0) + right() * scale, d * (size.height() / 2.0) - up() * scale, d};
    ViewMap out;
    for (std::size_t r = 0; r < 3; ++r) {
        // Of a placed point: row . (T p - eye).
        const Vec3 place = apply(placement, {0, 0, 0});
        for (int c = 0; c < 3; ++c) {
            const Vec3 column{placement.linear()(0, c), placement.linear()(1, c), placement.linear()(2, c)};
            out.rows[r][static_cast<std::size_t>(c)] = dot(rows[r], column);
        }
        out.rows[r][3] = dot(rows[r], place - eye());
    }
    out.eye = apply(Transform(placement.inverse()), eye());
    return out;
}

Vec3 Camera::ray(const QPointF& at, const QSize& size) const {
    const double scale = std::tan(field_of_view / 2 * degree) / (size.height() / 2.0);
    return direction() + right() * ((at.x() - size.width() / 2.0) * scale) -
           up() * ((at.y() - size.height() / 2.0) * scale);
}

Vec3 Camera::on_plane(const QPointF& at, const QSize& size, const Vec3& normal, const Vec3& through) const {
    const Vec3 way = ray(at, size);
    const double slope = dot(normal, way);
    return slope == 0 ? through : eye() + way * (dot(normal, through - eye()) / slope);
}

double Camera::mm_per_pixel(const Vec3& point, const QSize& size) const {
    const double depth = std::max(1e-9, dot(point - eye(), direction()));
    return depth * std::tan(field_of_view / 2 * degree) / (size.height() / 2.0);
}

void Camera::orbit(double dx, double dy) {
    turn -= dx * 0.4;
    tilt = std::clamp(tilt + dy * 0.4, -90.0, 90.0);
}

void Camera::slide(double dx, double dy, const QSize& size) {
    const double mm = mm_per_pixel(target, size);
    target = target - right() * (dx * mm) + up() * (dy * mm);
}

void Camera::zoom(double factor, const QPointF& at, const QSize& size) {
    const Vec3 under = eye() + ray(at, size) * distance;
    target = under + (target - under) * factor;
    distance *= factor;
}

void Camera::frame(const Box& box, const QSize& size) {
    if (box.empty()) return;
    target = box.center();
    const double aspect = static_cast<double>(size.width()) / std::max(1, size.height());
    distance = std::max(1e-3, box.diagonal() / 2) / std::sin(field_of_view / 2 * degree) / std::min(1.0, aspect) * 1.02;
}

}  // namespace anvil::app
