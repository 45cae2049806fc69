// Results as the next program reads them: written as STL or PLY, read back, equal coordinates made one, inspected.
#include "core/combine/volume.h"
#include "core/io/mesh_file.h"
#include "tests/support/support.h"

using namespace anvil;
using namespace anvil::test;

namespace {

struct Delivered {
    Combined combined;
    Mesh read_back;
};

/// Combines for a format, writes and reads it, and demands that nothing is found.
Delivered delivered(Operation operation, const std::vector<Mesh>& operands, Precision precision,
                    ContactRule contact = ContactRule::separate) {
    std::vector<const Mesh*> pointers;
    for (const Mesh& m : operands) pointers.push_back(&m);
    Progress progress;
    auto result = combine(operation, pointers, progress, {precision, contact});
    REQUIRE(result);
    const TempFolder folder;
    const auto file = folder / (precision == Precision::single_precision ? "out.stl" : "out.ply");
    REQUIRE(write_mesh(result->mesh, file));
    auto read = read_mesh(file);
    REQUIRE(read);
    Mesh back = welded(*read);
    std::string messages;
    for (const std::string& m : result->messages) messages += m + " ";
    INFO(messages << "moved by " << result->largest_move);
    CHECK(findings_text(inspected(back)) == "none");
    return {std::move(*result), std::move(back)};
}

constexpr Precision both_precisions[] = {Precision::single_precision, Precision::double_precision};
constexpr ContactRule both_rules[] = {ContactRule::separate, ContactRule::join};

}  // namespace

TEST_CASE("bodies that touch along an edge, in a point, or both: separated or joined, they print") {
    const Mesh a = make_box({0, 0, 0}, {10, 10, 10});
    const std::pair<const char*, Mesh> others[] = {
        {"edge on edge", make_box({10, 10, 0}, {20, 20, 10})},
        {"part of an edge", make_box({10, 10, 2}, {20, 20, 7})},
        {"corner on corner", make_box({10, 10, 10}, {20, 20, 20})},
        {"corner on face",
         transformed(make_box({0, 0, 0}, {4, 4, 4}), translation({5, 5, 10}) * rotation(0.6, {1, -1, 0}))},
        {"edge on face", moved(turned(make_box({0, 0, 0}, {4, 4, 4}), 0.78539816339744828, {1, 0, 0}), {3, 5, 10})}};
    for (const Precision precision : both_precisions)
        for (const ContactRule rule : both_rules)
            for (const auto& [name, b] : others) {
                INFO(name << (precision == Precision::single_precision ? ", single" : ", double")
                          << (rule == ContactRule::join ? ", join" : ", separate"));
                const Delivered d = delivered(Operation::union_of, {a, b}, precision, rule);
                CHECK(signed_volume(d.read_back) == Approx(1000 + signed_volume(b)).epsilon(1e-4));
                if (d.combined.pinched_points == 0) continue;
                CHECK(d.combined.contact_step > 0);
                CHECK(d.combined.contact_step < 0.01);
                CHECK(find_shells(d.read_back).count == (rule == ContactRule::join ? 1u : 2u));
                CHECK(d.combined.messages.size() == 1);
            }
}

TEST_CASE("a chequerboard of cubes touches along every edge, and prints both ways") {
    std::vector<Mesh> cubes;
    for (int x = 0; x < 3; ++x)
        for (int y = 0; y < 3; ++y)
            for (int z = 0; z < 3; ++z)
                if ((x + y + z) % 2 == 0)
                    cubes.push_back(make_box({double(x), double(y), double(z)}, {x + 1.0, y + 1.0, z + 1.0}));
    REQUIRE(cubes.size() == 14);
    for (const Precision precision : both_precisions) {
        const Delivered apart = delivered(Operation::union_of, cubes, precision);
        CHECK(signed_volume(apart.read_back) == Approx(14).epsilon(1e-4));
        CHECK(find_shells(apart.read_back).count == 14);
        CHECK(apart.combined.pinched_edges > 0);
        const Delivered joined = delivered(Operation::union_of, cubes, precision, ContactRule::join);
        CHECK(signed_volume(joined.read_back) == Approx(14).epsilon(1e-3));
        CHECK(find_shells(joined.read_back).count == 2);  // the outside, and the hollow in the middle
    }
}

TEST_CASE("a cut that leaves a pinched wall prints") {
    // The bore touches the side of the block along a line.
    const Mesh block = make_box({-5, -5, 0}, {5, 5, 4}), bore = moved(make_frustum(2, 2, -1, 5, 64), {3, 0, 0});
    for (const Precision precision : both_precisions)
        for (const ContactRule rule : both_rules) delivered(Operation::difference, {block, bore}, precision, rule);
}

TEST_CASE("single precision: results of turned bodies stand after rounding to STL") {
    for (unsigned seed = 1; seed <= 20; ++seed) {
        std::mt19937 random(seed);
        std::uniform_real_distribution<double> unit(-1, 1);
        auto pose = [&](const Mesh& m) {
            return moved(turned(m, 3 * unit(random), {unit(random), unit(random), 1.1}),
                         {100 + 3 * unit(random), 3 * unit(random), 3 * unit(random)});
        };
        INFO("seed " << seed);
        const Mesh a = pose(make_icosphere({0, 0, 0}, 6, 3)), b = pose(make_torus(5, 2, 40, 20));
        for (const Operation op : {Operation::union_of, Operation::difference, Operation::intersection}) {
            const Delivered d = delivered(op, {a, b}, Precision::single_precision);
            const Delivered exact = delivered(op, {a, b}, Precision::double_precision);
            CHECK(signed_volume(d.read_back) == Approx(signed_volume(exact.read_back)).epsilon(1e-5));
            CHECK(d.combined.largest_move < 1e-4);
        }
    }
}

TEST_CASE("nudged and turned copies: from a thousandth to a billionth of the size, both formats") {
    const Mesh a = make_torus(5, 2, 24, 12);
    for (const double nudge : {1e-3, 1e-6, 1e-9, 1e-12, 1e-15})
        for (const Precision precision : both_precisions)
            for (const Operation op : {Operation::union_of, Operation::intersection}) {
                INFO("nudged by " << nudge << " of the size, "
                                  << (precision == Precision::single_precision ? "single" : "double"));
                const Delivered d = delivered(op, {a, moved(a, Vec3{1, 0.7, 0.3} * (14 * nudge))}, precision);
                CHECK(signed_volume(d.read_back) == Approx(signed_volume(a)).epsilon(20 * nudge + 1e-5));
            }
}

TEST_CASE("volumes told without a mesh are those of the mesh") {
    const Mesh a = make_icosphere({100, 0, 0}, 6, 4), b = moved(make_torus(5, 2, 40, 20), {101, 1, 2}),
               c = make_box({96, -1, -9}, {99, 1, 9});
    const Mesh* operands[] = {&a, &b, &c};
    Progress progress;
    const auto prepared = prepare(operands, progress);
    REQUIRE(prepared);
    const VolumeTeller volumes(*prepared);
    using Op = Operation;
    for (const auto& steps : std::vector<std::vector<CombineStep>>{{},
                                                                   {{Op::union_of, 1, {}}},
                                                                   {{Op::difference, 1, {}}, {Op::difference, 2, {}}},
                                                                   {{Op::intersection, 2, {}}}}) {
        const auto result = combine(*prepared, steps, progress);
        REQUIRE(result);
        CHECK(volumes.volume(pieces_of(prepared->cells, steps)) == Approx(signed_volume(result->mesh)).epsilon(1e-11));
    }
}

TEST_CASE("a thin body whose contacts need a large step to come apart is not taken for a skin that vanishes") {
    // Two tiles of 0.02 mm that touch in a corner, on a part of 300 mm: steps up to half a millimetre are tried.
    Mesh thin = make_box({0, 0, 0}, {100, 100, 0.02});
    append(thin, make_box({100, 100, 0.02}, {300, 300, 0.04}));
    for (const Operation operation : {Operation::union_of, Operation::intersection}) {
        const Combined result = combined(operation, {thin, thin});
        CHECK(signed_volume(result.mesh) == Approx(100 * 100 * 0.02 + 200 * 200 * 0.02).epsilon(1e-3));
    }
}
