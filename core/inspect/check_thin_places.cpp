// Two faces with material between them, or air, that are nearly parallel and lie over each other: their overlap, seen
// along the normal of one, is cut down to where they are nearer than the width that is asked for. In doubles: for
// telling.
#include <algorithm>
#include <numeric>

#include "core/inspect/checks.h"
#include "core/inspect/same_faces.h"
#include "core/mesh/disjoint_sets.h"
#include "core/spatial/leaf_corners.h"

namespace anvil::inspect_detail {
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
    double area = 0, thickness = 0;
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
    if (!(std::ranges::max_element(polygon, {}, &Deep::depth)->depth > 0)) return out;
    Vec3 sum, middle;
    for (std::size_t i = 1; i + 1 < polygon.size(); ++i)
        sum = sum + cross(polygon[i].p - polygon[0].p, polygon[i + 1].p - polygon[0].p);
    for (const Deep& d : polygon) middle = middle + d.p * (1.0 / static_cast<double>(polygon.size()));
    out.area = std::fabs(dot(sum, normal)) / 2;
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

ThinPairs find_pairs(CheckContext& context) {
    const Mesh& mesh = context.mesh;
    const InspectOptions& options = context.options;
    const double width = std::max(options.thin_below, options.gap_below);
    // A copy of a face lies where the face does, and says nothing more.
    std::vector<std::uint32_t> number;
    std::vector<Triangle> faces = mesh.faces.raw();
    if (has_copies(context)) {
        SameFaces same = find_same(mesh.faces.raw());
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
        normal.push_back(
            normalized(cross(mesh.corner(f, 1) - mesh.corner(f, 0), mesh.corner(f, 2) - mesh.corner(f, 0))));
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
                        if (!(dot(normal[i], normal[j]) < facing) || !context.clean_face[number[i]] ||
                            !context.clean_face[number[j]])
                            return;
                        const FaceId a(number[std::min(i, j)]), b(number[std::max(i, j)]);
                        const Vec3& n = normal[std::min(i, j)];
                        if (options.thin_below > 0)
                            if (const Overlap o = overlap(mesh, a, b, n, false, options.thin_below); o.area > 0)
                                per_task[task].skins.push_back({a, b, o});
                        if (options.gap_below > 0)
                            if (const Overlap o = overlap(mesh, a, b, -n, true, options.gap_below); o.area > 0)
                                per_task[task].gaps.push_back({a, b, o});
                    },
                    &context.progress,
                    [&](std::uint32_t a, std::uint32_t b, unsigned) { return corners.sharing(a, b); });
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
void tell_places(CheckContext& context, FindingKind kind, const std::vector<ThinPair>& pairs) {
    const Mesh& mesh = context.mesh;
    auto area = [&](FaceId f) {
        return norm(cross(mesh.corner(f, 1) - mesh.corner(f, 0), mesh.corner(f, 2) - mesh.corner(f, 0)));
    };
    auto smaller = [&](const ThinPair& p) { return area(p.b) < area(p.a) ? p.b : p.a; };
    std::vector<char> small(mesh.faces.size(), 0);
    for (const ThinPair& p : pairs) small[smaller(p).value()] = 1;
    DisjointSets skins(mesh.points.size());
    auto anchor = [&](const ThinPair& p) { return mesh.faces[smaller(p)][0].value(); };
    for (const ThinPair& p : pairs)
        for (const FaceId f : {p.a, p.b})
            if (small[f.value()])
                for (const VertexId v : mesh.faces[f]) skins.join(anchor(p), v.value());
    std::vector<Finding> found;
    std::vector<std::uint32_t> at(mesh.points.size(), 0xffffffffu);
    for (const ThinPair& p : pairs) {
        const std::uint32_t skin = skins.find(anchor(p));
        if (at[skin] == 0xffffffffu) {
            at[skin] = static_cast<std::uint32_t>(found.size());
            found.push_back({kind, p.overlap.place, {}, {p.a, p.b}, p.overlap.thickness, 0});
        }
        Finding& skin_found = found[at[skin]];
        skin_found.area += p.overlap.area;
        if (!(p.overlap.thickness < skin_found.thickness)) continue;
        skin_found.thickness = p.overlap.thickness;
        skin_found.place = p.overlap.place;
        skin_found.faces = {p.a, p.b};
    }
    context.findings.insert(context.findings.end(), found.begin(), found.end());
}

}  // namespace

void check_thin_places(CheckContext& context) {
    if (!(context.options.thin_below > 0) && !(context.options.gap_below > 0)) return;
    const ThinPairs pairs = find_pairs(context);
    tell_places(context, FindingKind::thin_skins, pairs.skins);
    tell_places(context, FindingKind::narrow_gaps, pairs.gaps);
}

}  // namespace anvil::inspect_detail
