#pragma once

#include <QMatrix4x4>
#include <QPointF>
#include <QSize>

#include "core/mesh/transform.h"
#include "core/spatial/outline_pick.h"

namespace anvil::app {

/// A camera that turns about a target with z up. Angles in degrees; distances in mm.
class Camera {
  public:
    /// 0 looks from the front (along +y); turning right shows the right side.
    double turn = -32;
    /// 0 looks level, 90 straight down.
    double tilt = 24;
    Vec3 target;
    double distance = 250;

    Vec3 direction() const;  ///< from the eye to the target
    Vec3 right() const;
    Vec3 up() const;
    Vec3 eye() const { return target - direction() * distance; }

    QMatrix4x4 view() const;
    QMatrix4x4 projection(const QSize& size, const Box& scene) const;
    /// Pixel of a point; z < 0 behind the eye.
    struct Pixel {
        QPointF at;
        bool visible;
    };
    Pixel pixel(const Vec3& point, const QSize& size) const;
    /// The same as a matrix, for points before `placement` is applied.
    ViewMap map(const QSize& size, const Transform& placement) const;
    /// Direction from the eye through a pixel.
    Vec3 ray(const QPointF& pixel, const QSize& size) const;
    /// Where that meets the plane through a point with that normal; the point itself where the plane is seen edge on.
    Vec3 on_plane(const QPointF& pixel, const QSize& size, const Vec3& normal, const Vec3& through) const;
    /// How many mm a pixel covers at a point.
    double mm_per_pixel(const Vec3& point, const QSize& size) const;

    void orbit(double dx_pixels, double dy_pixels);
    void slide(double dx_pixels, double dy_pixels, const QSize& size);
    /// factor < 1 goes nearer; what lies under the pixel stays there.
    void zoom(double factor, const QPointF& pixel, const QSize& size);
    void frame(const Box& box, const QSize& size);

    bool operator==(const Camera&) const = default;

  private:
    static constexpr double field_of_view = 28;  // degrees, vertical
};

}  // namespace anvil::app
