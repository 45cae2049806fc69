// Two faces with material between them, or air, that are nearly parallel and lie over each other: their overlap, seen
// along the normal of one, is cut down to where they are nearer than the width that is asked for. In doubles: for
// telling.
#include <algorithm>
#include <numeric>

#include "core/inspect/checks.h"
#include "core/inspect/same_faces.h"
#include "core/inspect/thin_places.h"
#include "core/mesh/disjoint_sets.h"
#include "core/mesh/measures.h"
#include "core/spatial/leaf_corners.h"

namespace anvil {
namespace {

constexpr double facing = -0.966;  // cosine: normals within 15 degrees of opposite

/// A point of an overlap, and how far behind the first face it lies.
struct Deep {
    Vec3 p;
    double depth;
};

/// The part of a polygon where value(point) >= 0, a function that is linear over it.
template <class Value>
std::vector<Deep> clipped(const std::vector<Deep>& polygon, const Value& value) {
    std::vector<Deep> out;
    for (std::size_t i = 0; i < polygon.size(); ++i) {
        const Deep &a = polygon[i], &b = polygon[(i + 1) % polygon.size()];
        const double va = value(a), vb = value(b);
        if (va >= 0) out.push_back(a);
        if ((va < 0) == (vb < 0)) continue;
        const double t = va / (va - vb);
        out.push_back({a.p + (b.p - a.p) * t, a.depth + (b.depth - a.depth) * t});
    }
    return out;
}

struct Overlap {
    double area = 0, thickness = 0, most = 0;
    Vec3 place;  // in the middle of the skin where it is thinnest
};

/// Where face b lies behind face a, nearer than `below`; in front of it where `normal` is turned round.
Overlap overlap(const Mesh& mesh, FaceId a, FaceId b, const Vec3& normal, bool in_front, double below) {
    const Vec3& origin = mesh.corner(a, 0);
    std::vector<Deep> polygon;
    for (int k = 0; k < 3; ++k) polygon.push_back({mesh.corner(b, k), dot(origin - mesh.corner(b, k), normal)});
    for (int k = 0; k < 3; ++k) {
        const Vec3 &p = mesh.corner(a, k),
                   inward = cross(normal, mesh.corner(a, (k + 1) % 3) - p) * (in_front ? -1.0 : 1.0);
        polygon = clipped(polygon, [&](const Deep& d) { return dot(d.p - p, inward); });
    }
    polygon = clipped(polygon, [&](const Deep& d) { return below - d.depth; });
    polygon = clipped(polygon, [&](const Deep& d) { return d.depth; });
    Overlap out;
    if (polygon.size() < 3) return out;
    const auto least = std::ranges::min_element(polygon, {}, &Deep::depth);
    const double most = std::ranges::max_element(polygon, {}, &Deep::depth)->depth;
    if (!(most > 0)) return out;
    Vec3 sum, middle;
    for (std::size_t i = 1; i + 1 < polygon.size(); ++i)
        sum = sum + cross(polygon[i].p - polygon[0].p, polygon[i + 1].p - polygon[0].p);
    for (const Deep& d : polygon) middle = middle + d.p * (1.0 / static_cast<double>(polygon.size()));
    out.area = std::fabs(dot(sum, normal)) / 2;
    out.most = most;
    out.thickness = std::max(0.0, least->depth);  // where it was clipped it may be under 0 by a rounding
    // Where it is equally thin all over, its middle says more than a corner.
    const bool level =
        std::ranges::all_of(polygon, [&](const Deep& d) { return d.depth < least->depth + below * 1e-3; });
    const Vec3& on_b = level ? middle : least->p;
    out.place = on_b + normal * (out.thickness / 2);
    return out;
}

struct ThinPair {
    FaceId a, b;
    Overlap overlap;
};

struct ThinPairs {
    std::vector<ThinPair> skins, gaps;
};

/// Widths in mm; 0: not looked for. Faces that are not `clean` say nothing; `copies`: whether some are there twice.
ThinPairs find_pairs(const Mesh& mesh, std::span<const char> clean, bool copies, double thin_below, double gap_below,
                     Progress& progress) {
    const double width = std::max(thin_below, gap_below);
    // A copy of a face lies where the face does, and says nothing more.
    std::vector<std::uint32_t> number;
    std::vector<Triangle> faces = mesh.faces.raw();
    if (copies) {
        inspect_detail::SameFaces same = inspect_detail::find_same(mesh.faces.raw());
        number = std::move(same.number);
        faces = std::move(same.faces);
    } else {
        number.resize(faces.size());
        std::iota(number.begin(), number.end(), 0u);
    }
    std::vector<Vec3> normal;
    std::vector<Box> boxes;
    for (const std::uint32_t n : number) {
        const FaceId f(n);
        normal.push_back(face_normal(mesh, f));
        Box& box = boxes.emplace_back();
        const Vec3 reach{width / 2, width / 2, width / 2};
        for (int k = 0; k < 3; ++k) {
            box.add(mesh.corner(f, k) - reach);
            box.add(mesh.corner(f, k) + reach);
        }
    }
    const BoxTree tree(boxes);
    const std::vector<char> all(mesh.points.size(), 1);
    const LeafCorners corners(tree, faces, all);  // neighbours are not across from each other
    std::vector<ThinPairs> per_task;
    tree.self_pairs([&](std::size_t tasks) { per_task.resize(tasks); },
                    [&](std::size_t task, std::uint32_t i, std::uint32_t j) {
                        if (!(dot(normal[i], normal[j]) < facing) || !clean[number[i]] || !clean[number[j]]) return;
                        const FaceId a(number[std::min(i, j)]), b(number[std::max(i, j)]);
                        const Vec3& n = normal[std::min(i, j)];
                        if (thin_below > 0)
                            if (const Overlap o = overlap(mesh, a, b, n, false, thin_below); o.area > 0)
                                per_task[task].skins.push_back({a, b, o});
                        if (gap_below > 0)
                            if (const Overlap o = overlap(mesh, a, b, -n, true, gap_below); o.area > 0)
                                per_task[task].gaps.push_back({a, b, o});
                    },
                    &progress, [&](std::uint32_t a, std::uint32_t b, unsigned) { return corners.sharing(a, b); });
    ThinPairs pairs;
    for (const ThinPairs& list : per_task) {
        pairs.skins.insert(pairs.skins.end(), list.skins.begin(), list.skins.end());
        pairs.gaps.insert(pairs.gaps.end(), list.gaps.begin(), list.gaps.end());
    }
    for (auto* list : {&pairs.skins, &pairs.gaps})
        std::ranges::sort(*list, {}, [](const ThinPair& p) { return std::pair(p.a, p.b); });
    return pairs;
}

/// Pairs are one place where their smaller faces touch: a large face may reach from one to the next.
std::vector<ThinPlace> places_of(const Mesh& mesh, const std::vector<ThinPair>& pairs) {
    auto area = [&](FaceId f) { return norm(area_vector(mesh, f)); };
    auto smaller = [&](const ThinPair& p) { return area(p.b) < area(p.a) ? p.b : p.a; };
    std::vector<char> small(mesh.faces.size(), 0);
    for (const ThinPair& p : pairs) small[smaller(p).value()] = 1;
    DisjointSets sets(mesh.points.size());
    auto anchor = [&](const ThinPair& p) { return mesh.faces[smaller(p)][0].value(); };
    for (const ThinPair& p : pairs)
        for (const FaceId f : {p.a, p.b})
            if (small[f.value()])
                for (const VertexId v : mesh.faces[f]) sets.join(anchor(p), v.value());
    std::vector<ThinPlace> out;
    std::vector<std::uint32_t> at(mesh.points.size(), 0xffffffffu);
    for (const ThinPair& p : pairs) {
        const std::uint32_t set = sets.find(anchor(p));
        if (at[set] == 0xffffffffu) {
            at[set] = static_cast<std::uint32_t>(out.size());
            out.push_back({.least = HUGE_VAL});
        }
        ThinPlace& place = out[at[set]];
        place.pairs.push_back({p.a, p.b});
        place.area += p.overlap.area;
        place.most = std::max(place.most, p.overlap.most);
        if (!(p.overlap.thickness < place.least)) continue;
        place.least = p.overlap.thickness;
        place.place = p.overlap.place;
        place.thinnest = place.pairs.back();
    }
    return out;
}

}  // namespace

Result<std::vector<ThinPlace>> thin_skins(const Mesh& mesh, double below, Progress& progress) {
    const std::vector<char> clean(mesh.faces.size(), 1);
    const ThinPairs pairs = find_pairs(mesh, clean, false, below, 0, progress);
    if (progress.cancelled()) return cancelled_error();
    return places_of(mesh, pairs.skins);
}

namespace inspect_detail {

void check_thin_places(CheckContext& context) {
    const InspectOptions& options = context.options;
    if (!(options.thin_below > 0) && !(options.gap_below > 0)) return;
    const ThinPairs pairs = find_pairs(context.mesh, context.clean_face, has_copies(context), options.thin_below,
                                       options.gap_below, context.progress);
    auto tell = [&](FindingKind kind, const std::vector<ThinPair>& found) {
        for (const ThinPlace& place : places_of(context.mesh, found))
            context.findings.push_back(
                {kind, place.place, {}, {place.thinnest.first, place.thinnest.second}, place.least, place.area});
    };
    tell(FindingKind::thin_skins, pairs.skins);
    tell(FindingKind::narrow_gaps, pairs.gaps);
}

}  // namespace inspect_detail
}  // namespace anvil
