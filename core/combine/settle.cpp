#include "core/combine/settle.h"

#include <tbb/blocked_range.h>
#include <tbb/parallel_for.h>

#include <algorithm>
#include <atomic>

#include "core/exact/predicates.h"
#include "core/mesh/weld.h"
#include "core/spatial/box_tree.h"
#include "core/spatial/triangle_contact.h"

namespace anvil {
namespace {

// Where plain rounding cannot be made to work, points near the faults go to a grid of this many bits relative to the
// largest coordinate, coarser from try to try: layers too thin for doubles to keep apart fall onto each other there
// and vanish. 0 bits stands for plain doubles.
constexpr int grid_bits[] = {0, 36, 28, 20};
constexpr int growing_rounds = 8, arranging_rounds = 4;

struct Rounded {
    Mesh mesh;
    std::vector<FaceSource> source;
    std::vector<std::uint32_t> origin;  // per face: which face of the extraction
    std::vector<char> moved;            // per point of the mesh
    double largest_move = 0;
};

/// Upper bound of the distance between a point and its rounded coordinates; 0 where it is exactly there.
double rounding_move(const PointView& p) {
    if (p.is_explicit() || same_point(p, PointView{p.approx})) return 0;
    auto half_ulp = [](double v) { return (std::nextafter(std::fabs(v), HUGE_VAL) - std::fabs(v)) / 2; };
    return norm({half_ulp(p.approx.x), half_ulp(p.approx.y), half_ulp(p.approx.z)});
}

/// The nearest multiple of `grid`, a power of two.
Vec3 on_grid(const Vec3& p, double grid) {
    return {std::nearbyint(p.x / grid) * grid, std::nearbyint(p.y / grid) * grid, std::nearbyint(p.z / grid) * grid};
}

/// `coarse`: per face, whether its points go to the grid; grid 0 for none.
Rounded round_points(const PointTable& points, const Extraction& extraction, const std::vector<char>& coarse,
                     double grid) {
    // Points in the order of their numbers; `place` leads from a number to its place.
    constexpr std::uint32_t unused = 0xffffffffu;
    std::vector<std::uint32_t> place(points.size(), unused);
    for (const Triangle& t : extraction.corners)
        for (VertexId v : t) place[v.value()] = 0;
    std::vector<VertexId> used;
    for (VertexId v : ids<VertexId>(points.size()))
        if (place[v.value()] != unused) {
            place[v.value()] = static_cast<std::uint32_t>(used.size());
            used.push_back(v);
        }
    auto index = [&](VertexId v) { return place[v.value()]; };
    std::vector<Vec3> approx;
    approx.reserve(used.size());
    for (VertexId v : used) approx.push_back(points.approx(v));
    std::vector<char> snapped(used.size(), 0);
    if (grid > 0)
        for (std::size_t f = 0; f < coarse.size(); ++f)
            if (coarse[f])
                for (VertexId v : extraction.corners[f]) snapped[index(v)] = 1;
    for (std::size_t i = 0; i < used.size(); ++i)
        if (snapped[i]) approx[i] = on_grid(approx[i], grid);
    const WeldMap weld = weld_map(approx);

    Rounded out;
    out.mesh.points.resize(weld.groups);
    out.moved.assign(weld.groups, 0);
    for (std::size_t i = 0; i < used.size(); ++i) {
        out.mesh.points[VertexId(weld.group[i])] = approx[i];
        const double move = snapped[i] ? norm(approx[i] - points.approx(used[i])) : rounding_move(points.view(used[i]));
        if (move > 0) out.moved[weld.group[i]] = 1;
        out.largest_move = std::max(out.largest_move, move);
    }
    auto number = [&](VertexId v) { return VertexId(weld.group[index(v)]); };
    for (std::size_t f = 0; f < extraction.corners.size(); ++f) {
        const Triangle& t = extraction.corners[f];
        const Triangle r{number(t[0]), number(t[1]), number(t[2])};
        if (r[0] == r[1] || r[1] == r[2] || r[2] == r[0]) continue;
        out.mesh.faces.push_back(r);
        out.source.push_back(extraction.source[f]);
        out.origin.push_back(static_cast<std::uint32_t>(f));
    }
    return out;
}

/// Per face: whether it degenerates or meets another face where it should not. Only faces with a moved corner, and
/// those that they meet, can. Empty where all is well.
std::vector<char> find_faults(const Rounded& rounded) {
    const auto& points = rounded.mesh.points.raw();
    const auto& faces = rounded.mesh.faces.raw();
    std::vector<std::uint32_t> suspects;
    for (std::uint32_t f = 0; f < faces.size(); ++f)
        for (VertexId v : faces[f])
            if (rounded.moved[v.value()]) {
                suspects.push_back(f);
                break;
            }
    if (suspects.empty()) return {};
    std::vector<char> faulty(faces.size(), 0), flat(faces.size(), 0);
    std::atomic<bool> any{false};
    for (std::uint32_t f : suspects)
        if (collinear(points[faces[f][0].value()], points[faces[f][1].value()], points[faces[f][2].value()])) {
            faulty[f] = flat[f] = 1;
            any = true;
        }
    // The suspects are few: every face looks for suspects near it, rather than the other way round.
    const std::vector<Box> boxes = face_boxes(points, faces);
    std::vector<Box> suspect_boxes;
    for (std::uint32_t f : suspects) suspect_boxes.push_back(boxes[f]);
    const BoxTree tree(suspect_boxes);
    std::vector<char> suspect(faces.size(), 0);
    for (std::uint32_t f : suspects) suspect[f] = 1;
    tbb::parallel_for(tbb::blocked_range<std::uint32_t>(0, static_cast<std::uint32_t>(faces.size()), 1024),
                      [&](const auto& range) {
                          for (std::uint32_t f = range.begin(); f != range.end(); ++f) {
                              if (flat[f]) continue;
                              tree.overlapping(boxes[f], [&](std::uint32_t i) {
                                  const std::uint32_t other = suspects[i];
                                  if (flat[other] || other == f || (suspect[f] && other < f)) return;  // each pair once
                                  if (!triangle_contact(points, faces[f], faces[other]).beyond_shared()) return;
                                  std::atomic_ref<char>{faulty[f]}.store(1, std::memory_order_relaxed);
                                  std::atomic_ref<char>{faulty[other]}.store(1, std::memory_order_relaxed);
                                  any = true;
                              });
                          }
                      });
    if (!any) faulty.clear();
    return faulty;
}

double grid_for(const Rounded& rounded, int bits) {
    if (bits == 0) return 0;
    double reach = 0;
    for (const Vec3& p : rounded.mesh.points) reach = std::max({reach, std::fabs(p.x), std::fabs(p.y), std::fabs(p.z)});
    return reach > 0 ? std::ldexp(1.0, std::ilogb(reach) + 1 - bits) : 0;
}

struct Attempt {
    Rounded rounded;
    std::vector<char> faulty;
    int rounds = 0;
};

/// Rounds the exact faces, those near faults to the grid, until no further face becomes faulty; then arranges what
/// still crosses, and rounds again.
Result<Attempt> attempt(const Arrangement& arrangement, const Extraction& extraction, int bits, Progress& progress) {
    Attempt now;
    std::vector<char> coarse(extraction.corners.size(), 0);
    now.rounded = round_points(arrangement.points, extraction, coarse, 0);
    now.faulty = find_faults(now.rounded);
    const double grid = grid_for(now.rounded, bits);
    for (int round = 0; round < growing_rounds && grid > 0 && !now.faulty.empty(); ++round) {
        if (progress.cancelled()) return cancelled_error();
        bool grown = false;
        for (std::size_t f = 0; f < now.faulty.size(); ++f) {
            char& c = coarse[now.rounded.origin[f]];
            if (now.faulty[f] && !c) c = 1, grown = true;
        }
        if (!grown) break;
        now.rounded = round_points(arrangement.points, extraction, coarse, grid);
        now.faulty = find_faults(now.rounded);
    }
    const std::size_t enough = 3 * now.rounded.mesh.faces.size() / 2 + 100;
    while (!now.faulty.empty() && now.rounds < arranging_rounds && now.rounded.mesh.faces.size() < enough) {
        ++now.rounds;
        const Mesh* operand = &now.rounded.mesh;
        auto again = arrange(std::span(&operand, 1), progress);
        if (!again) return again.error();
        Extraction picked = std::move(extract(*again, {}).front());
        std::vector<char> near_fault;
        for (FaceSource& s : picked.source) {
            near_fault.push_back(now.faulty[s.face.value()]);
            const bool reversed = s.reversed;
            s = now.rounded.source[s.face.value()];
            s.reversed = s.reversed != reversed;
        }
        const double before = now.rounded.largest_move;
        now.rounded = round_points(again->points, picked, near_fault, grid);
        now.rounded.largest_move += before;
        now.faulty = find_faults(now.rounded);
    }
    return now;
}

}  // namespace

Result<Settled> settle(const Arrangement& arrangement, const Extraction& extraction, Progress& progress) {
    Attempt best;
    std::size_t fewest = 0;
    for (const int bits : grid_bits) {
        auto now = attempt(arrangement, extraction, bits, progress);
        if (!now) return now.error();
        const auto faults = static_cast<std::size_t>(std::count(now->faulty.begin(), now->faulty.end(), 1));
        if (bits == 0 || faults < fewest) {
            best = std::move(*now);
            fewest = faults;
        }
        if (fewest == 0) break;
    }
    return Settled{std::move(best.rounded.mesh), std::move(best.rounded.source), best.rounded.largest_move, best.rounds,
                   fewest == 0};
}

}  // namespace anvil
