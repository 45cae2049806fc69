// All real meshes, sound or not, against each other and against copies of themselves: no operation fails, every result
// is sound, and the volumes of the regions add up. The whole of it takes ten minutes, so a run of all tests takes a
// part; `test_reference "[all]"` takes all.
#include "core/io/mesh_file.h"
#include "tests/support/support.h"

using namespace anvil;
using namespace anvil::test;

namespace {

/// Every mesh of the set that has faces, scaled to a diagonal of 100 mm about the origin.
std::vector<std::pair<std::string, Mesh>> all_meshes(std::size_t most_faces) {
    std::vector<std::pair<std::string, Mesh>> out;
    for (const auto& file : real_meshes()) {
        auto mesh = read_mesh(file);
        if (!mesh || mesh->empty() || mesh->faces.size() > most_faces) continue;
        Mesh m = welded(*mesh);
        const Box box = bounds(m);
        if (!(box.diagonal() > 0)) continue;
        for (Vec3& p : m.points) p = (p - box.center()) * (100 / box.diagonal());
        out.emplace_back(file.stem().string(), std::move(m));
    }
    return out;
}

/// vol(A or B) = vol(A less B) + vol(B less A) + vol(A and B), whatever A and B are taken for, and all are sound.
void check_regions(const std::string& what, const Mesh& a, const Mesh& b, Precision precision) {
    INFO(what << (precision == Precision::single_precision ? ", single" : ", double"));
    constexpr Operation operations[] = {Operation::union_of, Operation::difference, Operation::reverse_difference,
                                        Operation::intersection};
    const Mesh* operands[] = {&a, &b};
    double volume[4], area = 0, moved = 0;
    for (int k = 0; k < 4; ++k) {
        INFO(word(operations[k]));
        Progress progress;
        const auto result = combine(operations[k], operands, progress, {.precision = precision});
        REQUIRE(result);
        if (result->empty) {
            CHECK(!result->reason.empty());
        } else {
            const Inspection found = inspected(result->mesh);
            INFO(findings_text(found));
            CHECK((found.print_ready || result->surface));
        }
        volume[k] = result->surface ? 0 : signed_volume(result->mesh);
        area += surface_area(result->mesh);
        moved = std::max(moved, result->largest_move + result->contact_step);
    }
    // A surface that moves by so much changes the volume by no more than that times its area.
    CHECK(volume[0] == Approx(volume[1] + volume[2] + volume[3]).epsilon(1e-10).margin(1e-6 + 4 * moved * area));
}

/// The i-th of the poses of a copy.
constexpr int poses = 11;
Mesh copy_in_pose(const Mesh& a, int pose) {
    if (pose == 0) return a;
    if (pose <= 5) return moved(a, Vec3{1, 0.7, 0.3} * (100 * std::pow(10.0, -3 * pose)));
    constexpr double angles[] = {1e-9, 1e-7, 1e-6, 1e-4, 1e-2};
    return turned(a, angles[pose - 6], {1, 2, 3});
}

void check_all(std::size_t most_faces, int pose_step) {
    const auto meshes = all_meshes(most_faces);
    if (meshes.empty()) {
        WARN("libcgal-demo's data is not there; nothing was combined");
        return;
    }
    REQUIRE(meshes.size() > 60);
    for (std::size_t i = 0; i < meshes.size(); ++i) {
        const auto& [name, a] = meshes[i];
        const auto& [other, b] = meshes[(i + 1) % meshes.size()];
        const Precision precision = i % 2 == 0 ? Precision::double_precision : Precision::single_precision;
        check_regions(name + " and " + other, a, moved(turned(b, 0.7, {1, 2, 3}), {9.3, 3.7, 2.1}), precision);
        for (int pose = static_cast<int>(i) % pose_step; pose < poses; pose += pose_step)
            for (const Precision p : {Precision::double_precision, Precision::single_precision}) {
                if (pose_step > 1 && p != precision) continue;
                check_regions(name + ", pose " + std::to_string(pose), a, copy_in_pose(a, pose), p);
            }
    }
}

}  // namespace

TEST_CASE("regions of real meshes add up, sound meshes or not: each with the next one and with one copy") {
    check_all(3000, poses);
}

TEST_CASE(
    "copies turned by about the last digit of single precision are told apart or become one, and nothing crosses") {
    for (const auto& [name, mesh] : all_meshes(5000)) {
        if (name != "boeing" && name != "mpi" && name != "hand") continue;
        for (const int pose : {6, 7, 8})
            check_regions(name, mesh, copy_in_pose(mesh, pose), Precision::single_precision);
    }
}

TEST_CASE("regions of real meshes add up, each with copies in all poses, in both precisions", "[.all]") {
    check_all(3000, 1);
}
