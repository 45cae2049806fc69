// Operands that lie on each other but for their last digits.
#include "core/combine/near_operands.h"

#include "core/arrange/operands.h"
#include "core/io/mesh_file.h"
#include "tests/combine/near.h"

using namespace anvil;
using namespace anvil::test;

namespace {

std::vector<std::shared_ptr<const Operand>> all_ready(std::span<const Mesh> meshes) {
    Progress progress;
    auto made = all_of(make_operands(
        meshes.size(), [&](std::size_t i) { return make_operand(meshes[i], Taken::repaired, progress); }));
    REQUIRE(made);
    return *made;
}

/// The farthest that an operand's points moved; none where all operands stay as they are.
double moved(const Mesh& a, const Mesh& b) {
    Progress progress;
    const std::vector<Mesh> both{a, b};
    const auto given = all_ready(both), now = with_near_points_one(given, progress);
    REQUIRE(now.size() == 2);
    CHECK(now[0] == given[0]);
    CHECK((now[1] == given[1]) == (now[1]->moved == 0));
    return now[1]->moved;
}

Mesh turned_by(const Mesh& mesh, double by) { return transformed(mesh, rotation(by, {0.36, 0.48, 0.8})); }

}  // namespace

TEST_CASE(
    "surfaces a few last digits apart, whose crossings doubles cannot hold, become one before they are arranged") {
    const Mesh ball = make_icosphere({0.3, -1, 2}, 10, 3);
    for (const double by : {1e-15, 3e-15}) {
        const Mesh other = turned_by(ball, by);
        const double most = 11 * by + 4e-15;
        INFO(by);
        const double far = moved(ball, other);
        CHECK(far > 0);
        CHECK(far <= most);
        for (const Precision precision : {Precision::double_precision, Precision::single_precision}) {
            const Combined both = combined_pair(Operation::union_of, ball, other, precision);
            CHECK(both.mesh.faces.size() == ball.faces.size());
            CHECK(both.curves.empty());  // thousands of stretches of noise before
            REQUIRE(both.flush.size() == 1);
            CHECK(both.flush[0].area == Approx(surface_area(ball)));
            CHECK(both.largest_move >= far);
            CHECK(says(both, "taken as one"));
            CHECK(inspected(both.mesh).print_ready);
            if (precision == Precision::double_precision)
                CHECK(welded(both.mesh).points.size() == welded(ball).points.size());
            const Combined none = combined_pair(Operation::difference, ball, other, precision);
            CHECK(none.empty);
            CHECK(none.reason.find("too thin") != std::string::npos);
            const Combined pieces = combined_pair(Operation::pieces, ball, other, precision);
            CHECK(pieces.pieces() == 1);
            CHECK(says(pieces, "too thin"));
        }
    }
}

TEST_CASE("operands stay where their crossings can be kept, or where they only nearly touch in places") {
    const Mesh ball = make_icosphere({0.3, -1, 2}, 10, 3);
    CHECK(moved(ball, ball) == 0);
    CHECK(moved(ball, turned_by(ball, 1e-9)) == 0);
    CHECK(moved(ball, transformed(ball, translation({20, 0, 0}))) == 0);
    // Corners that doubles hold, 16 last digits apart: the union is as much longer, exactly.
    const Mesh box = make_box({0, 0, 0}, {10, 10, 10}), longer = transformed(box, translation({0x1p-45, 0, 0}));
    CHECK(moved(box, longer) == 0);
    const Combined both = combined_pair(Operation::union_of, box, longer, Precision::double_precision);
    CHECK(bounds(both.mesh).high.x == 10 + 0x1p-45);
    CHECK(bounds(both.mesh).low.x == 0);
    // A quarter of the points are near others.
    Mesh part = turned_by(ball, 1e-15);
    for (Vec3& p : part.points)
        if (p.x > -5) p = p + Vec3{p.x + 5, 0, 0} * 0.1;
    CHECK(moved(ball, part) == 0);
}

TEST_CASE("an operand with points moved knows its faces by their numbers as they were given") {
    Mesh ball = make_icosphere({0.3, -1, 2}, 10, 3);
    Mesh other = turned_by(ball, 1e-15);
    other.materials = {{"upper", {}}, {"lower", {}}};
    for (const FaceId f : ids<FaceId>(other.faces.size())) other.material.push_back(face_middle(other, f).z < 2);
    Progress progress;
    const std::vector<Mesh> both{ball, other};
    const auto now = with_near_points_one(all_ready(both), progress);
    REQUIRE(now[1]->moved > 0);
    for (const FaceId f : ids<FaceId>(now[1]->mesh.faces.size())) {
        const FaceId given = now[1]->origin[f.value()];
        REQUIRE(norm(face_middle(now[1]->mesh, f) - face_middle(other, given)) < 1e-13);
        REQUIRE(now[1]->material_of(given)->name == (face_middle(other, given).z < 2 ? "lower" : "upper"));
    }
    // What is left of the other body alone has its materials.
    const Combined left = combined_pair(Operation::intersection, other, ball, Precision::double_precision);
    for (const FaceId f : ids<FaceId>(left.mesh.faces.size()))
        REQUIRE(left.mesh.material_of(f) == (face_middle(left.mesh, f).z < 2 ? 1u : 0u));
}

TEST_CASE("real bodies apart by last digits give the same, whichever of seven operations asks") {
    for (const char* name : {"joint", "sphere", "elephant"}) {
        const auto read = read_mesh(std::filesystem::path(ANVIL_REAL_MESHES) / (std::string(name) + ".off"));
        if (!read) {
            WARN("libcgal-demo's data is not there; nothing was combined");
            return;
        }
        const Mesh body = welded(*read);
        INFO(name);
        const Mesh other = turned_by(body, 1e-15);
        const double volume = signed_volume(body), skin = surface_area(body) * bounds(body).diagonal() * 1e-13;
        for (const Operation operation : {Operation::union_of, Operation::intersection, Operation::difference,
                                          Operation::reverse_difference, Operation::split, Operation::inlay}) {
            const Combined c = combined_pair(operation, body, other, Precision::double_precision);
            INFO(word(operation));
            const bool nothing = operation == Operation::difference || operation == Operation::reverse_difference;
            CHECK(c.empty == nothing);
            if (!c.empty) CHECK(inspected(c.mesh).print_ready);
            CHECK(std::fabs(signed_volume(c.mesh) - (nothing ? 0 : volume)) <= skin);
        }
    }
}
