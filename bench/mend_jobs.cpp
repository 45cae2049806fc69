#include <map>

#include "bench/cgal_repairs.h"
#include "bench/jobs.h"
#include "core/mend/mend.h"
#include "core/mesh/edge_table.h"
#include "core/mesh/primitives.h"
#include "tests/support/defects.h"

namespace anvil::bench {
namespace {

constexpr std::size_t defects = 1000;

const Mesh& ball(const std::string& size) {
    static std::map<std::string, Mesh> made;
    Mesh& mesh = made[size];
    if (!mesh.empty()) return mesh;
    mesh = size == "1M" ? make_sphere({0, 0, 0}, 20, 1001, 500) : make_sphere({0, 0, 0}, 20, 201, 250);
    // Of so few digits that middles of edges are exact.
    for (Vec3& p : mesh.points) p = in_single_precision(p);
    return mesh;
}
/// Every so many faces of the ball, `defects` of them in all, never neighbours.
std::vector<FaceId> some_faces(const Mesh& mesh) {
    std::vector<FaceId> out;
    const std::size_t step = mesh.faces.size() / (defects + 2);
    for (std::size_t i = 1; i <= defects; ++i) out.push_back(FaceId(i * step));
    return out;
}

Mesh doubled(const std::string& size) {
    Mesh m = ball(size);
    for (const FaceId f : some_faces(m)) m.faces.push_back(Triangle(m.faces[f]));
    return m;
}
Mesh flipped(const std::string& size) {
    Mesh m = ball(size);
    for (const FaceId f : some_faces(m)) std::swap(m.faces[f][0], m.faces[f][1]);
    return m;
}
/// Each of some edges has a middle point that one side only knows, and a face without area to make up for it.
Mesh with_flat_faces(const std::string& size) {
    Mesh m = ball(size);
    for (const FaceId f : some_faces(m)) {
        const Triangle t = m.faces[f];
        const VertexId middle = m.points.push_back((m.points[t[0]] + m.points[t[1]]) * 0.5);
        m.faces[f] = {t[0], middle, t[2]};
        m.faces.push_back({middle, t[1], t[2]});
        m.faces.push_back({t[0], t[1], middle});
    }
    return m;
}
/// Some faces and all their neighbours are gone.
Mesh with_holes(const std::string& size) {
    Mesh m = ball(size);
    const EdgeTable edges(m.faces.raw(), m.points.size());
    std::vector<char> gone(m.faces.size(), 0);
    for (const FaceId f : some_faces(m))
        for (std::uint32_t k = 0; k < 3; ++k)
            for (const std::uint32_t h : edges.uses(edges.edge_of(3 * f.value() + k))) gone[h / 3] = 1;
    Mesh out;
    out.points = m.points;
    for (const FaceId f : ids<FaceId>(m.faces.size()))
        if (!gone[f.value()]) out.faces.push_back(m.faces[f]);
    return out;
}
/// A row of balls, each pushed into the next.
Mesh row_of_balls(const std::string&) {
    Mesh m;
    for (int i = 0; i < 20; ++i) append(m, make_icosphere({1.5 * i, 0.1 * (i % 3), 0.2 * (i % 2)}, 1, 3));
    return m;
}
Mesh scattered(const std::string& size) {
    test::Injector injector(ball(size), 7);
    for (std::size_t i = 0; i < defects; ++i) injector.inject(static_cast<int>(i % test::defect_kinds));
    return injector.mesh();
}

using Repairing = Result<Repaired> (*)(Mesh&, const MendOptions&, Progress&);
Job repair_job(const char* name, std::vector<std::string> cases, Mesh (*broken)(const std::string&), Repairing ours,
               std::size_t (*cgal)(CgalSoup&)) {
    return {std::string("mend_") + name, std::move(cases),
            [=](const std::string& size) {
                return [mesh = broken(size), ours]() mutable {
                    Progress progress;
                    must(ours(mesh, {}, progress));
                    return mesh.faces.size();
                };
            },
            [=](const std::string& size) {
                return [soup = CgalSoup(broken(size)), cgal]() mutable { return cgal(soup); };
            }};
}

}  // namespace

std::vector<Job> mend_jobs() {
    const std::vector<std::string> both{"100k", "1M"};
    return {
        {"inspect_quick", both,
         [](const std::string& size) {
             return [mesh = scattered(size)] {
                 Progress progress;
                 std::size_t found = 0;
                 // Stopped where the cheap kinds are told.
                 (void)inspect(mesh, progress, usual_options(mesh), [&](const Inspection& quick) {
                     found = quick.findings.size();
                     progress.cancel();
                 });
                 return found;
             };
         },
         [](const std::string& size) {
             return [soup = CgalSoup(scattered(size))]() mutable { return cgal_quick_checks(soup); };
         }},
        {"inspect_all", both,
         [](const std::string& size) {
             return [mesh = scattered(size)] {
                 Progress progress;
                 return must(inspect(mesh, progress, usual_options(mesh))).count(FindingKind::self_intersections);
             };
         },
         [](const std::string& size) {
             return [soup = CgalSoup(scattered(size))]() mutable { return cgal_all_checks(soup); };
         }},
        repair_job("duplicates", both, doubled, drop_duplicates, cgal_drop_duplicates),
        repair_job("degenerate", both, with_flat_faces, drop_degenerate, cgal_drop_degenerate),
        repair_job("orient", both, flipped, orient_faces, cgal_orient),
        repair_job("holes", both, with_holes, fill_holes, cgal_fill_holes),
        repair_job("crossings", {"20_balls"}, row_of_balls, resolve_crossings, cgal_remove_crossings),
        {"mend_all", both,
         [](const std::string& size) {
             return [mesh = scattered(size)] {
                 Progress progress;
                 return must(mend(mesh, whole_plan(), {}, progress)).mesh.faces.size();
             };
         },
         [](const std::string& size) {
             return [soup = CgalSoup(scattered(size))]() mutable { return cgal_mend(soup); };
         }},
    };
}

}  // namespace anvil::bench
