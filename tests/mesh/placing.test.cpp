#include "core/mesh/placing.h"

#include "tests/support/support.h"

using namespace anvil;
using namespace anvil::test;

namespace {
Mesh placed_one(const Mesh& mesh, const Placing& placing) { return placed({mesh}, placing)->front(); }
}  // namespace

TEST_CASE("placing: mirrored, scaled to a size, turned, centred, dropped, then moved") {
    const Mesh box = make_box({1, 2, 3}, {3, 8, 4});
    auto after = [&](const Placing& placing) { return bounds(placed_one(box, placing)); };
    CHECK(after({.mirror = 0}).low == Vec3{-3, 2, 3});
    CHECK(signed_volume(placed_one(box, {.mirror = 1})) == signed_volume(box));
    CHECK(after({.scale = {2, 1, -1}}).high == Vec3{6, 8, -3});
    CHECK(signed_volume(placed_one(box, {.scale = {2, 1, -1}})) == 24);
    CHECK(after({.size = {4, 0, 0}}).size() == Vec3{4, 12, 2});
    CHECK(after({.size = {4, 6, 5}}).size() == Vec3{4, 6, 5});
    CHECK(after({.angles = {0, 0, 90}}).low == Vec3{-8, 1, 3});
    CHECK(after({.centre = true, .drop = true}).low == Vec3{-1, -3, 0});
    CHECK(after({.angles = {90, 0, 0}, .centre = true, .drop = true, .move = {10, 0, 1}}).low == Vec3{9, -0.5, 1});
    CHECK(placed_one(box, {}).points.raw() == box.points.raw());
}

TEST_CASE("placing: what would leave nothing is refused with a sentence") {
    CHECK(placed({make_box({0, 0, 0}, {1, 1, 1})}, {.scale = {0, 1, 1}}).error().text.find("factor of 0") !=
          std::string::npos);
    CHECK(placed({make_plate({0, 0, 0}, 1, 1)}, {.size = {0, 0, 5}}).error().text.find("along z") != std::string::npos);
    CHECK(placed({make_plate({0, 0, 0}, 1, 1)}, {.size = {-1, 0, 0}}).error().text.find("below 0") !=
          std::string::npos);
    CHECK(placed_one(Mesh(), {.centre = true, .drop = true}).empty());
}

TEST_CASE("several meshes are placed as one") {
    const auto both = placed({make_box({0, 0, 0}, {10, 10, 10}), make_box({30, 0, 5}, {40, 10, 25})},
                             {.size = {20, 0, 0}, .centre = true, .drop = true});
    REQUIRE(both);
    CHECK(bounds((*both)[0]).low == Vec3{-10, -2.5, 0});
    CHECK(bounds((*both)[1]).high == Vec3{10, 2.5, 12.5});
}
