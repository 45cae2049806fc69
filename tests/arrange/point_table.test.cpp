#include "core/arrange/point_table.h"

#include <cmath>
#include <deque>
#include <mutex>

#include "tests/support/support.h"

using namespace anvil;
using namespace anvil::test;

namespace {

std::shared_ptr<const Operand> triangle(const Vec3& p, const Vec3& q, const Vec3& r) {
    Mesh mesh;
    for (const Vec3& v : {p, q, r}) mesh.points.push_back(v);
    mesh.faces.push_back({VertexId(0), VertexId(1), VertexId(2)});
    Progress progress;
    auto made = make_operand(mesh, Taken::as_surface, progress);
    REQUIRE(made);
    return std::move(*made);
}

VertexId number_of(const Soup& soup, std::uint32_t operand, const Vec3& at) {
    for (std::uint32_t v = 0; v < soup.operand(operand).mesh.points.size(); ++v)
        if (soup.operand(operand).mesh.points[VertexId(v)] == at) return soup.global(operand, VertexId(v));
    FAIL("no such point");
    return {};
}

}  // namespace

TEST_CASE("points of several operands are one where they coincide, 0 and -0 alike, and the lowest stands for all") {
    const Soup soup({triangle({0, 0, 0}, {1, 0, 0}, {0, 1, 0}), triangle({-0.0, 0, -0.0}, {0, 0, 1}, {1, 0, 1}),
                     triangle({0, 0, 0}, {0, 0, 1}, {0, -1, 0})});
    PointTable points(soup);
    std::vector<VertexId> all;
    for (std::uint32_t v = 0; v < soup.point_count(); ++v) all.emplace_back(v);
    points.identify(all, Progress());
    const VertexId origin = number_of(soup, 0, {}), top = number_of(soup, 1, {0, 0, 1});
    CHECK(points.same_as(origin) == origin);
    CHECK(points.same_as(number_of(soup, 1, {})) == origin);
    CHECK(points.same_as(number_of(soup, 2, {})) == origin);
    CHECK(points.same_as(number_of(soup, 2, {0, 0, 1})) == top);
    CHECK(points.same_as(number_of(soup, 2, {0, -1, 0})) == number_of(soup, 2, {0, -1, 0}));
}

TEST_CASE("new points that only round to the same coordinates stay two; one that two definitions give is one") {
    const Soup soup({triangle({0, 0, 0}, {1, 0, 0}, {0, 1, 0})});
    std::deque<Vec3> given;  // definitions refer to these
    auto keep = [&](double x, double y, double z) -> const Vec3& { return given.emplace_back(x, y, z); };
    // A line through the origin meets the plane x = 1 at y / 7.
    const Vec3 &plane_p = keep(1, 0, 0), &plane_q = keep(1, 1, 0), &plane_r = keep(1, 0, 1);
    auto define = [&](ExactPoint& exact, double x, double y) {
        return exact.define_by_line_and_plane(keep(0, 0, 0), keep(x, y, 0), plane_p, plane_q, plane_r);
    };
    double y = 1.75, next = std::nextafter(y, 2);
    for (;; y = next, next = std::nextafter(y, 2)) {
        ExactPoint a, b;
        if (define(a, 7, y) == define(b, 7, next)) break;
        REQUIRE(y < 1.7500001);
    }
    PointTable points(soup);
    const std::array<std::array<double, 2>, 4> ends{{{7, y}, {7, next}, {14, 2 * y}, {-7, -next}}};
    points.add_all(ends.size(), [&](std::size_t i, ExactPoint& exact, Vec3& approx) {
        static std::mutex one_by_one;  // the list grows
        const std::lock_guard lock(one_by_one);
        approx = define(exact, ends[i][0], ends[i][1]);
    });
    points.identify({}, Progress());
    const auto first = static_cast<std::uint32_t>(soup.point_count());
    REQUIRE(points.approx(VertexId(first)) == points.approx(VertexId(first + 1)));
    CHECK(points.same_as(VertexId(first)) == VertexId(first));
    CHECK(points.same_as(VertexId(first + 1)) == VertexId(first + 1));
    CHECK(points.same_as(VertexId(first + 2)) == VertexId(first));
    CHECK(points.same_as(VertexId(first + 3)) == VertexId(first + 1));
}
