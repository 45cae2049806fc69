#include "core/recast/recast_region.h"

#include <tbb/parallel_for.h>

#include <algorithm>

#include "core/arrange/arrangement.h"
#include "core/arrange/operands.h"
#include "core/combine/combine.h"
#include "core/mesh/keep_faces.h"
#include "core/mesh/measures.h"
#include "core/mesh/primitives.h"
#include "core/mesh/regions.h"
#include "core/recast/solid_field.h"

namespace anvil {
namespace {

constexpr int most_cells = 256;

/// Half of the middle edge that the mesh has there, for about as many faces as there were.
double usual_cell(const Mesh& mesh, const Box& region) {
    constexpr double most = 48, fewest = 12;  // along the longest side
    const Vec3 size = region.size();
    const double longest = std::max({size.x, size.y, size.z});
    std::vector<double> lengths;
    for (const FaceId f : ids<FaceId>(mesh.faces.size())) {
        Box box;
        for (int k = 0; k < 3; ++k) box.add(mesh.corner(f, k));
        if (!box.meets(region)) continue;
        for (int k = 0; k < 3; ++k) lengths.push_back(norm(mesh.corner(f, (k + 1) % 3) - mesh.corner(f, k)));
    }
    if (lengths.empty()) return longest / fewest;
    const auto middle = lengths.begin() + static_cast<long>(lengths.size() / 2);
    std::nth_element(lengths.begin(), middle, lengths.end());
    return std::clamp(*middle / 2, longest / most, longest / fewest);
}

/// A region in whole cells, two of them round what is to be rebuilt.
struct Place {
    Lattice lattice;  ///< reaches two cells beyond the box, so that the surface on its walls is the solid's
    Box box;
};

Place place_for(const Box& region, double cell) {
    constexpr int margin = 2;
    Place out;
    out.lattice.cell = cell;
    // Off by a part of a cell: faces at round coordinates should not run along the lattice's planes.
    constexpr double off = 0.2718;
    std::array<int, 3> cells;
    for (int k = 0; k < 3; ++k) {
        const auto at = static_cast<std::size_t>(k);
        cells[at] = static_cast<int>(std::ceil(region.size()[k] / cell + off)) + 2 * margin;
        out.lattice.size[at] = cells[at] + 2 * margin + 1;
    }
    out.lattice.origin = region.low - Vec3{1, 1, 1} * ((2 * margin + off) * cell);
    out.box.add(out.lattice.point({margin, margin, margin}));
    out.box.add(out.lattice.point({margin + cells[0], margin + cells[1], margin + cells[2]}));
    return out;
}

/// Lets what is new pass through the old surface half a cell outside of the box, at a small angle: a little above it
/// within, a little below it without. Two surfaces that are the same but for their last digits would cross each other
/// without end along the seam.
void let_pass(Mesh& fresh, const Place& place) {
    constexpr double height = 0.02;  // cells
    const double cell = place.lattice.cell;
    IdVector<VertexId, Vec3> normals(fresh.points.size());
    for (const Triangle& t : fresh.faces) {
        const Vec3 n = cross(fresh.points[t[1]] - fresh.points[t[0]], fresh.points[t[2]] - fresh.points[t[0]]);
        for (const VertexId v : t) normals[v] = normals[v] + n;
    }
    for (const VertexId v : ids<VertexId>(fresh.points.size())) {
        Vec3& p = fresh.points[v];
        double within = HUGE_VAL;  // cells from the nearest wall
        for (int k = 0; k < 3; ++k)
            within = std::min({within, (p[k] - place.box.low[k]) / cell, (place.box.high[k] - p[k]) / cell});
        // Rises over a cell and a half, falls to nothing over two more.
        const double lift = std::min(std::clamp(within + 0.5, -1.0, 1.0), std::max(0.0, (3 - within) / 2));
        p = p + normalized(normals[v]) * (lift * height * cell);
    }
}

/// Faces that come of no face of the mesh are of what the nearest of the old ones is of.
void give_materials(Combined& result, const Mesh& given, const Mesh& old, const NearestFace& nearest) {
    const Mesh* own = &given;
    result.take_materials(std::span(&own, 1));
    if (given.material.empty()) return;
    MaterialNumbers numbers(result.mesh.materials);
    for (std::size_t f = 0; f < result.source.size(); ++f) {
        if (result.source[f].operand == 0) continue;
        const std::uint32_t m = old.material_of(nearest.nearest(face_middle(result.mesh, FaceId(f))).face);
        if (m != no_material) result.mesh.material[FaceId(f)] = numbers.number(old.materials[m]);
    }
}

/// How far the faces in the region are from the old ones, and how many there are.
double deviation_of(const Mesh& mesh, const Box& region, const NearestFace& old, std::size_t& rebuilt) {
    std::vector<FaceId> faces;
    for (const FaceId f : ids<FaceId>(mesh.faces.size())) {
        const Vec3 middle = face_middle(mesh, f);
        Box at;
        at.add(middle);
        if (at.meets(region)) faces.push_back(f);
    }
    rebuilt = faces.size();
    std::vector<double> far(faces.size(), 0);
    tbb::parallel_for(std::size_t{0}, faces.size(), [&](std::size_t i) {
        far[i] = old.distance(face_middle(mesh, faces[i]));
        for (int k = 0; k < 3; ++k) far[i] = std::max(far[i], old.distance(mesh.corner(faces[i], k)));
    });
    return far.empty() ? 0 : std::ranges::max(far);
}

/// Holes that the mesh had are closed for the arrangement; outside of the region they are opened again. What is new and
/// hung on nothing but what closed them goes, too.
Mesh opened_again(const Combined& result) {
    const Mesh& mesh = result.mesh;
    auto closes_hole = [&](FaceId f) {
        const FaceSource& s = result.source[f.value()];
        return s.operand == 0 && !s.face.valid();
    };
    std::vector<char> at_opened(mesh.points.size(), 0);
    for (const FaceId f : ids<FaceId>(mesh.faces.size()))
        if (closes_hole(f))
            for (const VertexId v : mesh.faces[f]) at_opened[v.value()] = 1;
    Mesh open = mesh;
    keep_faces_of(open, [&](FaceId f) { return !closes_hole(f); });
    std::vector<std::uint32_t> part;
    const std::uint32_t parts = points_joined_by_faces(open).number(part);
    std::vector<char> is_old(parts, 0), was_at_opened(parts, 0);
    for (const FaceId f : ids<FaceId>(mesh.faces.size())) {
        if (closes_hole(f)) continue;
        for (const VertexId v : mesh.faces[f]) {
            const std::uint32_t p = part[v.value()];
            if (result.source[f.value()].operand == 0) is_old[p] = 1;
            if (at_opened[v.value()]) was_at_opened[p] = 1;
        }
    }
    Mesh left = mesh;
    keep_faces_of(left, [&](FaceId f) {
        const std::uint32_t p = part[mesh.faces[f][0].value()];
        return !closes_hole(f) && (is_old[p] || !was_at_opened[p]);
    });
    return welded(left);
}

/// Parts within the region that are smaller than a cell go: the seam leaves some, and nothing so small can be told
/// there.
Mesh without_crumbs(const Mesh& mesh, const Box& region, double cell) {
    std::vector<std::uint32_t> part;
    const std::uint32_t parts = points_joined_by_faces(mesh).number(part);
    std::vector<Moments> moments(parts);
    std::vector<Box> boxes(parts);
    for (const FaceId f : ids<FaceId>(mesh.faces.size())) {
        const std::uint32_t p = part[mesh.faces[f][0].value()];
        moments[p].add(mesh.corner(f, 0), mesh.corner(f, 1), mesh.corner(f, 2), region.center());
        for (int k = 0; k < 3; ++k) boxes[p].add(mesh.corner(f, k));
    }
    auto is_crumb = [&](FaceId f) {
        const std::uint32_t p = part[mesh.faces[f][0].value()];
        Box both = region;
        both.add(boxes[p]);
        return both.low == region.low && both.high == region.high && std::fabs(moments[p].volume) < cell * cell * cell;
    };
    Mesh left = mesh;
    return keep_faces_of(left, [&](FaceId f) { return !is_crumb(f); }) == 0 ? mesh : welded(left);
}

}  // namespace

Result<RecastRegion> recast_region(const Mesh& mesh, const RecastOptions& options, Progress& progress) {
    const Vec3 size = options.region.size();
    const double longest = std::max({size.x, size.y, size.z});
    RecastRegion out;
    out.cell = options.cell > 0 ? options.cell : usual_cell(mesh, options.region);
    if (!(out.cell > 0) || !(longest / out.cell <= most_cells))
        return Error{ErrorCode::out_of_range,
                     "the region would be more than " + std::to_string(most_cells) +
                         " cells long; take larger cells, or a smaller region",
                     ""};
    progress.stage("making the part ready", 0, 0.2);
    auto operand = make_operand(mesh, Taken::repaired, progress);
    if (!operand) return operand.error();
    if ((*operand)->sheet)
        return Error{ErrorCode::open_operand, "it is a sheet and encloses nothing; give it a thickness first", ""};
    const Mesh closed = (*operand)->whole().mesh;
    const SolidField field(closed, progress);
    if (progress.cancelled()) return cancelled_error();
    const Place place = place_for(options.region, out.cell);
    const auto& size_in_points = place.lattice.size;
    out.region.add(place.lattice.origin);
    out.region.add(place.lattice.point({size_in_points[0] - 1, size_in_points[1] - 1, size_in_points[2] - 1}));

    progress.stage("putting the surface anew", 0.2, 0.6);
    auto fresh = contour(field, place.lattice, progress);
    if (!fresh) return fresh.error();
    let_pass(*fresh, place);

    // The mesh less the box, and what is new.
    progress.stage("setting it in", 0.6, 1);
    const Mesh box = make_box(place.box.low, place.box.high);
    std::vector<CombineStep> steps{{Operation::difference, 1, {}}};
    if (!fresh->empty()) steps.push_back({Operation::union_of, 2, {}});
    auto operands = all_of(make_operands(1 + steps.size(), [&](std::size_t o) -> MadeOperand {
        return o == 0 ? *operand : make_operand(o == 1 ? box : *fresh, Taken::repaired, progress);
    }));
    if (!operands) return operands.error();
    auto arranged = arrange(std::move(*operands), progress);
    if (!arranged) return arranged.error();
    // Bridges could not be told from what closes holes.
    const bool has_holes = !arranged->soup.operand(0).closed_holes.empty();
    const ContactRule contact = has_holes ? ContactRule::separate : options.contact;
    auto combined = combine(*arranged, steps, progress, {options.precision, contact, false});
    if (!combined) return combined.error();
    give_materials(*combined, mesh, closed, field.nearest());
    out.deviation = deviation_of(combined->mesh, out.region, field.nearest(), out.rebuilt);
    out.mesh = without_crumbs(has_holes ? opened_again(*combined) : welded(combined->mesh), out.region, out.cell);
    return out;
}

}  // namespace anvil
