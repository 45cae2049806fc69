#include "core/recast/solid_field.h"

#include <tbb/parallel_for.h>

#include <algorithm>
#include <tuple>

#include "core/mesh/measures.h"

namespace anvil {

Vec3 SolidField::normal(FaceId f) const { return face_normal(mesh_, f); }

/// Which of the faces that the line passes, out of a front or into one, leaves the solid: nothing where the passages do
/// not add up to the winding numbers at both ends, as where it goes through an edge.
std::optional<SolidField::Exit> SolidField::first_exit(const Vec3& inner, const Vec3& outer) const {
    const long start = std::lround(winding_.at(inner)), end = std::lround(winding_.at(outer));
    Box box;
    box.add(inner);
    box.add(outer);
    struct Hit {
        double share;
        FaceId face;
        int change;
    };
    std::vector<Hit> hits;
    const Vec3 way = outer - inner;
    nearest_.tree().overlapping(box, [&](std::uint32_t item) {
        const FaceId f(item);
        const Vec3 a = mesh_.corner(f, 0) - inner, b = mesh_.corner(f, 1) - inner, c = mesh_.corner(f, 2) - inner;
        const double u = dot(way, cross(b, c)), v = dot(way, cross(c, a)), w = dot(way, cross(a, b));
        if (!((u >= 0 && v >= 0 && w >= 0) || (u <= 0 && v <= 0 && w <= 0)) || u + v + w == 0) return;
        const double share = dot(a, cross(b, c)) / (u + v + w);
        if (share >= 0 && share <= 1) hits.push_back({share, f, u + v + w > 0 ? -1 : 1});
    });
    std::ranges::sort(hits,
                      [](const Hit& a, const Hit& b) { return std::tie(a.share, a.face) < std::tie(b.share, b.face); });
    long winding = start;
    std::optional<Exit> exit;
    for (const Hit& hit : hits) {
        winding += hit.change;
        if (!exit && winding < 1) exit = Exit{inner + way * hit.share, hit.face};
    }
    return winding == end ? exit : std::nullopt;
}

SurfacePassage SolidField::passage(const Vec3& inner, const Vec3& outer) const {
    // What closes the solid at the rim of a lattice is no surface of its own.
    if (is_inside(outer)) {
        const Vec3 place = (inner + outer) * 0.5;
        return {place, normalized(outer - inner), place};
    }
    if (const auto exit = first_exit(inner, outer))
        return {exit->place, normal(exit->face), mesh_.corner(exit->face, 0)};
    constexpr int halvings = 12;
    Vec3 from = inner, to = outer;
    for (int k = 0; k < halvings; ++k) {
        const Vec3 middle = (from + to) * 0.5;
        (is_inside(middle) ? from : to) = middle;
    }
    const Vec3 place = (from + to) * 0.5;
    const FaceId face = nearest_.nearest(place).face;
    return {place, normal(face), mesh_.corner(face, 0)};
}

bool SolidField::comes_between(const Vec3& p, const Vec3& q) const {
    Box box;
    box.add(p);
    box.add(q);
    bool any = false;
    nearest_.tree().overlapping(box, [&](std::uint32_t) { any = true; });
    return any;
}

std::vector<SurfacePassage> SolidField::planes_in(const Box& box) const {
    constexpr std::size_t most_faces = 200, most_planes = 8;
    const double width = box.size().x;
    std::vector<FaceId> faces;
    nearest_.tree().overlapping(box, [&](std::uint32_t item) {
        if (faces.size() <= most_faces) faces.emplace_back(item);
    });
    if (faces.size() > most_faces) return {};
    std::ranges::sort(faces);
    std::vector<SurfacePassage> planes;
    for (const FaceId f : faces) {
        const Vec3 &a = mesh_.corner(f, 0), &b = mesh_.corner(f, 1), &c = mesh_.corner(f, 2);
        // A little off the rim of the face, where its neighbours would answer for it.
        const Vec3 nearest = closest_on_triangle(box.center(), a, b, c);
        const Vec3 at = nearest + (face_middle(mesh_, f) - nearest) * 1e-3;
        Box here;
        here.add(at);
        if (!here.meets(box)) continue;
        const Vec3 n = normal(f);
        const bool known = std::ranges::any_of(planes, [&](const SurfacePassage& p) {
            return norm(cross(p.normal, n)) < 1e-6 && std::fabs(dot(n, p.on - a)) < 1e-6 * width;
        });
        // Faces within the solid, or back to back, are none of its surface.
        if (known || is_inside(at - n * (1e-4 * width)) == is_inside(at + n * (1e-4 * width))) continue;
        if (planes.size() == most_planes) return {};
        planes.push_back({at, n, a});
    }
    return planes;
}

Result<Mesh> contour(const SolidField& field, const Lattice& lattice, Progress& progress) {
    std::vector<char> inside(lattice.count(), 0);
    tbb::parallel_for(1, lattice.size[2] - 1, [&](int k) {
        for (int j = 1; j + 1 < lattice.size[1]; ++j) {
            if (progress.cancelled()) return;
            bool before = false;
            for (int i = 1; i + 1 < lattice.size[0]; ++i) {
                const std::array at{i, j, k};
                // Where no face comes between a point and the one before both are on the same side.
                const bool same = i > 1 && !field.comes_between(lattice.point({i - 1, j, k}), lattice.point(at));
                before = same ? before : field.is_inside(lattice.point(at));
                inside[lattice.number(at)] = before;
            }
        }
    });
    if (progress.cancelled()) return cancelled_error();
    return dual_contour(lattice, inside, field, progress);
}

}  // namespace anvil
