// Plane cuts of real meshes, closed and open, against the reference's clip and split.
#include <random>

#include "core/io/mesh_file.h"
#include "core/job/edits.h"
#include "core/job/evaluate.h"
#include "core/mesh/weld.h"
#include "tests/reference/cgal_reference.h"
#include "tests/support/support.h"

using namespace anvil;
using namespace anvil::test;

TEST_CASE("plane cuts of real meshes are the reference's: volumes on both sides, and parts and areas left open") {
    std::mt19937 random(20261130);
    std::uniform_real_distribution<double> unit(-1, 1);
    std::size_t clipped = 0, split = 0, meshes = 0;
    for (const auto& file : real_meshes()) {
        const auto read = read_mesh(file);
        if (!read || read->faces.size() < 100 || read->faces.size() > 20'000) continue;
        const Inspection inspection = inspected(*read);
        if (!inspection.print_ready) continue;
        Mesh mesh = inspection.mesh;
        const Box box = bounds(mesh);
        for (Vec3& p : mesh.points) p = (p - box.center()) * (100 / box.diagonal());
        INFO(file.filename().string());
        ++meshes;
        const Vec3 origin{8 * unit(random), 8 * unit(random), 8 * unit(random)};
        const Vec3 normal{unit(random), unit(random), unit(random)};
        Job job;
        add_part(job, "body", std::make_shared<const Mesh>(mesh));
        const std::string step =
            add_treatment(job, {job.work()}, "cut-plane", {{"origin", origin}, {"normal", normal}});
        Evaluator evaluator;
        Progress progress;
        auto volume_of = [&](const char* keep) {
            edit_step(job, step, [&](Step& s) { s.values["keep"] = std::string(keep); });
            const auto done = evaluator.evaluate(job, progress);
            REQUIRE(done);
            return done->first_error ? -1 : signed_volume(done->combined->mesh);
        };
        for (const auto& [keep, sign] : {std::pair("back", 1.0), std::pair("front", -1.0)})
            if (const auto reference = reference_clipped_volume(mesh, origin, normal * sign);
                reference && *reference > 0) {
                CHECK(volume_of(keep) == Approx(*reference).epsilon(1e-9).margin(1e-6));
                ++clipped;
            }
        const auto reference = reference_split(mesh, origin, normal);
        if (!reference) continue;
        edit_step(job, step, [&](Step& s) { s.values["cap"] = false; });
        std::size_t parts = 0;
        double area = 0;
        for (const char* keep : {"front", "back"}) {
            edit_step(job, step, [&](Step& s) { s.values["keep"] = std::string(keep); });
            const auto open = evaluator.evaluate(job, progress);
            REQUIRE(open);
            CHECK(!open->first_error);
            parts += find_shells(welded(open->combined->mesh)).count;
            area += surface_area(open->combined->mesh);
        }
        CHECK(area == Approx(reference->area).epsilon(1e-9));
        CHECK(parts == reference->components);
        ++split;
    }
    if (meshes == 0) {
        WARN("libcgal-demo's data is not there; nothing was compared");
        return;
    }
    CHECK(meshes >= 30);
    CHECK(clipped >= meshes);
    CHECK(split >= meshes / 2);
}
