// Sizes from the smallest to the largest: nothing here has a length built in.
#include <algorithm>
#include <limits>
#include <tuple>

#include "tests/support/support.h"

using namespace anvil;
using namespace anvil::test;

namespace {

Mesh scaled(Mesh mesh, double by) {
    for (Vec3& p : mesh.points) p = p * by;
    return mesh;
}

}  // namespace

TEST_CASE("powers of two of the size change nothing but the exponents, to both ends of the doubles") {
    const Mesh a = make_icosphere({0.1, 0.2, 0.3}, 5, 2),
               b = transformed(make_box({0, -2, -2}, {8, 2, 2}), rotation(0.3, {1, 2, 3}));
    for (const Operation operation : {Operation::union_of, Operation::difference, Operation::intersection}) {
        const Combined plain = combined(operation, {a, b});
        for (const int exponent : {-900, -500, -20, 20, 500, 990}) {
            const double by = std::ldexp(1.0, exponent);
            const Mesh operands[] = {scaled(a, by), scaled(b, by)};
            const Mesh* pointers[] = {&operands[0], &operands[1]};
            Progress progress;
            const auto result = combine(operation, pointers, progress);
            REQUIRE(result);
            INFO(exponent);
            REQUIRE(result->mesh.faces.size() == plain.mesh.faces.size());
            auto sorted_points = [](const Mesh& mesh, double factor) {
                std::vector<Vec3> points;
                for (const Vec3& p : mesh.points) points.push_back(p * factor);
                std::ranges::sort(points, {}, [](const Vec3& p) { return std::tuple(p.x, p.y, p.z); });
                return points;
            };
            // Which diagonals are the best is judged in doubles, and may come out otherwise at the ends.
            CHECK(sorted_points(result->mesh, 1) == sorted_points(plain.mesh, by));
            if (std::abs(exponent) < 100) CHECK(result->mesh == scaled(plain.mesh, by));
        }
    }
}

TEST_CASE("coordinates at the very edge of the doubles: a sentence where they end, an answer where they begin") {
    constexpr double most = std::numeric_limits<double>::max(), least = std::numeric_limits<double>::denorm_min();
    const Mesh huge = make_box({-most, -most, -most}, {most, most, most}), one = make_box({0, 0, 0}, {1, 1, 1});
    const Mesh* beyond[] = {&one, &huge};
    Progress progress;
    const auto refused = combine(Operation::union_of, beyond, progress);
    REQUIRE(!refused);
    CHECK(refused.error().code == ErrorCode::out_of_range);
    CHECK(refused.error().operand == 1);
    // The largest that are taken, and the smallest there are, where products underflow.
    const Mesh large = make_box({-9e299, -9e299, -9e299}, {9e299, 9e299, 9e299}),
               half = make_box({-1e299, -1e299, -1e299}, {9e299, 1e299, 1e299});
    const Mesh tiny = make_box({0, 0, 0}, {8 * least, 8 * least, 8 * least}),
               part = make_box({2 * least, 2 * least, 2 * least}, {9 * least, 9 * least, 9 * least});
    for (const auto& [a, b] : {std::pair{&large, &half}, {&tiny, &part}, {&large, &tiny}})
        for (const Operation operation : all_operations) {
            const Mesh* operands[] = {a, b};
            const auto result = combine(operation, operands, progress);
            INFO(word(operation));
            REQUIRE(result);
            if (result->empty) CHECK(!result->reason.empty());
            bool finite = true;
            for (const Vec3& p : result->mesh.points)
                finite = finite && std::isfinite(p.x) && std::isfinite(p.y) && std::isfinite(p.z);
            CHECK(finite);
            if (operation == Operation::union_of) CHECK(!result->empty);
        }
}

TEST_CASE("from a nanometre to a kilometre, and bodies ten thousand times as large as their cutters") {
    for (const double size : {1e-6, 1e-3, 1.0, 1e3, 1e6}) {
        const Combined c = combined(Operation::difference, {scaled(make_icosphere({0, 0, 0}, 1, 3), size),
                                                            scaled(make_frustum(0.3, 0.3, -2, 2, 24), size)});
        CHECK(signed_volume(c.mesh) / (size * size * size) ==
              Approx(signed_volume(
                  combined(Operation::difference, {make_icosphere({0, 0, 0}, 1, 3), make_frustum(0.3, 0.3, -2, 2, 24)})
                      .mesh)));
    }
    // A box of a hundred metres and a bore of ten millimetres through its edge; then the other way round.
    const Mesh large = make_box({0, 0, 0}, {1e5, 1e5, 1e5}),
               small = make_box({-5, 5e4, 1e5 - 5}, {5, 5e4 + 10, 1e5 + 5});
    const Combined notched = combined(Operation::difference, {large, small});
    CHECK(1e15 - signed_volume(notched.mesh) == Approx(5 * 10 * 5).epsilon(0.01));
    CHECK(notched.mesh.faces.size() < 60);
    CHECK(signed_volume(combined(Operation::intersection, {small, large}).mesh) == Approx(250));
    const Combined kept = combined(Operation::reverse_difference, {large, small});
    CHECK(signed_volume(kept.mesh) == Approx(1000 - 250));
}
