// Lines of edges: put in order, measured, followed along creases.
#include "core/mesh/chain.h"

#include <cmath>
#include <numbers>

#include "core/mesh/display.h"
#include "tests/support/support.h"

using namespace anvil;
using namespace anvil::test;

namespace {

/// Creases whose ends both pass a test.
Selection edges_where(const Mesh& mesh, const std::function<bool(const Vec3&)>& test) {
    Selection out{ElementKind::edges, {}};
    for (const Element& e : all_elements(mesh, ElementKind::edges)) {
        const Vec3 a = mesh.points[e[0]], b = mesh.points[e[1]];
        const bool diagonal = (a.x != b.x) + (a.y != b.y) + (a.z != b.z) > 1 && mesh.faces.size() == 12;
        if (test(a) && test(b) && !diagonal) out.add(std::span(&e, 1));
    }
    return out;
}

}  // namespace

TEST_CASE("the rim of a prism is one closed line, counterclockwise from where it looks, as long as its sides") {
    std::vector<Point2> outline;
    for (int k = 0; k < 24; ++k)
        outline.push_back({10 * std::cos(k * std::numbers::pi / 12), 10 * std::sin(k * std::numbers::pi / 12)});
    const Mesh mesh = make_prism(outline, 0, 5);
    // Of the edges on top only those that the side has, too.
    Selection top = edges_where(mesh, [](const Vec3& p) { return p.z == 5; });
    std::erase_if(top.elements, [&](const Element& e) {
        return std::fabs(norm(mesh.points[e[0]] - mesh.points[e[1]]) - 20 * std::sin(std::numbers::pi / 24)) > 1e-9;
    });
    REQUIRE(top.elements.size() == 24);
    const auto chain = chain_of(mesh, top);
    REQUIRE(chain);
    CHECK(chain->closed);
    CHECK(chain->length() == Approx(24 * 20 * std::sin(std::numbers::pi / 24)).epsilon(1e-12));  // n 2 r sin(pi / n)
    CHECK(chain->points.front().x == Approx(-10));
    double turned = 0;
    for (std::size_t k = 0; k < 24; ++k) {
        const Vec3 a = chain->points[k], b = chain->points[(k + 1) % 24];
        turned += a.x * b.y - a.y * b.x;
        CHECK(chain->normals[k].z == Approx(std::sqrt(0.5)));  // between up and sideways
    }
    CHECK(turned > 0);
    // Half way round is opposite; once round is where it began; before that it goes the other way.
    CHECK(norm(place_on(*chain, chain->length() / 2).point - Vec3{10, 0, 5}) < 1e-9);
    CHECK(norm(place_on(*chain, chain->length()).point - chain->points.front()) < 1e-9);
    CHECK(norm(place_on(*chain, -1).point - place_on(*chain, chain->length() - 1).point) < 1e-9);
    // One edge is enough to find the others.
    const Selection one{ElementKind::edges, {top.elements[3]}};
    CHECK(along_creases(one, creases_of(mesh, usual_crease)) == top);
}

TEST_CASE("an open line begins at its first end and is held to its ends") {
    const Mesh box = make_box({0, 0, 0}, {4, 3, 2});
    const Selection line =
        edges_where(box, [](const Vec3& p) { return p.z == 2 && (p.y == 0 || p.x == 4) && !(p.x == 0 && p.y == 3); });
    const auto chain = chain_of(box, line);
    REQUIRE(chain);
    CHECK_FALSE(chain->closed);
    CHECK(chain->length() == 7);
    CHECK(chain->points.front() == Vec3{0, 0, 2});
    CHECK(place_on(*chain, 4.5).point == Vec3{4, 0.5, 2});
    CHECK(place_on(*chain, 4.5).along == Vec3{0, 1, 0});
    CHECK(place_on(*chain, -1).point == Vec3{0, 0, 2});
    CHECK(place_on(*chain, 99).point == Vec3{4, 3, 2});
    CHECK(creases_of(box, usual_crease).elements.size() == 12);
    const Element near = nearest_edge(box, creases_of(box, usual_crease), {2, 0.3, 1.8});
    CHECK(box.points[near[0]].y + box.points[near[1]].y == 0);
    CHECK(box.points[near[0]].z + box.points[near[1]].z == 4);
    // At a corner of a box three creases meet: nothing is sure to go on.
    CHECK(along_creases({ElementKind::edges, {line.elements[0]}}, creases_of(box, usual_crease)).elements.size() == 1);
}

TEST_CASE("no edges, edges that branch, and several lines are refused with a sentence") {
    const Mesh box = make_box({0, 0, 0}, {4, 3, 2});
    auto why = [&](const Selection& edges) {
        const auto chain = chain_of(box, edges);
        REQUIRE(!chain);
        return chain.error().text;
    };
    CHECK(why({ElementKind::edges, {}}).find("no edges") != std::string::npos);
    CHECK(why({ElementKind::edges, all_elements(box, ElementKind::edges)}).find("branch at x") != std::string::npos);
    const Selection two =
        edges_where(box, [](const Vec3& p) { return (p.x == 0 && p.y == 0) || (p.x == 4 && p.y == 3); });
    CHECK(why(two).find("several lines") != std::string::npos);
}
