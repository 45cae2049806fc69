// Bodies whose sides lie in one plane: what is left out of the splitting there must change no region and no source.
#include "core/arrange/covered_edges.h"

#include "core/arrange/arrangement.h"
#include "tests/support/support.h"

using namespace anvil;
using namespace anvil::test;

namespace {

constexpr std::uint32_t across = 24;  // squares along a side, 1 mm each
const Vec3 slide{0.25, 0.375, 0};     // mm

/// A plate from z = low to z = low + 1 whose sides above and below are fields of squares.
Mesh plate(double low) {
    Mesh mesh;
    constexpr std::uint32_t row = across + 1, layer = row * row;
    for (const double z : {low, low + 1})
        for (std::uint32_t y = 0; y < row; ++y)
            for (std::uint32_t x = 0; x < row; ++x) mesh.points.push_back({double(x), double(y), z});
    auto quad = [&](std::uint32_t a, std::uint32_t b, std::uint32_t c, std::uint32_t d) {
        mesh.faces.push_back({VertexId(a), VertexId(b), VertexId(c)});
        mesh.faces.push_back({VertexId(a), VertexId(c), VertexId(d)});
    };
    for (std::uint32_t y = 0; y < across; ++y)
        for (std::uint32_t x = 0; x < across; ++x) {
            const std::uint32_t a = y * row + x;
            quad(a, a + row, a + row + 1, a + 1);
            quad(layer + a, layer + a + 1, layer + a + row + 1, layer + a + row);
        }
    for (std::uint32_t i = 0; i < across; ++i) {
        const std::uint32_t far = across * row;
        quad(i, i + 1, layer + i + 1, layer + i);
        quad(far + i + 1, far + i, layer + far + i, layer + far + i + 1);
        quad((i + 1) * row, i * row, layer + i * row, layer + (i + 1) * row);
        quad(i * row + across, (i + 1) * row + across, layer + (i + 1) * row + across, layer + i * row + across);
    }
    return mesh;
}

Arrangement arranged(const std::vector<Mesh>& operands) {
    std::vector<const Mesh*> pointers;
    for (const Mesh& m : operands) pointers.push_back(&m);
    Progress progress;
    auto done = arrange(pointers, progress, Taken::repaired);
    REQUIRE(done);
    return std::move(*done);
}

std::size_t new_points(const Arrangement& a) { return a.points.size() - a.points.input_count(); }

double union_volume(const Combined& c) { return signed_volume(c.mesh); }

constexpr double side = across, overlap = (side - 0.25) * (side - 0.375);  // mm, mm2

}  // namespace

TEST_CASE("sides that lie on each other the same way round cross at their rims only") {
    const Mesh a = plate(0), b = moved(a, slide);
    const Arrangement both = arranged({a, b});
    // Each square of one side crosses the other's edges in five places or more.
    CHECK(new_points(both) < 24 * across);
    CHECK(both.cells.count == 4);  // outside, either one alone, both
    const Combined united = combined(Operation::union_of, {a, b});
    CHECK(union_volume(united) == Approx(2 * side * side - overlap));
    CHECK(signed_volume(combined(Operation::difference, {a, b}).mesh) == Approx(side * side - overlap));
    CHECK(signed_volume(combined(Operation::reverse_difference, {a, b}).mesh) == Approx(side * side - overlap));
    CHECK(signed_volume(combined(Operation::intersection, {a, b}).mesh) == Approx(overlap));
    REQUIRE(united.flush.size() == 1);
    CHECK(united.flush[0].area == Approx(2 * overlap));
}

TEST_CASE("a part of a plane names the face that lies there, though others of its operand count as one with it") {
    const Mesh a = plate(0), b = moved(a, slide);
    const Arrangement both = arranged({a, b});
    const Mesh* given[] = {&a, &b};
    std::size_t of_one = 0;
    bool within = true;
    for (std::size_t f = 0; f < both.faces.size(); ++f) {
        const auto sources = both.faces.sources[both.faces.source[f]];
        const Triangle& t = both.faces.corners[f];
        const Vec3 p = (both.points.approx(t[0]) + both.points.approx(t[1]) + both.points.approx(t[2])) * (1.0 / 3);
        for (const FaceSource& s : sources) {
            // Of those under another's, any of the region will do.
            if (s.operand == 1 && sources.size() > 1) continue;
            const CornerPoints c = corner_points(given[s.operand]->points.raw(), given[s.operand]->faces[s.face]);
            const Vec3 n = cross(*c[1] - *c[0], *c[2] - *c[0]);
            for (std::size_t k = 0; k < 3; ++k)
                within = within && dot(n, cross(*c[(k + 1) % 3] - *c[k], p - *c[k])) > -1e-9;
        }
        of_one += sources.size() == 1;
    }
    CHECK(within);
    CHECK(of_one > 4 * across);
}

TEST_CASE("sides that look at each other keep all their edges") {
    const Mesh a = plate(0), b = moved(plate(1), slide);
    CHECK(new_points(arranged({a, b})) > across * across);
    CHECK(union_volume(combined(Operation::union_of, {a, b})) == Approx(2 * side * side));
}

TEST_CASE("what stands on an edge that was left out is still cut along it") {
    const Mesh a = plate(0), b = moved(a, slide);
    // Its foot has its corners and edges on those of the second plate, well within the first.
    const Mesh post = moved(make_box({4, 5, 1}, {5, 7, 3}), slide);
    CHECK(union_volume(combined(Operation::union_of, {a, b, post})) == Approx(2 * side * side - overlap + 4));
    CHECK(union_volume(combined(Operation::union_of, {post, b, a})) == Approx(2 * side * side - overlap + 4));
    const Mesh pin = moved(make_box({4, 5, -1}, {5, 7, 3}), slide);  // through both
    CHECK(signed_volume(combined(Operation::difference, {a, b, pin}).mesh) == Approx(side * side - overlap));
}

TEST_CASE("three plates slid over each other, and one that lies on itself") {
    const Mesh a = plate(0), b = moved(a, slide), c = moved(a, {-0.125, 0.1875, 0});
    // Three rectangles: each pair's overlap taken off, that of all put back.
    const double pairs = overlap + (side - 0.125) * (side - 0.1875) + (side - 0.375) * (side - 0.1875),
                 all = (side - 0.375) * (side - 0.375);
    CHECK(union_volume(combined(Operation::union_of, {a, b, c})) == Approx(3 * side * side - pairs + all));
    Mesh twice = b;
    append(twice, c);
    CHECK(union_volume(combined(Operation::union_of, {a, twice})) == Approx(3 * side * side - pairs + all));
}
