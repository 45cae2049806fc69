// Clean output: cuts that the result has no use for are taken back, exactly; flush regions become one on request.
#include <algorithm>

#include "core/arrange/arrangement.h"
#include "tests/support/support.h"

using namespace anvil;
using namespace anvil::test;

namespace {

Combined run(const std::vector<Mesh>& operands, const std::vector<CombineStep>& steps, bool merge_flush = false) {
    std::vector<const Mesh*> pointers;
    for (const Mesh& m : operands) pointers.push_back(&m);
    Progress progress;
    auto prepared = prepare(pointers, progress);
    REQUIRE(prepared);
    auto result = combine(*prepared, steps, progress, {.merge_flush = merge_flush});
    REQUIRE(result);
    CHECK(findings_text(inspected(result->mesh)) == "none");
    return std::move(*result);
}

using Op = Operation;
const Mesh block = make_box({0, 0, 0}, {10, 10, 10});
const Mesh bar = make_box({2, 2, -3}, {4, 4, 13});
const Mesh ball = make_icosphere({10, 10, 10}, 4, 3);

}  // namespace

TEST_CASE("a cut that is taken back leaves the base's own faces, bit for bit") {
    // Arranged with a bar and a ball through it, the base alone is the base again.
    for (const auto& steps : std::vector<std::vector<CombineStep>>{
             {}, {{Op::intersection, 1, {{Op::union_of, 0, {}}}}}, {{Op::difference, 1, {}}, {Op::union_of, 0, {}}}}) {
        const Combined result = run({block, bar, ball}, steps);
        CHECK(corner_sets(result.mesh) == corner_sets(block));
    }
    const Combined sphere = run({ball, block, bar}, {});
    CHECK(corner_sets(sphere.mesh) == corner_sets(ball));
}

TEST_CASE("an operand that is switched off leaves no trace beside one that cuts") {
    const Combined with = run({block, bar, ball}, {{Op::difference, 1, {}}});
    const Combined alone = run({block, bar}, {{Op::difference, 1, {}}});
    CHECK(with.mesh.faces.size() == alone.mesh.faces.size());
    CHECK(with.mesh.points.size() == alone.mesh.points.size());
    CHECK(signed_volume(with.mesh) == Approx(1000 - 40));
}

TEST_CASE("what is left of a face has as few triangles as its corners allow") {
    // Overlapping bars, united first: their common outline cuts the block, not their overlap.
    const Mesh other = make_box({3, 3, -3}, {6, 6, 13});
    const Combined result = run({block, bar, other}, {{Op::difference, 1, {{Op::union_of, 2, {}}}}});
    // Top and bottom: a square with a hole of eight corners; V - E + F of a disc with a hole gives 12 triangles each.
    std::size_t top = 0;
    for (FaceId f : ids<FaceId>(result.mesh.faces.size()))
        top += result.mesh.corner(f, 0).z == 10 && result.mesh.corner(f, 1).z == 10 && result.mesh.corner(f, 2).z == 10;
    // Corners more where source faces meet: two on the square's diagonal, one on the diagonal of each of eight walls.
    CHECK(top <= 12 + 2 + 8);
    CHECK(signed_volume(result.mesh) == Approx(1000 - 10 * (4 + 9 - 1)));
    const Combined merged = run({block, bar, other}, {{Op::difference, 1, {{Op::union_of, 2, {}}}}}, true);
    std::size_t merged_top = 0;
    for (FaceId f : ids<FaceId>(merged.mesh.faces.size()))
        merged_top +=
            merged.mesh.corner(f, 0).z == 10 && merged.mesh.corner(f, 1).z == 10 && merged.mesh.corner(f, 2).z == 10;
    CHECK(merged_top == 12);
}

TEST_CASE("full merge: stacked flush boxes are one box of twelve faces") {
    const std::vector<Mesh> stack{make_box({0, 0, 0}, {4, 4, 1}), make_box({0, 0, 1}, {4, 4, 2}),
                                  make_box({0, 0, 2}, {4, 4, 5}), make_box({1, 1, 0.5}, {3, 3, 4})};
    const std::vector<CombineStep> unite{{Op::union_of, 1, {}}, {Op::union_of, 2, {}}, {Op::union_of, 3, {}}};
    const Combined merged = run(stack, unite, true);
    CHECK(merged.mesh.faces.size() == 12);
    CHECK(merged.mesh.points.size() == 8);
    CHECK(signed_volume(merged.mesh) == Approx(80));
    CHECK(run(stack, unite).mesh.faces.size() == 4 + 3 * 8);  // each wall keeps its faces
}

TEST_CASE("full merge leaves the line where one material ends and another begins") {
    std::vector<Mesh> stack{make_box({0, 0, 0}, {4, 4, 1}), make_box({0, 0, 1}, {4, 4, 2}),
                            make_box({0, 0, 2}, {4, 4, 5})};
    const Material grey{"grey", {{120, 120, 120}}}, red{"red", {{200, 0, 0}}};
    for (std::size_t i = 0; i < 3; ++i) {
        // Lists of their own: equal materials with other numbers.
        stack[i].materials = i == 1 ? std::vector{red, grey} : std::vector{grey, red};
        stack[i].material.raw().assign(stack[i].faces.size(), i == 0 ? 0u : 1u);
    }
    Progress progress;
    const std::vector<const Mesh*> given{&stack[0], &stack[1], &stack[2]};  // grey, grey, red
    const Result<Combined> merged = combine(Op::union_of, given, progress, {.merge_flush = true});
    REQUIRE(merged);
    CHECK(findings_text(inspected(merged->mesh)) == "none");
    CHECK(merged->mesh.points.size() == 8 + 4);  // the corners, and the square in which grey and red meet
    CHECK(merged->mesh.faces.size() == 2 * 2 + 4 * 2 * 2);
    double area[2]{};
    for (FaceId f : ids<FaceId>(merged->mesh.faces.size()))
        area[merged->mesh.materials[merged->mesh.material_of(f)] == red] +=
            norm(cross(merged->mesh.corner(f, 1) - merged->mesh.corner(f, 0),
                       merged->mesh.corner(f, 2) - merged->mesh.corner(f, 0))) /
            2;
    CHECK(area[0] == Approx(16 + 4 * 4 * 2));
    CHECK(area[1] == Approx(16 + 4 * 4 * 3));
}

TEST_CASE("full merge keeps holes, steps and what is not flush") {
    const Combined merged = run({block, bar, ball, make_box({10, 2, 2}, {12, 5, 5})},
                                {{Op::difference, 1, {}}, {Op::difference, 2, {}}, {Op::union_of, 3, {}}}, true);
    const Combined plain = run({block, bar, ball, make_box({10, 2, 2}, {12, 5, 5})},
                               {{Op::difference, 1, {}}, {Op::difference, 2, {}}, {Op::union_of, 3, {}}});
    CHECK(signed_volume(merged.mesh) == Approx(signed_volume(plain.mesh)).epsilon(1e-12));
    CHECK(euler_characteristic(merged.mesh) == euler_characteristic(plain.mesh));
    CHECK(merged.mesh.faces.size() <= plain.mesh.faces.size());
}

TEST_CASE("a point that touches a face within stays when cuts of that face are taken back") {
    Mesh cavity;  // its tip is on the block's bottom, from within
    for (const Vec3& p : {Vec3{4, 4, 0}, {3, 3, 2}, {5, 3, 2}, {4, 5, 2}}) cavity.points.push_back(p);
    for (const auto& [a, b, c] : {std::array{0, 2, 1}, {0, 1, 3}, {0, 3, 2}, {1, 2, 3}})
        cavity.faces.push_back({VertexId(a), VertexId(b), VertexId(c)});
    const double volume = std::fabs(signed_volume(cavity));
    if (signed_volume(cavity) < 0) turn_over(cavity);
    // The last one is switched off, but has cut the bottom.
    const Combined result = run({block, cavity, make_box({5, 5, -1}, {7, 7, 1})}, {{Op::difference, 1, {}}});
    CHECK(result.pinched_points == 1);
    CHECK(result.contact_step > 0);
    CHECK(signed_volume(result.mesh) == Approx(1000 - volume));
}
