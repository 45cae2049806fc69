#include "core/combine/near_points.h"

#include "tests/support/support.h"

using namespace anvil;
using namespace anvil::test;

namespace {

Soup soup_of(std::initializer_list<Mesh> meshes) {
    std::vector<std::shared_ptr<const Operand>> operands;
    Progress progress;
    for (const Mesh& mesh : meshes) {
        auto made = make_operand(mesh, Taken::repaired, progress);
        REQUIRE(made);
        operands.push_back(std::move(*made));
    }
    return Soup(std::move(operands));
}

std::vector<std::vector<FaceId>> all_faces(const Soup& soup) {
    std::vector<std::vector<FaceId>> out;
    for (const auto& operand : soup.operands()) {
        out.emplace_back();
        for (const FaceId f : ids<FaceId>(operand->mesh.faces.size())) out.back().push_back(f);
    }
    return out;
}

}  // namespace

TEST_CASE("points that nearly coincide become those of the first operand") {
    const Mesh box = make_box({0, 0, 0}, {10, 10, 10});
    const Soup soup = soup_of({box, moved(box, {3e-12, 0, 4e-12}), moved(box, {0, 0, 1e-3})});
    const NearPoints near(soup);
    CHECK(near.distance_at(all_faces(soup), 1e-6) == Approx(5e-12).epsilon(1e-3));
    CHECK(near.distance_at(std::vector<std::vector<FaceId>>(3), 1e-6) == 0);  // no face is asked about
    const auto points = near.merged(6e-12, Precision::double_precision, Progress());
    REQUIRE(points.size() == 3);
    for (std::size_t v = 0; v < 8; ++v) {
        CHECK(std::ranges::find(points[0], points[1][v]) != points[0].end());
        CHECK(points[2][v] == soup.operand(2).mesh.points[VertexId(v)]);  // too far off
    }
    CHECK(points[0] == soup.operand(0).mesh.points.raw());
    const auto single = near.merged(6e-12, Precision::single_precision, Progress());
    for (const Vec3& p : single[2]) CHECK(p == in_single_precision(p));
}

TEST_CASE("no point goes farther than an eighth of its edges, so that no face collapses") {
    const Mesh large = make_box({0, 0, 0}, {10, 10, 10});
    const Mesh flake = make_box({0, 0, 0}, {1e-6, 10, 10});  // both ends of its short edges are near the same points
    const Soup soup = soup_of({large, flake});
    const auto points = NearPoints(soup).merged(1e-3, Precision::double_precision, Progress());
    CHECK(points[1] == soup.operand(1).mesh.points.raw());
}

TEST_CASE("of two points as near as each other the one with the lower number is taken") {
    const Mesh box = make_box({0, 0, 0}, {10, 10, 10});
    const Soup soup = soup_of({box, make_box({1e-9, 0, 0}, {9, 10, 10}), box});
    const auto points = NearPoints(soup).merged(1e-6, Precision::double_precision, Progress());
    CHECK(points[2] == points[0]);
}
