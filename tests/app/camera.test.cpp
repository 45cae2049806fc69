#include "app/view/camera.h"

#include <catch2/catch.hpp>
#include <random>

using namespace anvil;
using namespace anvil::app;

namespace {

const QSize size(800, 600);

Camera some_camera(unsigned seed) {
    std::mt19937 random(seed);
    std::uniform_real_distribution<double> u(-1, 1);
    Camera c;
    c.turn = 180 * u(random);
    c.tilt = 85 * u(random);
    c.target = {20 * u(random), 20 * u(random), 20 * u(random)};
    c.distance = 150 + 100 * u(random);
    return c;
}
double off(const QPointF& a, const QPointF& b) { return std::hypot(a.x() - b.x(), a.y() - b.y()); }

}  // namespace

TEST_CASE("the ray through a point's pixel goes through the point") {
    for (unsigned seed = 1; seed <= 30; ++seed) {
        const Camera c = some_camera(seed);
        const Vec3 p = c.target + Vec3{7, -3, 5};
        const auto [at, visible] = c.pixel(p, size);
        REQUIRE(visible);
        const Vec3 d = normalized(c.ray(at, size)), to = p - c.eye();
        CHECK(norm(to - d * dot(to, d)) < 1e-3);  // the view matrix is in single precision
        CHECK(!c.pixel(c.eye() - c.direction() * 10, size).visible);
    }
}

TEST_CASE("the place under a pixel on a plane lies on both, and a plane seen edge on gives the point it goes through") {
    for (unsigned seed = 1; seed <= 30; ++seed) {
        const Camera c = some_camera(seed);
        const Vec3 through = c.target + Vec3{3, 1, -2}, normal = normalized(Vec3{1, 2, 3} - c.direction() * 5);
        const QPointF at(500, 210);
        const Vec3 place = c.on_plane(at, size, normal, through);
        CHECK(std::fabs(dot(place - through, normal)) < 1e-9 * (1 + norm(place)));
        const Vec3 d = normalized(c.ray(at, size)), to = place - c.eye();
        CHECK(norm(to - d * dot(to, d)) < 1e-9 * (1 + norm(to)));
    }
    Camera front;
    front.turn = front.tilt = 0;
    const Vec3 through{1, 2, 3};
    CHECK(front.on_plane({400, 300}, size, {1, 0, 0}, through) == through);
}

TEST_CASE("the camera's axes are a right system with z up on the screen") {
    for (unsigned seed = 1; seed <= 30; ++seed) {
        const Camera c = some_camera(seed);
        CHECK(norm(c.direction()) == Approx(1));
        CHECK(dot(c.direction(), c.right()) == Approx(0).margin(1e-12));
        CHECK(norm(cross(c.right(), c.direction()) - c.up()) < 1e-12);
        CHECK(c.up().z > 0);
        CHECK(c.right().z == Approx(0).margin(1e-12));
    }
    Camera front;
    front.turn = front.tilt = 0;
    CHECK(norm(front.direction() - Vec3{0, 1, 0}) < 1e-12);
    CHECK(norm(front.right() - Vec3{1, 0, 0}) < 1e-12);
}

TEST_CASE("zooming keeps what is under the pointer, sliding moves the target with it") {
    for (unsigned seed = 1; seed <= 30; ++seed) {
        Camera c = some_camera(seed);
        const QPointF pointer(620, 140);
        // The point under the pointer at the target's depth.
        const Vec3 ray = c.ray(pointer, size);
        const Vec3 p = c.eye() + ray * (c.distance / dot(ray, c.direction()));
        const double before = c.distance;
        c.zoom(0.5, pointer, size);
        CHECK(c.distance == Approx(before / 2));
        CHECK(off(c.pixel(p, size).at, pointer) < 0.1);
        const Vec3 target = c.target;
        const QPointF at = c.pixel(target, size).at;
        c.slide(30, -20, size);
        CHECK(off(c.pixel(target, size).at, at + QPointF(30, -20)) < 0.1);
    }
}

TEST_CASE("framing a box shows all its corners, large in the view") {
    for (unsigned seed = 1; seed <= 30; ++seed) {
        Camera c = some_camera(seed);
        const Box box{{-40, -10, 0}, {60, 25, 30}};
        c.frame(box, size);
        QPointF low(1e9, 1e9), high(-1e9, -1e9);
        for (int k = 0; k < 8; ++k) {
            const Vec3 corner{k & 1 ? box.low.x : box.high.x, k & 2 ? box.low.y : box.high.y,
                              k & 4 ? box.low.z : box.high.z};
            const auto [at, visible] = c.pixel(corner, size);
            CHECK(visible);
            CHECK(QRectF(QPointF(0, 0), QSizeF(size)).contains(at));
            low = {std::min(low.x(), at.x()), std::min(low.y(), at.y())};
            high = {std::max(high.x(), at.x()), std::max(high.y(), at.y())};
        }
        CHECK(std::max((high.x() - low.x()) / size.width(), (high.y() - low.y()) / size.height()) > 0.3);
    }
}
