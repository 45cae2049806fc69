// Cutting: a plane through a large body, and a pattern of outlines through it. The body is ready beforehand on both
// sides, as it is while a plane is dragged.
#include <cmath>
#include <map>

#include "bench/cgal_work.h"
#include "bench/jobs.h"
#include "core/arrange/arrangement.h"
#include "core/arrange/operand.h"
#include "core/combine/combine.h"
#include "core/cut/half_space_at.h"
#include "core/cut/outline_cut.h"
#include "core/mesh/measures.h"
#include "core/mesh/primitives.h"

namespace anvil::bench {
namespace {

/// 200k or 500k faces.
const Mesh& body(const std::string& size) {
    static std::map<std::string, Mesh> made;
    auto& mesh = made[size];
    if (mesh.empty())
        mesh = size == "200k" ? make_sphere({0, 0, 0}, 20, 251, 400) : make_sphere({0, 0, 0}, 20, 501, 500);
    return mesh;
}
std::shared_ptr<const Operand> ready_body(const std::string& size) {
    Progress progress;
    return must(make_operand(body(size), Taken::repaired, progress));
}

const Vec3 origin{1, 2, 3}, normal{0.3, -0.5, 0.8};

/// The operands of a cut, arranged with the body, and what stays.
std::size_t faces_left(const std::shared_ptr<const Operand>& base, const Mesh& cutter) {
    Progress progress;
    const auto arrangement = must(arrange({base, must(make_operand(cutter, Taken::repaired, progress))}, progress));
    const CombineStep step{Operation::difference, 1};
    return must(combine(arrangement, std::span(&step, 1), progress)).mesh.faces.size();
}

Mesh hundred_outlines() {
    Mesh out;
    for (int row = 0; row < 10; ++row)
        for (int column = 0; column < 10; ++column) {
            OutlineCut cut;
            std::vector<Point2> loop;
            for (int k = 0; k < 12; ++k) {
                const double a = 2 * 3.14159265358979 * k / 12, r = k % 2 ? 0.9 : 0.6;
                loop.push_back({r * std::cos(a), r * std::sin(a)});
            }
            cut.drawing = {{{loop}, FillRule::even_odd}};
            const Transform frame = frame_on({2.3 * (column - 4.5), 2.3 * (row - 4.5), 0}, {0, 0, 1});
            append(out, must(outline_cut(cut, frame, bounds(body("500k")))).cutters.front().solid.mesh);
        }
    return out;
}

}  // namespace

std::vector<Job> cut_jobs() {
    return {{"plane_cut",
             {"200k", "500k"},
             [](const std::string& s) {
                 return [base = ready_body(s), cutter = half_space_at(frame_on(origin, normal), bounds(body(s))).mesh] {
                     return faces_left(base, cutter);
                 };
             },
             [](const std::string& s) {
                 return [mesh = CgalMesh(body(s))]() mutable { return cgal_clip(mesh, origin, normal); };
             }},
            {"100_outlines",
             {"500k"},
             [](const std::string& s) {
                 return [base = ready_body(s), cutter = hundred_outlines()] { return faces_left(base, cutter); };
             },
             [](const std::string& s) {
                 return [mesh = CgalMesh(body(s)), cutter = CgalMesh(hundred_outlines())]() mutable {
                     std::vector<CgalMesh> one{cutter};
                     return cgal_differences(mesh, one);
                 };
             }}};
}

}  // namespace anvil::bench
