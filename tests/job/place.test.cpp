#include "tests/job/treated.h"

using namespace anvil;
using namespace anvil::test;

TEST_CASE("place: scaled about the origin, turned, then moved; quarter turns are exact") {
    const Mesh box = make_box({1, 0, 0}, {3, 1, 1});
    const Mesh there = *treated("place", box, {{"scale", 2.0}, {"turn_z", 90.0}, {"move_x", 10.0}}).mesh;
    CHECK(bounds(there).low == Vec3{8, 2, 0});
    CHECK(bounds(there).high == Vec3{10, 6, 2});
    CHECK(signed_volume(there) == Approx(16));
    CHECK(treated("place", box).mesh->points.raw() == box.points.raw());
}

TEST_CASE("place: turned about all axes, x first, as a placement of a part is") {
    // By the three rotation matrices of a textbook, multiplied by hand for 30 degrees about x and 60 about y.
    const Mesh box = make_box({0, 0, 0}, {1, 2, 3});
    const Mesh there = *treated("place", box, {{"turn_x", 30.0}, {"turn_y", 60.0}}).mesh;
    const double s = std::sqrt(3) / 2;
    for (const VertexId v : ids<VertexId>(box.points.size())) {
        const Vec3 p = box.points[v], after_x{p.x, s * p.y - 0.5 * p.z, 0.5 * p.y + s * p.z};
        const Vec3 expected{0.5 * after_x.x + s * after_x.z, after_x.y, -s * after_x.x + 0.5 * after_x.z};
        CHECK(norm(there.points[v] - expected) < 1e-14);
    }
    CHECK(!check_values(*find_kind("place"), {{"scale", 0.0}}));
}
