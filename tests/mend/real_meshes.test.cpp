// Every broken real mesh is mended, also for a format of single precision, or told to be a sheet.
#include <Eigen/Eigenvalues>

#include "core/io/mesh_file.h"
#include "core/mend/mend.h"
#include "core/mend/written.h"
#include "tests/support/support.h"

using namespace anvil;
using namespace anvil::test;

namespace {

// Under the sanitizers the large ones would take a quarter of an hour.
constexpr std::size_t most_faces = instrumented ? 3000 : 1000000;

/// By principal axes, independently of what mending goes by.
bool lies_in_a_plane(const Mesh& mesh) {
    Eigen::Matrix3Xd at(3, static_cast<Eigen::Index>(mesh.points.size()));
    for (const VertexId v : ids<VertexId>(mesh.points.size()))
        at.col(v.value()) = Eigen::Vector3d(mesh.points[v].x, mesh.points[v].y, mesh.points[v].z);
    at.colwise() -= at.rowwise().mean().eval();
    const Eigen::SelfAdjointEigenSolver<Eigen::Matrix3d> axes(at * at.transpose());
    return std::sqrt(std::max(0.0, axes.eigenvalues()[0])) < 1e-6 * std::sqrt(axes.eigenvalues()[2]);
}

struct Count {
    std::size_t mended = 0, sheets = 0, closed = 0;
};
Count mend_all(const std::vector<std::filesystem::path>& files) {
    if (files.empty()) WARN("libcgal-demo's data is not there; nothing was mended");
    Count out;
    for (const auto& file : files) {
        const auto mesh = read_mesh(file);
        if (!mesh || mesh->empty() || mesh->faces.size() > most_faces) continue;
        INFO(file.filename().string());
        for (const Precision precision : {Precision::double_precision, Precision::single_precision}) {
            INFO((precision == Precision::single_precision ? "single" : "double"));
            Progress progress;
            const auto done = mend(*mesh, whole_plan(), {.precision = precision}, progress);
            REQUIRE(done);
            INFO(done->remains());
            if (done->before.print_ready) continue;
            if (done->sheet) {
                ++out.sheets;
                const auto solid = mend(*mesh, whole_plan(),
                                        {.sheets = SheetRule::thicken,
                                         .thickness = bounds(*mesh).diagonal() / 1000,
                                         .precision = precision},
                                        progress);
                REQUIRE(solid);
                INFO(solid->remains());
                CHECK(solid->after.print_ready);
                CHECK(solid->after.measures.volume > 0);
                const auto capped =
                    mend(*mesh, whole_plan(), {.sheets = SheetRule::close, .precision = precision}, progress);
                REQUIRE(capped);
                INFO(capped->remains());
                CHECK(capped->sheet == lies_in_a_plane(*mesh));
                CHECK(capped->after.print_ready != capped->sheet);
                out.closed += !capped->sheet;
                continue;
            }
            ++out.mended;
            CHECK(done->after.print_ready);
            CHECK(inspected(as_written(done->mesh, precision)).print_ready);
            CHECK(done->after.measures.volume > 0);
        }
    }
    return out;
}

}  // namespace

TEST_CASE("real meshes that are no sheets become print-ready; sheets by a thickness, or by closing: a sample") {
    const auto files = some_real_meshes(3);
    const Count count = mend_all(files);
    CHECK((files.empty() || count.mended + count.sheets > 0));
}

TEST_CASE("every real mesh that is no sheet becomes print-ready; sheets by a thickness, or by closing", "[.long]") {
    const auto files = real_meshes();
    const Count count = mend_all(files);
    if (files.empty()) return;
    CHECK(count.mended >= 2 * (most_faces > 3000 ? 36 : 15));
    CHECK(count.sheets >= 2 * (most_faces > 3000 ? 20 : 15));
    CHECK(count.closed >= 2 * (most_faces > 3000 ? 14 : 8));
}

TEST_CASE("overlapping shells keep the volume of what is inside any of them") {
    const auto files = real_meshes();
    const auto bones = std::ranges::find_if(files, [](const auto& f) { return f.filename() == "bones.off"; });
    if (bones == files.end()) {
        WARN("libcgal-demo's data is not there; nothing was mended");
        return;
    }
    const auto mesh = read_mesh(*bones);
    REQUIRE(mesh);
    Progress progress;
    const auto done = mend(*mesh, whole_plan(), {}, progress);
    REQUIRE(done);
    CHECK(done->after.print_ready);
    // By winding numbers, sampled independently of the engine: the share of random points that are inside.
    const Mesh whole = welded(*mesh);
    const Box box = bounds(whole);
    std::mt19937 random(1);
    std::size_t inside = 0, agree = 0;
    constexpr std::size_t samples = 2000;
    for (std::size_t i = 0; i < samples; ++i) {
        Vec3 p;
        for (int k = 0; k < 3; ++k) p[k] = std::uniform_real_distribution<double>(box.low[k], box.high[k])(random);
        const bool before = winding_number(whole, p) > 0.5, after = winding_number(done->mesh, p) > 0.5;
        inside += before;
        agree += before == after;
    }
    CHECK(inside > 100);
    CHECK(agree >= samples - 2);
}
