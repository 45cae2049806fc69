// Holes closed in the three styles, against volumes of closed forms.
#include <numbers>

#include "core/mend/flat_fill.h"
#include "core/mend/mend.h"
#include "core/mend/smooth_fill.h"
#include "tests/support/mending.h"
#include "tests/support/support.h"

using namespace anvil;
using namespace anvil::test;

namespace {

template <class Drop>
Mesh without(Mesh mesh, const Drop& drop) {
    std::vector<Triangle> kept;
    for (const FaceId f : ids<FaceId>(mesh.faces.size()))
        if (!drop(f)) kept.push_back(mesh.faces[f]);
    mesh.faces.raw() = kept;
    return welded(mesh);
}
Mended filled(const Mesh& mesh, FillStyle style) {
    Progress progress;
    auto out = mend(mesh, whole_plan(), {.fill = style}, progress);
    REQUIRE(out);
    INFO(findings_text(out->after));
    CHECK(out->after.print_ready);
    return std::move(*out);
}
std::string said(const Mended& m) {
    for (const Repaired& r : m.repairs)
        if (r.repair == Repair::holes) return r.said;
    return {};
}

}  // namespace

TEST_CASE("a ball without its cap: flat is the ball less a spherical cap, smooth is nearly the ball again") {
    // Cut along a ring of its points.
    const int rings = 41, sides = 160;
    const double r = 10, cut = r * std::cos(std::numbers::pi * 8 / rings), h = r - cut;
    const Mesh ball = make_sphere({0, 0, 0}, r, rings, sides);
    const Mesh open = without(ball, [&](FaceId f) { return face_middle(ball, f).z > cut; });
    // Volume of a spherical cap: pi h^2 (3 r - h) / 3 (I. N. Bronshtein, K. A. Semendyayev, Handbook of Mathematics;
    // from memory).
    const double cap = std::numbers::pi * h * h * (3 * r - h) / 3, whole = signed_volume(ball);
    const double flat = signed_volume(filled(open, FillStyle::flat).mesh),
                 smallest = signed_volume(filled(open, FillStyle::smallest).mesh),
                 smooth = signed_volume(filled(open, FillStyle::smooth).mesh);
    CHECK(whole - flat == Approx(cap).epsilon(0.01));
    CHECK(whole - smallest == Approx(cap).epsilon(0.01));
    CHECK(std::fabs(whole - smooth) < 0.1 * cap);
    CHECK(said(filled(open, FillStyle::smooth)).starts_with("1 hole was filled smoothly with"));
}

TEST_CASE("a flat fill goes round an island, and through a ring") {
    const Mesh box = make_box({0, 0, 0}, {10, 10, 10});
    Mesh island = without_top(box, 10);
    const std::size_t walls = island.faces.size();
    append(island, make_plate({5, 5, 10}, 4, 4));
    const Mended round = filled(island, FillStyle::flat);
    CHECK(signed_volume(round.mesh) == Approx(1000));
    CHECK(surface_area(round.mesh) == Approx(600));
    CHECK(said(round).find("round 1 island") != std::string::npos);
    // The island's own points are still there.
    CHECK(std::ranges::find(round.mesh.points, Vec3{3, 3, 10}) != round.mesh.points.end());
    CHECK(walls == 10);
    // In the other styles the island is a loose sheet.
    CHECK(said(filled(island, FillStyle::smallest)).find("1 loose sheet") != std::string::npos);

    const Combined bored = combined(Operation::difference, {box, make_box({4, 4, -1}, {6, 6, 11})});
    const Mended ring = filled(without_top(bored.mesh, 10), FillStyle::flat);
    CHECK(signed_volume(ring.mesh) == Approx(1000 - 40));
    CHECK(surface_area(ring.mesh) == Approx(600 - 8 + 80));
}

TEST_CASE("a rim that crosses itself as seen flat has no flat fill; others have, running the way of the rim") {
    Mesh band;  // only its points: two of the four edges cross
    band.points.raw() = {{0, 0, 0}, {10, 0, 0}, {2, 6, 0}, {8, 6, 0}};
    const std::vector<std::vector<VertexId>> rims{{VertexId(0), VertexId(1), VertexId(2), VertexId(3)}};
    CHECK(!flat_fill(band, rims));
    // A square is, in any order of axes.
    Mesh square;
    square.points.raw() = {{0, 0, 0}, {0, 4, 0}, {0, 4, 4}, {0, 0, 4}};
    const std::vector<std::vector<VertexId>> rim{{VertexId(0), VertexId(1), VertexId(2), VertexId(3)}};
    const auto fill = flat_fill(square, rim);
    REQUIRE(fill);
    REQUIRE(fill->size() == 2);
    square.faces.raw() = *fill;
    CHECK(surface_area(square) == Approx(16));
    const Vec3 n0 = cross(square.corner(FaceId(0), 1) - square.corner(FaceId(0), 0),
                          square.corner(FaceId(0), 2) - square.corner(FaceId(0), 0));
    CHECK(n0.x > 0);  // the faces run the way of the rim
    std::vector<std::vector<VertexId>> back{{VertexId(3), VertexId(2), VertexId(1), VertexId(0)}};
    square.faces.raw() = *flat_fill(square, back);
    CHECK(cross(square.corner(FaceId(0), 1) - square.corner(FaceId(0), 0),
                square.corner(FaceId(0), 2) - square.corner(FaceId(0), 0))
              .x < 0);
}

TEST_CASE("a smooth fill needs a manifold surface round it; else the smallest one is taken, and that is said") {
    Mesh open = without_top(make_box({0, 0, 0}, {10, 10, 10}), 10);
    const Mended sound = filled(open, FillStyle::smooth);
    CHECK(said(sound).find("not manifold") == std::string::npos);
    CHECK(signed_volume(sound.mesh) == Approx(1000).epsilon(0.2));
    // A wall within, from the rim down, that shares two rim points with the box: three faces at an edge of the rim.
    const auto rim_point = [&](const Vec3& p) {
        return VertexId(static_cast<std::size_t>(std::ranges::find(open.points, p) - open.points.begin()));
    };
    open.faces.push_back({rim_point({0, 0, 10}), rim_point({0, 10, 10}), open.points.push_back({3, 5, 12})});
    const auto rim =
        std::vector{rim_point({0, 0, 10}), rim_point({10, 0, 10}), rim_point({10, 10, 10}), rim_point({0, 10, 10})};
    Mesh copy = open;
    CHECK(!smooth_fill(copy, rim));
    CHECK(copy.points.size() == open.points.size());
}
