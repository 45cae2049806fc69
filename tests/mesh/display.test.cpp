// Meshes made for showing: cut finer, and coloured.
#include "core/mesh/display.h"

#include <set>

#include "core/mesh/colouring.h"
#include "core/mesh/refine.h"
#include "tests/support/support.h"

using namespace anvil;
using namespace anvil::test;

TEST_CASE("a refined mesh is the same surface in faces no longer than asked for, and closed where it was") {
    for (const double longest : {30.0, 4.0, 1.3}) {
        const Mesh box = make_box({0, 0, 0}, {10, 4, 2});
        const Mesh fine = refined(box, longest, 100'000);
        for (const Triangle& t : fine.faces)
            for (std::size_t k = 0; k < 3; ++k)
                REQUIRE(norm(fine.points[t[(k + 1) % 3]] - fine.points[t[k]]) <= longest);
        CHECK(inspected(fine).print_ready);
        CHECK(signed_volume(fine) == Approx(80));
        CHECK(surface_area(fine) == Approx(surface_area(box)));
        for (const VertexId v : ids<VertexId>(box.points.size())) CHECK(fine.points[v] == box.points[v]);
    }
    CHECK(refined(make_box({0, 0, 0}, {10, 4, 2}), 0.01, 500).faces.size() <= 500);
}

TEST_CASE("colours by shell and by region: as many as there are, neighbours in number apart") {
    Mesh two = make_box({0, 0, 0}, {1, 1, 1});
    append(two, make_box({3, 0, 0}, {4, 1, 1}));
    auto colours = [](const Mesh& m) {
        std::vector<std::uint32_t> used(m.material.begin(), m.material.end());
        std::ranges::sort(used);
        used.erase(std::unique(used.begin(), used.end()), used.end());
        return used.size();
    };
    CHECK(colours(coloured_by_shell(two)) == 2);
    CHECK(colours(coloured_by_region(two, 28)) == 12);
    CHECK(colours(coloured_by_region(make_icosphere({0, 0, 0}, 1, 3), 28)) == 1);
    const Mesh m = coloured_by_shell(two);
    for (std::size_t n = 1; n < m.materials.size(); ++n) {
        const auto a = *m.materials[n - 1].colour, b = *m.materials[n].colour;
        int apart = 0;
        for (std::size_t k = 0; k < 3; ++k) apart += std::abs(int(a[k]) - int(b[k]));
        CHECK(apart > 60);
    }
}

TEST_CASE("displays: all edges on request, and colours per point as given") {
    const Mesh box = make_box({0, 0, 0}, {1, 1, 1});
    CHECK(make_display(box).creases.size() == 12 * 2 * 4);
    CHECK(make_display(box, 0).creases.size() == 18 * 2 * 4);
    const std::vector<Tint> tints(box.points.size(), Tint{1, 2, 3});
    const DisplayMesh coloured = make_display(box, 28, tints);
    REQUIRE(coloured.tints.size() == 4 * box.points.size());
    CHECK(coloured.tints[2] == 3);
    CHECK(coloured.tints[3] == 255);
}

TEST_CASE(
    "a display for a moment has the same points and faces as the lasting one, in the colours of their materials") {
    Mesh two = make_box({0, 0, 0}, {1, 1, 1});
    two.materials = {{"a", std::array<std::uint8_t, 3>{10, 20, 30}}, {"b", std::array<std::uint8_t, 3>{40, 50, 60}}};
    for (FaceId f : ids<FaceId>(two.faces.size())) two.material.push_back(f.value() < 6 ? 0 : 1);
    for (const Mesh& mesh : {two, make_icosphere({3, 4, 5}, 2, 2)}) {
        const DisplayMesh lasting = make_display(mesh), quick = make_quick_display(mesh);
        CHECK(quick.creases.empty());
        CHECK(quick.center == lasting.center);
        // Triangles as places and colours, whatever their order and numbers.
        auto told = [](const DisplayMesh& d) {
            std::multiset<std::vector<float>> out;
            for (std::size_t t = 0; t < d.triangles.size(); t += 3) {
                std::vector<std::vector<float>> corners;
                for (std::size_t k = 0; k < 3; ++k) {
                    const std::size_t v = d.triangles[t + k];
                    auto& c =
                        corners.emplace_back(d.positions.begin() + long(3 * v), d.positions.begin() + long(3 * v + 3));
                    if (!d.tints.empty())
                        c.insert(c.end(), d.tints.begin() + long(4 * v), d.tints.begin() + long(4 * v + 4));
                }
                std::ranges::rotate(corners, std::ranges::min_element(corners));
                auto& all = corners[0];
                for (int k = 1; k < 3; ++k) all.insert(all.end(), corners[k].begin(), corners[k].end());
                out.insert(all);
            }
            return out;
        };
        CHECK(told(quick) == told(lasting));
        CHECK(told(quick).size() == mesh.faces.size());
    }
    const Measures before = measure(make_box({0, 0, 0}, {2, 3, 4}));
    const Measures now = measure_as(before, make_box({0, 0, 0}, {2, 3, 5}));
    CHECK(now.volume == Approx(30));
    CHECK(now.bounds.high == Vec3{2, 3, 5});
    CHECK(now.shells == 1);
    CHECK(now.closed);
}
