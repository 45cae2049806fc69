// Layers that nearly coincide, laid into one: what is left must close as it did, and only the skin between may go.
#include "core/combine/flat_layers.h"

#include "core/combine/settle_faults.h"
#include "core/mesh/primitives.h"
#include "tests/combine/live.h"
#include "tests/support/support.h"

using namespace anvil;
using namespace anvil::test;

namespace {

constexpr double thickness = 0x1p-44;  // mm
const PlaneGrid plane_grid{0x1p-48};   // mm

/// Numbers of two faces that look up and down, no more than `thickness` apart.
std::pair<std::uint32_t, std::uint32_t> layers_of(const LiveFaces& live) {
    std::optional<std::uint32_t> up, down;
    for (std::uint32_t f = 0; f < live.size(); ++f) {
        const CornerPoints c = live.corners(f);
        const bool low = std::ranges::all_of(c, [](const Vec3* p) { return p->z <= thickness; });
        const double z = cross(*c[1] - *c[0], *c[2] - *c[0]).z;
        if (low && z > 0 && !up) up = f;
        if (low && z < 0 && c[0]->x + c[1]->x + c[2]->x > 3.5 && !down) down = f;
    }
    REQUIRE(up);
    REQUIRE(down);
    return {*up, *down};
}

/// Per edge, how much more often it is run along one way than the other: nothing where the faces close.
std::size_t open_edges(const LiveFaces& live) {
    const RoundedFaces faces = LiveFaces(live).result();
    std::map<std::pair<VertexId, VertexId>, int> balance;
    for (const Triangle& t : faces.faces)
        for (std::size_t k = 0; k < 3; ++k) {
            const VertexId a = t[k], b = t[(k + 1) % 3];
            balance[std::minmax(a, b)] += a < b ? 1 : -1;
        }
    return static_cast<std::size_t>(std::ranges::count_if(balance, [](const auto& edge) { return edge.second != 0; }));
}

Mesh united(const Mesh& a, const Mesh& b) {
    const Mesh* operands[] = {&a, &b};
    Progress progress;
    auto done = combine(Operation::union_of, operands, progress);
    REQUIRE(done);
    return done->mesh;
}

}  // namespace

TEST_CASE("a skin that stands out from a body vanishes, and the body stays as it was") {
    const Mesh mesh = united(make_box({0, 0, 0}, {1, 1, 1}), make_box({1, 0.25, 0}, {2, 0.5, thickness}));
    LiveFaces live = live_of(mesh);
    REQUIRE(open_edges(live) == 0);
    const auto [up, down] = layers_of(live);
    const FlatRegion region = flat_region_at(live, up, down, 4 * thickness, true);
    REQUIRE(region.faces.size() >= 4);
    Progress progress;
    const auto made = flatten_layers(live, region, plane_grid, Precision::double_precision, progress);
    REQUIRE(made);
    CHECK(!made->empty());
    CHECK(open_edges(live) == 0);
    const Mesh left = as_mesh(LiveFaces(live).result());
    CHECK(bounds(left).high.x == 1);
    CHECK(signed_volume(left) == Approx(1));
    CHECK(live.largest_move() <= 2 * thickness);
}

TEST_CASE("layers with triangulations of their own cancel where they cover each other") {
    // A plate as thick as nothing, whose sides have their diagonals across each other.
    const Mesh plate = make_box({0, 0, 0}, {3, 2, thickness});
    LiveFaces live = live_of(plate);
    const auto [up, down] = layers_of(live);
    Progress progress;
    const FlatRegion region = flat_region_at(live, up, down, 4 * thickness, true);
    CHECK(region.faces.size() == plate.faces.size());
    REQUIRE(flatten_layers(live, region, plane_grid, Precision::double_precision, progress));
    CHECK(live.alive_count() == 0);
}

TEST_CASE("layers with the same corners cancel, too, as do the walls between them") {
    const Point2 outline[] = {{0, 0}, {4, 0}, {1, 3}};
    LiveFaces live = live_of(make_prism(outline, 0, thickness));
    const auto [up, down] = layers_of(live);
    Progress progress;
    REQUIRE(flatten_layers(live, flat_region_at(live, up, down, 4 * thickness, true), plane_grid,
                           Precision::double_precision, progress));
    CHECK(live.alive_count() == 0);
}

TEST_CASE("one layer stays as it is, and faces that stand on each other are no layers") {
    const Mesh cube = make_box({0, 0, 0}, {1, 1, 1});
    LiveFaces live = live_of(cube);
    std::size_t regions = 0;
    for (std::uint32_t f = 0; f < live.size(); ++f)
        for (std::uint32_t g = 0; g < f; ++g) {
            const FlatRegion region = flat_region_at(live, f, g, thickness, true);
            if (region.faces.empty()) continue;
            ++regions;
            CHECK(region.faces.size() == 2);
            Progress progress;
            const auto made = flatten_layers(live, region, plane_grid, Precision::double_precision, progress);
            REQUIRE(made);
            CHECK(made->empty());
        }
    CHECK(regions == 6);
    CHECK(live.alive_count() == cube.faces.size());
}

TEST_CASE("points that are put on the plane's grid take what hangs on them along") {
    const Mesh mesh = united(make_box({0, 0, 0}, {1, 1, 1}), make_box({1, 0.2, 0}, {2, 0.6, thickness}));
    LiveFaces live = live_of(mesh);
    const auto [up, down] = layers_of(live);
    const FlatRegion region = flat_region_at(live, up, down, 4 * thickness, true);
    PlaneGrid coarse{0x1p-30};
    for (const std::uint32_t f : region.faces)
        for (const VertexId v : live.face(f).corners) coarse.points.insert(v.value());
    Progress progress;
    REQUIRE(flatten_layers(live, region, coarse, Precision::double_precision, progress));
    CHECK(open_edges(live) == 0);
    CHECK(signed_volume(as_mesh(LiveFaces(live).result())) == Approx(1).epsilon(1e-8));
    CHECK(live.largest_move() <= 4 * coarse.width);
}

TEST_CASE("around a fault in a plate there are a few faces, and of a skin all") {
    constexpr std::uint32_t across = 40;
    Mesh plate;
    auto add_sheet = [&](double z, bool up) {
        const auto first = static_cast<std::uint32_t>(plate.points.size());
        for (std::uint32_t y = 0; y <= across; ++y)
            for (std::uint32_t x = 0; x <= across; ++x) plate.points.push_back({double(x), double(y), z});
        for (std::uint32_t y = 0; y < across; ++y)
            for (std::uint32_t x = 0; x < across; ++x) {
                const std::uint32_t a = first + y * (across + 1) + x, b = a + across + 1;
                for (Triangle t : {Triangle{VertexId(a), VertexId(a + 1), VertexId(b + 1)},
                                   Triangle{VertexId(a), VertexId(b + 1), VertexId(b)}}) {
                    if (!up) std::swap(t[1], t[2]);
                    plate.faces.push_back(t);
                }
            }
    };
    add_sheet(0, true);
    const std::size_t sheet = plate.faces.size();
    const LiveFaces one = live_of(plate);
    CHECK(flat_region_at(one, 1640, 1641, thickness, false).faces.size() < 200);
    CHECK(flat_region_at(one, 1640, 1641, thickness, true).faces.size() == sheet);
    // The other side hangs together with it along one edge of the plate.
    add_sheet(thickness, false);
    for (Triangle& t : plate.faces)
        for (VertexId& v : t)
            if (v.value() >= (across + 1) * (across + 1) && plate.points[v].x == 0)
                v = VertexId(v.value() - (across + 1) * (across + 1));
    const LiveFaces skin = live_of(plate);
    CHECK(flat_region_at(skin, 0, static_cast<std::uint32_t>(sheet), 4 * thickness, false).faces.size() == 2 * sheet);
}
