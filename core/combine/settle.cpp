#include "core/combine/settle.h"

#include <tbb/blocked_range.h>
#include <tbb/concurrent_vector.h>
#include <tbb/parallel_for.h>

#include <algorithm>
#include <atomic>
#include <tuple>

#include "core/combine/assemble.h"
#include "core/exact/predicates.h"
#include "core/mesh/disjoint_sets.h"
#include "core/mesh/weld.h"
#include "core/spatial/box_tree.h"
#include "core/spatial/triangle_contact.h"

namespace anvil {
namespace {

// Where plain rounding cannot be made to work, points near the faults go to a grid of this many bits relative to the
// largest coordinate, coarser from try to try: layers too thin for doubles to keep apart fall onto each other there
// and vanish. 0 bits stands for plain doubles.
constexpr int grid_bits[2][4] = {{0, 22, 20, 18}, {0, 36, 28, 20}};  // single, double precision
constexpr int growing_rounds = 8, arranging_rounds = 10;

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

/// Takes out closed shells of rounded faces that are thinner than a few places of the last digit, or of the grid:
/// rounding may have turned them inside out. Returns how many.
std::size_t drop_flakes(RoundedFaces& rounded, Precision precision, double grid) {
    struct Use {
        VertexId low, high;
        int way;
        std::uint32_t face;
    };
    std::vector<Use> uses;
    uses.reserve(3 * rounded.faces.size());
    double reach = 0;
    for (std::uint32_t f = 0; f < rounded.faces.size(); ++f)
        for (std::size_t k = 0; k < 3; ++k) {
            const VertexId p = rounded.faces[f][k], q = rounded.faces[f][(k + 1) % 3];
            uses.push_back({std::min(p, q), std::max(p, q), p < q ? 1 : -1, f});
            const Vec3& at = rounded.points[p.value()];
            reach = std::max({reach, std::fabs(at.x), std::fabs(at.y), std::fabs(at.z)});
        }
    std::sort(uses.begin(), uses.end(), [](const Use& a, const Use& b) {
        return std::tie(a.low, a.high, a.face) < std::tie(b.low, b.high, b.face);
    });
    DisjointSets sets(rounded.faces.size());
    std::vector<std::uint32_t> open;  // faces at edges that are closed elsewhere
    for (std::size_t i = 0; i < uses.size();) {
        std::size_t end = i;
        int balance = 0;
        for (; end < uses.size() && uses[end].low == uses[i].low && uses[end].high == uses[i].high; ++end) {
            balance += uses[end].way;
            sets.join(uses[i].face, uses[end].face);
        }
        if (balance != 0) open.push_back(uses[i].face);
        i = end;
    }
    std::vector<std::uint32_t> shell;
    const std::uint32_t shells = sets.number(shell);
    std::vector<char> closed(shells, 1), drop(shells, 0);
    for (std::uint32_t f : open) closed[shell[f]] = 0;
    std::vector<double> volume(shells, 0), area(shells, 0);
    std::vector<Vec3> origin(shells);
    std::vector<char> met(shells, 0);
    for (std::uint32_t f = 0; f < rounded.faces.size(); ++f) {
        const std::uint32_t s = shell[f];
        const CornerPoints c = corner_points(rounded.points, rounded.faces[f]);
        if (!met[s]) met[s] = 1, origin[s] = *c[0];
        const Vec3 n = cross(*c[1] - *c[0], *c[2] - *c[0]);
        volume[s] += dot(*c[0] - origin[s], n) / 6;
        area[s] += norm(n) / 2;
    }
    const double digit = std::max(grid, reach * (precision == Precision::single_precision ? 0x1p-23 : 0x1p-52));
    std::size_t count = 0;
    for (std::uint32_t s = 0; s < shells; ++s)
        if (closed[s] && std::fabs(volume[s]) <= 4 * digit * area[s]) drop[s] = 1, ++count;
    if (count == 0) return 0;
    std::size_t kept = 0;
    for (std::size_t f = 0; f < rounded.faces.size(); ++f) {
        if (drop[shell[f]]) continue;
        rounded.faces[kept] = rounded.faces[f];
        rounded.source[kept] = rounded.source[f];
        rounded.origin[kept++] = rounded.origin[f];
    }
    rounded.faces.resize(kept);
    rounded.source.resize(kept);
    rounded.origin.resize(kept);
    return count;
}

/// Rounded faces with a corner that rounding moved.
std::vector<std::uint32_t> find_suspects(const RoundedFaces& rounded) {
    std::vector<std::uint32_t> suspects;
    for (std::uint32_t f = 0; f < rounded.faces.size(); ++f)
        if (std::ranges::any_of(rounded.faces[f], [&](VertexId v) { return rounded.moved[v.value()] != 0; }))
            suspects.push_back(f);
    return suspects;
}

/// `coarse`: per face, whether its points go to the grid; grid 0 for none.
RoundedFaces round_points(const PointTable& points, const Extraction& extraction, const std::vector<char>& coarse,
                          double grid, Precision precision) {
    std::vector<VertexId> used;
    used.reserve(3 * extraction.corners.size());
    for (const Triangle& t : extraction.corners) used.insert(used.end(), t.begin(), t.end());
    std::sort(used.begin(), used.end());
    used.erase(std::unique(used.begin(), used.end()), used.end());
    auto index = [&](VertexId v) {
        return static_cast<std::size_t>(std::lower_bound(used.begin(), used.end(), v) - used.begin());
    };
    std::vector<Vec3> approx;
    approx.reserve(used.size());
    for (VertexId v : used) approx.push_back(points.approx(v));
    std::vector<char> snapped(used.size(), 0);
    if (grid > 0) {
        for (std::size_t f = 0; f < coarse.size(); ++f)
            if (coarse[f])
                for (VertexId v : extraction.corners[f]) snapped[index(v)] = 1;
        for (std::size_t i = 0; i < used.size(); ++i)
            if (snapped[i]) approx[i] = on_grid(approx[i], grid);
    }
    std::vector<char> reduced(used.size(), 0);
    for (std::size_t i = 0; i < used.size(); ++i) {
        const Vec3 p = precision == Precision::single_precision ? in_single_precision(approx[i]) : approx[i];
        reduced[i] = !(p == approx[i]);
        approx[i] = p;
    }
    const WeldMap weld = weld_map(approx);

    RoundedFaces out;
    out.points.resize(weld.groups);
    out.input.resize(weld.groups);
    out.moved.assign(weld.groups, 0);
    for (std::size_t i = 0; i < used.size(); ++i) {
        const std::uint32_t group = weld.group[i];
        out.points[group] = approx[i];
        const double move =
            snapped[i] || reduced[i] ? norm(approx[i] - points.approx(used[i])) : rounding_move(points.view(used[i]));
        if (move > 0) out.moved[group] = 1;
        if (move == 0 && points.is_input(used[i]) && !out.input[group].valid()) out.input[group] = used[i];
        out.largest_move = std::max(out.largest_move, move);
    }
    auto number = [&](VertexId v) { return VertexId(weld.group[index(v)]); };
    for (std::size_t f = 0; f < extraction.corners.size(); ++f) {
        const Triangle& t = extraction.corners[f];
        const Triangle r{number(t[0]), number(t[1]), number(t[2])};
        if (r[0] == r[1] || r[1] == r[2] || r[2] == r[0]) continue;
        out.faces.push_back(r);
        out.source.push_back(extraction.source[f]);
        out.origin.push_back(static_cast<std::uint32_t>(f));
    }
    drop_flakes(out, precision, grid);
    return out;
}

/// Per rounded face: whether it degenerates or meets another face where it should not. Only faces with a moved corner,
/// and those that they meet, can. Empty where all is well.
std::vector<char> find_faults(const RoundedFaces& rounded) {
    const auto& points = rounded.points;
    const auto& faces = rounded.faces;
    const std::vector<std::uint32_t> suspects = find_suspects(rounded);
    if (suspects.empty()) return {};
    std::vector<char> faulty(faces.size(), 0), flat(faces.size(), 0), suspect(faces.size(), 0);
    std::atomic<bool> any{false};
    for (std::uint32_t f : suspects) {
        suspect[f] = 1;
        if (!collinear(points[faces[f][0].value()], points[faces[f][1].value()], points[faces[f][2].value()])) continue;
        faulty[f] = flat[f] = 1;
        any = true;
    }
    // Few are suspect where nothing but new points moved: every face looks for suspects near it.
    const std::vector<Box> boxes = face_boxes(points, faces);
    std::vector<Box> suspect_boxes;
    for (std::uint32_t f : suspects) suspect_boxes.push_back(boxes[f]);
    const BoxTree tree(suspect_boxes);
    tbb::parallel_for(
        tbb::blocked_range<std::uint32_t>(0, static_cast<std::uint32_t>(faces.size()), 256), [&](const auto& range) {
            for (std::uint32_t f = range.begin(); f != range.end(); ++f) {
                if (flat[f]) continue;
                tree.overlapping(boxes[f], [&](std::uint32_t i) {
                    const std::uint32_t other = suspects[i];
                    if (flat[other] || other == f || (suspect[f] && other < f)) return;  // each pair once
                    if (!triangle_contact(corner_points(points, faces[f]), corner_points(points, faces[other]))
                             .beyond_shared())
                        return;
                    std::atomic_ref<char>{faulty[f]}.store(1, std::memory_order_relaxed);
                    std::atomic_ref<char>{faulty[other]}.store(1, std::memory_order_relaxed);
                    any = true;
                });
            }
        });
    if (!any) faulty.clear();
    return faulty;
}

/// Whether no rounded face meets a face of the extraction's patches where it should not. Rounded points that fall on a
/// patch's point become that point.
bool fits_patches(const Arrangement& a, const Extraction& extraction, RoundedFaces& rounded) {
    const std::vector<std::uint32_t> suspects = find_suspects(rounded);
    std::vector<char> used(a.patches.size(), 0), operand_used(a.soup.size(), 0);
    for (const Extraction::Whole& w : extraction.patches) {
        used[w.patch] = 1;
        operand_used[a.patches.list[w.patch].operand] = 1;
    }
    std::atomic<bool> fits{true};
    struct Hit {
        std::uint32_t point;
        VertexId input;
    };
    tbb::concurrent_vector<Hit> hits;
    tbb::parallel_for(tbb::blocked_range<std::size_t>(0, suspects.size(), 64), [&](const auto& range) {
        for (std::size_t i = range.begin(); i != range.end(); ++i) {
            const Triangle& t = rounded.faces[suspects[i]];
            const CornerPoints corners = corner_points(rounded.points, t);
            Box box;
            for (const Vec3* p : corners) box.add(*p);
            for (std::uint32_t o = 0; o < a.soup.size(); ++o) {
                if (!operand_used[o]) continue;
                const Operand& operand = a.soup.operand(o);
                operand.tree.overlapping(box, [&](std::uint32_t f) {
                    if (!fits || a.active.contains(a.soup.global(o, FaceId(f))) ||
                        !used[a.patches.of(a.soup, o, FaceId(f))])
                        return;
                    const Triangle& own = operand.mesh.faces[FaceId(f)];
                    const CornerPoints other = corner_points(operand.mesh.points.raw(), own);
                    if (triangle_contact(corners, other).beyond_shared()) fits = false;
                    for (std::size_t j = 0; j < 3; ++j)
                        for (std::size_t k = 0; k < 3; ++k)
                            if (!rounded.input[t[j].value()].valid() && *corners[j] == *other[k])
                                hits.push_back({t[j].value(), a.points.same_as(a.soup.global(o, own[k]))});
                });
            }
        }
    });
    if (!fits) return false;
    for (const Hit& hit : hits) {  // the lowest, so that the order does not matter
        VertexId& input = rounded.input[hit.point];
        if (!input.valid() || hit.input < input) input = hit.input;
    }
    return true;
}

double grid_for(const RoundedFaces& rounded, int bits) {
    if (bits == 0) return 0;
    double reach = 0;
    for (const Vec3& p : rounded.points) reach = std::max({reach, std::fabs(p.x), std::fabs(p.y), std::fabs(p.z)});
    return reach > 0 ? std::ldexp(1.0, std::ilogb(reach) + 1 - bits) : 0;
}

struct Attempt {
    RoundedFaces rounded;
    std::vector<char> faulty;
    int rounds = 0;
};

Mesh as_mesh(const RoundedFaces& rounded) {
    Mesh mesh;
    mesh.points.raw() = rounded.points;
    mesh.faces.raw() = rounded.faces;
    return welded(mesh);
}

/// Rounds the exact faces, those near faults to the grid, until no further face becomes faulty; then arranges what
/// still crosses, and rounds again. `all`: without patches. `coarse`: per face, whether it goes to the grid at once.
Result<Attempt> attempt(const Arrangement& arrangement, const Extraction& all, std::vector<char> coarse, int bits,
                        Precision precision, Progress& progress) {
    Attempt now;
    coarse.resize(all.corners.size(), 0);
    now.rounded = round_points(arrangement.points, all, coarse, 0, precision);
    const double grid = grid_for(now.rounded, bits);
    if (std::ranges::find(coarse, 1) != coarse.end())
        now.rounded = round_points(arrangement.points, all, coarse, grid, precision);
    now.faulty = find_faults(now.rounded);
    for (int round = 0; round < growing_rounds && grid > 0 && !now.faulty.empty(); ++round) {
        if (progress.cancelled()) return cancelled_error();
        bool grown = false;
        for (std::size_t f = 0; f < now.faulty.size(); ++f) {
            char& c = coarse[now.rounded.origin[f]];
            if (now.faulty[f] && !c) c = 1, grown = true;
        }
        if (!grown) break;
        now.rounded = round_points(arrangement.points, all, coarse, grid, precision);
        now.faulty = find_faults(now.rounded);
    }
    const std::size_t enough = 3 * now.rounded.faces.size() / 2 + 100;
    while (!now.faulty.empty() && now.rounds < arranging_rounds && now.rounded.faces.size() < enough) {
        ++now.rounds;
        const Mesh mesh = as_mesh(now.rounded);
        const Mesh* operand = &mesh;
        auto again = arrange(std::span(&operand, 1), progress);
        if (!again) return again.error();
        Extraction picked = taken_apart(*again, extract(*again, {}).front());
        std::vector<char> near_fault;
        for (FaceSource& s : picked.source) {
            near_fault.push_back(now.faulty[s.face.value()]);
            const bool reversed = s.reversed;
            s = now.rounded.source[s.face.value()];
            s.reversed = s.reversed != reversed;
        }
        const double before = now.rounded.largest_move;
        now.rounded = round_points(again->points, picked, near_fault, grid, precision);
        now.rounded.largest_move += before;
        now.faulty = find_faults(now.rounded);
    }
    return now;
}

/// Whether patches can stay as they are: no point of theirs needs rounding.
bool patches_fit(const Arrangement& a, const Extraction& extraction, Precision precision) {
    return precision == Precision::double_precision ||
           std::ranges::all_of(extraction.patches, [&](const Extraction::Whole& w) {
               return a.soup.operand(a.patches.list[w.patch].operand).single_precision;
           });
}

struct Proven {
    Settled settled;
    std::vector<char> may_pinch;  // per point
};

Result<Proven> round_and_prove(const Arrangement& arrangement, const Extraction& extraction, Precision precision,
                               Progress& progress) {
    if (patches_fit(arrangement, extraction, precision)) {
        RoundedFaces rounded = round_points(arrangement.points, extraction, {}, 0, precision);
        if (find_faults(rounded).empty() && fits_patches(arrangement, extraction, rounded)) {
            Assembled assembled = assemble(arrangement, extraction, rounded);
            Proven out{{}, std::move(assembled.may_pinch)};
            out.settled.mesh = std::move(assembled.mesh);
            out.settled.source = std::move(assembled.source);
            out.settled.largest_move = rounded.largest_move;
            return out;
        }
    }
    const Extraction all = taken_apart(arrangement, extraction);
    Attempt best;
    std::size_t fewest = 0;
    for (const int bits : grid_bits[static_cast<int>(precision)]) {
        auto now = attempt(arrangement, all, {}, bits, precision, progress);
        if (!now) return now.error();
        const auto faults = static_cast<std::size_t>(std::count(now->faulty.begin(), now->faulty.end(), 1));
        if (bits == 0 || faults < fewest) {
            best = std::move(*now);
            fewest = faults;
        }
        if (fewest == 0) break;
    }
    Proven out{{}, std::vector<char>(best.rounded.points.size(), 1)};
    out.settled.mesh = as_mesh(best.rounded);
    out.settled.source = std::move(best.rounded.source);
    out.settled.largest_move = best.rounded.largest_move;
    out.settled.rounds = best.rounds;
    out.settled.clean = fewest == 0;
    return out;
}

double reach_of(const Mesh& mesh) {
    double reach = 0;
    for (const Vec3& p : mesh.points) reach = std::max({reach, std::fabs(p.x), std::fabs(p.y), std::fabs(p.z)});
    return reach;
}

/// Moves touching parts apart by the smallest step, from a few places of the last digit up, that proves clean. Returns
/// whether there is one.
bool separate(Settled& settled, Pinches pinches, Precision precision) {
    const std::size_t given_points = settled.mesh.points.size();
    Mesh mesh = settled.mesh;
    std::vector<FaceSource> source = settled.source;
    if (!pinches.closed_edges.empty()) {
        split_edges(mesh, pinches.closed_edges, precision, source);
        pinches = find_pinches(mesh, std::vector<char>(mesh.points.size(), 1));
    }
    const double reach = reach_of(settled.mesh);
    for (double step = reach * (precision == Precision::single_precision ? 0x1p-22 : 0x1p-50); step < reach * 0x1p-9;
         step *= 4) {
        const Mesh apart = moved_apart(mesh, pinches, step, precision);
        RoundedFaces check;
        check.points = apart.points.raw();
        check.faces = apart.faces.raw();
        check.source = source;
        check.origin.resize(check.faces.size());
        check.moved.assign(apart.points.size(), 0);
        for (const Pinches::Corner& c : pinches.corners)
            for (VertexId v : apart.faces[c.face]) check.moved[v.value()] = 1;
        for (FaceId f : ids<FaceId>(mesh.faces.size()))
            if (std::ranges::any_of(mesh.faces[f], [&](VertexId v) { return v.value() >= given_points; }))
                for (VertexId v : apart.faces[f]) check.moved[v.value()] = 1;
        const auto& faces = apart.faces;
        if (std::ranges::any_of(faces, [](const Triangle& t) { return t[0] == t[1] || t[1] == t[2] || t[2] == t[0]; }))
            continue;
        drop_flakes(check, precision, step);  // what is thinner than the step may have been turned inside out by it
        if (!find_faults(check).empty()) continue;
        const Mesh left = as_mesh(check);
        if (!find_pinches(left, std::vector<char>(left.points.size(), 1)).empty()) continue;
        settled.mesh = left;
        settled.source = std::move(check.source);
        settled.contact_step = step;
        return true;
    }
    return false;
}

/// Where touching parts cannot be moved apart they are skins about as thin as a digit of the coordinates. Faces there
/// go to coarser grids, on which such skins vanish, until what is left can be moved apart.
Result<void> separate_on_grids(Settled& settled, Precision precision, Progress& progress) {
    Settled now = settled;
    for (const int bits : grid_bits[static_cast<int>(precision)]) {
        if (bits == 0) continue;
        const Pinches pinches = find_pinches(now.mesh, std::vector<char>(now.mesh.points.size(), 1));
        std::vector<char> near(now.mesh.faces.size(), 0);
        for (const Pinches::Corner& c : pinches.corners) near[c.face.value()] = 1;
        for (FaceId f : ids<FaceId>(now.mesh.faces.size()))
            for (const auto& [a, b] : pinches.edges)
                if (std::ranges::count_if(now.mesh.faces[f], [&](VertexId v) { return v == a || v == b; }) == 2)
                    near[f.value()] = 1;
        const Mesh* operand = &now.mesh;
        auto arrangement = arrange(std::span(&operand, 1), progress);
        if (!arrangement) return arrangement.error();
        Extraction all = taken_apart(*arrangement, extract(*arrangement, {}).front());
        std::vector<char> coarse;
        for (FaceSource& s : all.source) {
            coarse.push_back(near[s.face.value()]);
            const bool reversed = s.reversed;
            s = now.source[s.face.value()];
            s.reversed = s.reversed != reversed;
        }
        auto tried = attempt(*arrangement, all, coarse, bits, precision, progress);
        if (!tried) return tried.error();
        if (!tried->faulty.empty()) continue;
        now.mesh = as_mesh(tried->rounded);
        now.source = std::move(tried->rounded.source);
        now.largest_move += tried->rounded.largest_move;
        const Pinches left = find_pinches(now.mesh, std::vector<char>(now.mesh.points.size(), 1));
        if (left.empty() || separate(now, left, precision)) {
            if (left.empty()) now.contact_step = now.largest_move;
            settled = std::move(now);
            return {};
        }
    }
    return {};
}

/// Adds small bodies where it touches itself.
Result<void> join(Settled& settled, const Pinches& pinches, Precision precision, Progress& progress) {
    const double reach = reach_of(settled.mesh);
    for (double step = reach * 0x1p-18; step < reach * 0x1p-8; step *= 4) {
        const Mesh added = bridges(settled.mesh, pinches, step);
        const Mesh* operands[] = {&settled.mesh, &added};
        auto arrangement = arrange(operands, progress);
        if (!arrangement) return arrangement.error();
        const CombineStep unite{Operation::union_of, 1, {}};
        auto again =
            round_and_prove(*arrangement, extract(*arrangement, std::span(&unite, 1)).front(), precision, progress);
        if (!again) return again.error();
        if (!again->settled.clean || !find_pinches(again->settled.mesh, again->may_pinch).empty()) continue;
        for (FaceSource& s : again->settled.source) s = s.operand == 0 ? settled.source[s.face.value()] : FaceSource{};
        const double before = settled.largest_move;
        const std::size_t edges = settled.pinched_edges, points = settled.pinched_points;
        settled = std::move(again->settled);
        settled.largest_move += before;
        settled.pinched_edges = edges;
        settled.pinched_points = points;
        settled.contact_step = step;
        return {};
    }
    return {};
}

}  // namespace

Result<Settled> settle(const Arrangement& arrangement, const Extraction& extraction, const SettleOptions& options,
                       Progress& progress) {
    auto proven = round_and_prove(arrangement, extraction, options.precision, progress);
    if (!proven) return proven.error();
    Settled& settled = proven->settled;
    if (!settled.clean) return std::move(settled);
    const Pinches pinches = find_pinches(settled.mesh, proven->may_pinch);
    if (pinches.empty()) return std::move(settled);
    settled.pinched_edges = pinches.edges.size();
    settled.pinched_points = pinches.points;
    if (options.contact == ContactRule::separate) {
        if (!separate(settled, pinches, options.precision))
            if (auto done = separate_on_grids(settled, options.precision, progress); !done) return done.error();
    } else if (auto joined = join(settled, pinches, options.precision, progress); !joined) {
        return joined.error();
    }
    return std::move(settled);
}

}  // namespace anvil
