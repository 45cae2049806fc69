#include "core/arrange/stretches.h"

#include "tests/support/support.h"

using namespace anvil;
using namespace anvil::test;

namespace {

/// A fan over points 1 mm apart along a line askew.
Soup fan(std::uint32_t points) {
    Mesh mesh;
    mesh.points.push_back({0, 0, 1});
    for (std::uint32_t k = 0; k < points; ++k) mesh.points.push_back(Vec3{-3, 2, 1} * double(k));
    for (std::uint32_t k = 1; k < points; ++k) mesh.faces.push_back({VertexId(0), VertexId(k), VertexId(k + 1)});
    Progress progress;
    auto made = make_operand(mesh, Taken::as_surface, progress);
    REQUIRE(made);
    return Soup({std::move(*made)});
}

}  // namespace

TEST_CASE("stretches of one line become one where they overlap or touch, by the plane that made them") {
    const Soup soup = fan(9);
    const PointTable points(soup);
    auto at = [&](int k) {  // the k-th point along the line
        for (std::uint32_t v = 0; v < soup.point_count(); ++v)
            if (soup.point(VertexId(v)) == Vec3{-3, 2, 1} * double(k)) return VertexId(v);
        FAIL("no such point");
        return VertexId();
    };
    const FaceId own(0);
    Crossings all;
    auto meets = [&](std::uint32_t face, int p, int q) { all.segments.push_back({own, FaceId(face), at(p), at(q)}); };
    // Faces 1 to 4 are of one cluster, 5 of another.
    meets(1, 5, 6);
    meets(2, 0, 2);
    all.segments.push_back({FaceId(3), own, at(3), at(1)});  // the other way round, from the other side
    meets(4, 1, 2);
    meets(5, 2, 7);
    meets(1, 3, 4);
    all.segments.push_back({own, FaceId(2), at(8), VertexId()});  // a touch is none
    ActiveFaces active;
    for (const FaceId f : ids<FaceId>(soup.face_count())) {
        active.faces.push_back(f);
        active.index_of.push_back(f.value());
    }
    Clusters clusters;
    clusters.of_active = {0, 1, 1, 1, 1, 2, Clusters::none, Clusters::none};
    const std::array faces{own};
    const std::array crossings{0u, 1u, 2u, 3u, 4u, 5u, 6u};
    const auto stretches = stretches_on({faces, crossings, {}}, all, clusters, active, points);
    auto ends = [&](std::size_t k) { return std::minmax(stretches[k].p, stretches[k].q); };
    REQUIRE(stretches.size() == 3);
    for (const auto& [p, q] : {std::pair(0, 4), std::pair(5, 6)})
        CHECK(std::ranges::any_of(std::array{0, 1}, [&, p = p, q = q](int k) {
            return stretches[std::size_t(k)].cluster == 1 && ends(std::size_t(k)) == std::minmax(at(p), at(q));
        }));
    CHECK(stretches[2].cluster == 2);
    CHECK(stretches[2].other == FaceId(5));
    CHECK(ends(2) == std::minmax(at(2), at(7)));
}
