// A surface whose faces are replaced a few at a time: what lies where, and what cancels.
#include "tests/combine/live.h"

#include <random>

#include "core/mesh/primitives.h"
#include "tests/support/support.h"

using namespace anvil;
using namespace anvil::test;

namespace {

std::vector<std::uint32_t> faces_at(const LiveFaces& live, VertexId v) {
    std::vector<std::uint32_t> out;
    live.for_each_at(v, [&](std::uint32_t f) { out.push_back(f); });
    return out;
}

}  // namespace

TEST_CASE("points are found by their coordinates, however many are added") {
    LiveFaces live = live_of(make_box({0, 0, 0}, {1, 1, 1}));
    std::mt19937 random(3);
    std::uniform_real_distribution<double> any(-5, 5);
    std::vector<Vec3> points;
    for (int k = 0; k < 5000; ++k) {
        points.push_back({any(random), any(random), any(random)});
        CHECK(live.point_at(points.back(), 0) == VertexId(7 + points.size()));
    }
    CHECK(live.point_count() == 5008);
    for (std::size_t k = 0; k < points.size(); ++k) CHECK(live.point_at(points[k], 0) == VertexId(8 + k));
    CHECK(live.point_at({-0.0, 0, 0}, 0) == live.point_at({0, -0.0, 0}, 0));
    CHECK(live.point_count() == 5008);
    CHECK(live.point_at({0, 0, 0}, 0.5).value() < 8);
    CHECK(live.largest_move() == 0.5);
}

TEST_CASE("faces at a point are the given ones that are left, and then the added ones, as they came") {
    LiveFaces live = live_of(make_box({0, 0, 0}, {1, 1, 1}));
    const VertexId v = live.face(0).corners[0];
    const std::vector<std::uint32_t> given = faces_at(live, v);
    REQUIRE(given.size() >= 3);
    const VertexId p = live.point_at({2, 0, 0}, 0), q = live.point_at({2, 1, 0}, 0), r = live.point_at({2, 1, 1}, 0);
    live.remove(given[1]);
    live.add({{v, p, q}, {}, 1});
    live.add({{v, q, r}, {}, 1});
    live.add({{v, r, p}, {}, 1});
    std::vector<std::uint32_t> expected = given;
    expected.erase(expected.begin() + 1);
    for (std::uint32_t k = 0; k < 3; ++k) expected.push_back(12 + k);
    CHECK(faces_at(live, v) == expected);
    CHECK(faces_at(live, q) == std::vector<std::uint32_t>{12, 13});
    live.restore(given[1]);
    CHECK(faces_at(live, v).size() == expected.size() + 1);
}

TEST_CASE("faces that come to lie on each other add up, or cancel; the result has each as often as it lies there") {
    const Mesh box = make_box({0, 0, 0}, {1, 1, 1});
    LiveFaces live = live_of(box);
    const Triangle t = live.face(5).corners, turned{t[0], t[2], t[1]};
    live.add({t, {}, 1});
    CHECK(live.face(5).times == 2);
    CHECK(live.size() == 12);
    CHECK(LiveFaces(live).result().faces.size() == 13);
    live.add({turned, {}, 2});
    CHECK_FALSE(live.alive(5));
    CHECK(LiveFaces(live).result().faces.size() == 11);
    live.add({turned, {}, 1});
    const RoundedFaces result = LiveFaces(live).result();
    CHECK(result.faces.size() == 12);
    CHECK(same_set(result.faces.back(), t));
    CHECK(result.points.size() == box.points.size());
}

TEST_CASE("a step turns no shell inside out that is much thicker: what was moved hangs on faces of such a shell") {
    // A large box and a crumb beside it, as thick as they are.
    Mesh mesh = make_box({0, 0, 0}, {4, 4, 4});
    append(mesh, make_box({6, 0, 0}, {6.01, 0.01, 0.01}));
    auto with_thickness = [&] {
        RoundedFaces faces = unmoved(mesh, std::vector<FaceSource>(mesh.faces.size()));
        for (std::size_t f = 0; f < faces.faces.size(); ++f) faces.thickness.push_back(f < 12 ? 1.3f : 0.003f);
        return faces;
    };
    auto moved_at = [&](std::initializer_list<Vec3> places, double by) {
        LiveFaces live(with_thickness());
        for (const Vec3& p : places) live.move(live.point_at(p, 0), p + Vec3{by, 0, 0});
        return live;
    };
    CHECK(moved_at({}, 0.1).added_to_thicker_shells(1));
    CHECK(moved_at({{0, 0, 0}}, 0.1).added_to_thicker_shells(1));
    CHECK(moved_at({{0, 0, 0}, {0, 0, 4}}, 0.1).added_to_thicker_shells(1));
    CHECK_FALSE(moved_at({{0, 0, 0}}, 0.1).added_to_thicker_shells(1.4));
    CHECK_FALSE(moved_at({{6, 0, 0}}, 0.1).added_to_thicker_shells(1));  // at the crumb
    CHECK_FALSE(moved_at({{0, 0, 0}, {6, 0, 0}}, 0.1).added_to_thicker_shells(1));
    // Every face of the crumb is new, so nothing tells what it hangs on.
    CHECK_FALSE(
        moved_at({{6, 0, 0}, {6.01, 0.01, 0.01}, {6.01, 0, 0}, {6, 0.01, 0.01}}, 0.1).added_to_thicker_shells(0.001));
    // The crumb hung on the box, and was given as thick as both: now it is small, and measured.
    RoundedFaces hung = with_thickness();
    hung.thickness.assign(hung.faces.size(), 1.3f);
    LiveFaces off(hung);
    off.move(off.point_at({6, 0, 0}, 0), {5.999, 0, 0});
    CHECK_FALSE(off.added_to_thicker_shells(0.01));
    CHECK(off.added_to_thicker_shells(0.001));
    // Nothing known of the shells.
    LiveFaces unknown(unmoved(mesh, std::vector<FaceSource>(mesh.faces.size())));
    unknown.move(unknown.point_at({0, 0, 0}, 0), {0.1, 0, 0});
    CHECK_FALSE(unknown.added_to_thicker_shells(0));
    // What stays keeps what is known of it.
    const RoundedFaces left = moved_at({{0, 0, 0}}, 0.1).result();
    REQUIRE(left.thickness.size() == left.faces.size());
    for (std::size_t f = 0; f < left.faces.size(); ++f) {
        const bool given = left.origin[f] < 24;
        CHECK(left.thickness[f] == (!given ? 0 : left.origin[f] < 12 ? 1.3f : 0.003f));
    }
}
