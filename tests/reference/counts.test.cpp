// The counts of every mesh in libcgal-demo's data against CGAL's own.
#include "core/io/mesh_file.h"
#include "tests/reference/cgal_reference.h"
#include "tests/support/support.h"

using namespace anvil;
using namespace anvil::test;

namespace {

struct Compared {
    std::size_t files = 0, as_mesh = 0;
};
Compared compare_findings(const std::vector<std::filesystem::path>& files) {
    if (files.empty()) WARN("libcgal-demo's data is not there; nothing was compared");
    Compared out;
    for (const auto& file : files) {
        auto mesh = read_mesh(file);
        if (!mesh) continue;  // other kinds of file under the same ending
        INFO(file.filename().string());
        const Inspection ours = inspected(*mesh);
        if (ours.count(FindingKind::zero_length_edges) > 0) continue;
        const ReferenceCounts theirs = reference_counts(ours.mesh);
        ++out.files;
        CHECK(ours.count(FindingKind::degenerate_faces) == theirs.degenerate_faces);
        CHECK(ours.count(FindingKind::self_intersections) == theirs.self_intersections);
        if (!theirs.is_manifold_mesh) {
            CHECK(ours.count(FindingKind::nonmanifold_edges) + ours.count(FindingKind::misoriented_edges) +
                      ours.count(FindingKind::nonmanifold_vertices) >
                  0);
            continue;
        }
        ++out.as_mesh;
        CHECK(ours.count(FindingKind::nonmanifold_edges) == 0);
        CHECK(ours.count(FindingKind::misoriented_edges) == 0);
        CHECK(ours.count(FindingKind::open_edges) == theirs.open_edges);
        CHECK(ours.count(FindingKind::nonmanifold_vertices) == theirs.nonmanifold_vertices);
        if (theirs.nonmanifold_vertices == 0) CHECK(ours.count(FindingKind::holes) == theirs.holes);
        if (ours.closed) {
            CHECK(ours.measures.volume == Approx(theirs.volume).epsilon(1e-9));
            if (theirs.self_intersections == 0 && theirs.degenerate_faces == 0)
                CHECK(ours.print_ready == theirs.outward);
        }
    }
    return out;
}

}  // namespace

TEST_CASE("findings of real meshes equal the reference's, a sample") {
    // The largest are left to the sweep: there the reference takes a minute for one.
    auto files = some_real_meshes(4);
    std::erase_if(files, [](const auto& file) { return file_size(file) > 1'500'000; });
    const Compared compared = compare_findings(files);
    CHECK(2 * compared.files >= files.size());
}

TEST_CASE("findings of all real meshes equal the reference's", "[.long]") {
    const Compared compared = compare_findings(real_meshes());
    CHECK(compared.files > 120);
    CHECK(compared.as_mesh > 100);
}
