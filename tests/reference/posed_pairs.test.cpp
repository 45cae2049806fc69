// Sound real meshes, posed against each other: the volumes of the three operations must add up, and be the
// reference's where that can do the pair.
#include <random>

#include "core/io/mesh_file.h"
#include "tests/reference/cgal_reference.h"
#include "tests/support/support.h"

using namespace anvil;
using namespace anvil::test;

namespace {

/// Sound closed meshes of a size that keeps the test short, scaled to a diagonal of 100 mm about the origin.
std::vector<std::pair<std::string, Mesh>> sound_meshes() {
    std::vector<std::pair<std::string, Mesh>> out;
    for (const auto& file : real_meshes()) {
        auto mesh = read_mesh(file);
        if (!mesh || mesh->faces.size() < 300 || mesh->faces.size() > 20000) continue;
        const Inspection inspection = inspected(*mesh);
        if (!inspection.print_ready) continue;
        Mesh m = inspection.mesh;
        const Box box = bounds(m);
        for (Vec3& p : m.points) p = (p - box.center()) * (100 / box.diagonal());
        out.emplace_back(file.stem().string(), std::move(m));
    }
    return out;
}

}  // namespace

TEST_CASE("inclusion and exclusion hold on posed pairs of real meshes, as the reference finds") {
    const auto meshes = sound_meshes();
    if (meshes.empty()) {
        WARN("libcgal-demo's data is not there; nothing was compared");
        return;
    }
    REQUIRE(meshes.size() >= 31);
    std::mt19937 random(20260101);
    std::uniform_real_distribution<double> unit(-1, 1);
    std::size_t pairs = 0, referenced = 0;
    for (std::size_t i = 0; i + 1 < meshes.size(); ++i) {
        const Mesh& a = meshes[i].second;
        const Mesh b = moved(turned(meshes[i + 1].second, 3 * unit(random), {unit(random), unit(random), 1.1}),
                             {10 * unit(random), 10 * unit(random), 10 * unit(random)});
        INFO(meshes[i].first << " and " << meshes[i + 1].first);
        double v[3];
        constexpr Operation operations[] = {Operation::union_of, Operation::difference, Operation::intersection};
        for (int k = 0; k < 3; ++k) {
            v[k] = signed_volume(combined(operations[k], {a, b}).mesh);
            if (const auto reference = reference_combined_volume(operations[k], a, b)) {
                CHECK(v[k] == Approx(*reference).epsilon(1e-9).margin(1e-6));
                ++referenced;
            }
        }
        const double va = signed_volume(a), vb = signed_volume(b);
        CHECK(v[0] + v[2] == Approx(va + vb).epsilon(1e-10));
        CHECK(v[1] == Approx(va - v[2]).epsilon(1e-10).margin(1e-6));
        ++pairs;
    }
    CHECK(pairs >= 30);
    CHECK(referenced >= pairs);
}

TEST_CASE("no operation fails on identical, nudged and turned copies of real meshes, in either precision") {
    const auto meshes = sound_meshes();
    if (meshes.empty()) {
        WARN("libcgal-demo's data is not there; nothing was combined");
        return;
    }
    std::size_t done = 0;
    for (std::size_t i = 0; i < meshes.size(); ++i) {
        const Mesh& a = meshes[i].second;
        if (a.faces.size() > 6000) continue;
        // Each mesh gets one of the poses and one of the precisions; all poses come up many times.
        const double small = std::pow(10.0, -3.0 - static_cast<double>(3 * (i % 5)));
        const Mesh b = i % 3 == 0   ? a
                       : i % 3 == 1 ? moved(a, Vec3{1, 0.7, 0.3} * (100 * small))
                                    : turned(a, std::max(small, 1e-9), {1, 2, 3});
        const Mesh* operands[] = {&a, &b};
        const Precision precision = i % 2 == 0 ? Precision::double_precision : Precision::single_precision;
        for (const Operation op : {Operation::union_of, Operation::difference, Operation::intersection}) {
            INFO(meshes[i].first << ", pose " << i % 3 << ", " << small << ", " << word(op));
            Progress progress;
            const auto result = combine(op, operands, progress, {.precision = precision});
            REQUIRE(result);
            if (!result->empty) CHECK(findings_text(inspected(result->mesh)) == "none");
            ++done;
        }
    }
    CHECK(done >= 80);
}
