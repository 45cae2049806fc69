#include "core/arrange/enclose.h"

#include <tbb/parallel_for.h>

#include <algorithm>
#include <functional>

#include "core/arrange/arrangement.h"
#include "core/arrange/operands.h"
#include "core/mesh/measures.h"
#include "core/spatial/delaunay.h"
#include "core/spatial/fast_winding.h"
#include "core/spatial/solid_angle.h"

namespace anvil {
namespace {

/// Faces between points of borders; a sheet.
Mesh likely_walls(const Mesh& surface, std::span<const Triangle> fill) {
    std::vector<VertexId> border;
    for (const Triangle& t : fill) border.insert(border.end(), t.begin(), t.end());
    std::sort(border.begin(), border.end());
    border.erase(std::unique(border.begin(), border.end()), border.end());
    Mesh walls;
    if (border.size() > most_border_points) return walls;
    for (const VertexId v : border) walls.points.push_back(surface.points[v]);
    walls.faces.raw() = delaunay_faces(walls.points.raw());
    return walls;
}

/// A place on a cell's boundary, and how often surface and fill together are wound around there.
struct Sample {
    Vec3 place;
    double area, winding;
};
constexpr std::size_t samples_kept = 6;

/// The cells of surface, fill and walls, and which of them the surface is wound around.
class WoundCells {
  public:
    /// Of no use where it was stopped.
    WoundCells(const Arrangement& a, const Mesh& surface, std::span<const Triangle> fill, const Progress& progress)
        : a_(a), surface_(surface), fill_(fill), samples_(a.cells.count), inside_(a.cells.count, 0) {
        for (std::uint32_t f = 0; f < a.faces.size(); ++f) {
            const Triangle& t = a.faces.corners[f];
            bool filling = false;
            for (const FaceSource& s : a.faces.sources[a.faces.source[f]]) filling = filling || is_fill(s);
            add(a.cells.of_face[f], a.points.approx(t[0]), a.points.approx(t[1]), a.points.approx(t[2]), filling);
        }
        for (std::uint32_t p = 0; p < a.patches.size(); ++p) {
            const Patches::Patch& patch = a.patches.list[p];
            const Mesh& mesh = a.soup.operand(patch.operand).mesh;
            add(a.cells.of_patch[p], mesh.corner(patch.first, 0), mesh.corner(patch.first, 1),
                mesh.corner(patch.first, 2), is_fill(a.soup.source(a.soup.global(patch.operand, patch.first))));
        }
        Mesh filling;
        filling.points = surface.points;
        for (const Triangle& t : fill) filling.faces.push_back(t);
        const FastWinding quick(filling, &progress);
        tbb::parallel_for(std::size_t{0}, samples_.size(), [&](std::size_t c) {
            if (progress.cancelled()) return;
            double w = winding(c, [&](const Vec3& p) { return quick.at(p); });
            if (std::fabs(w - 0.5) < 2 * FastWinding::most_wrong)
                w = winding(c, [&](const Vec3& p) { return of_fill(p); });
            inside_[c] = w > 0.5;
        });
    }
    bool inside(std::uint32_t cell) const { return inside_[cell]; }
    bool is_fill(const FaceSource& s) const { return s.operand == 0 && s.face.value() >= surface_.faces.size(); }

  private:
    void add(const Cells::Sides& sides, const Vec3& a, const Vec3& b, const Vec3& c, bool filling) {
        const double windings[] = {static_cast<double>(a_.cells.winding_of(sides[0])[0]),
                                   static_cast<double>(a_.cells.winding_of(sides[1])[0])};
        for (std::size_t side = 0; side < 2; ++side) {
            // The surface alone does not change across its fill: there, half of the fill's jump lies on either side.
            const double w = filling ? (windings[0] + windings[1]) / 2 : windings[side];
            auto& kept = samples_[sides[side]];
            kept.push_back({(a + b + c) * (1.0 / 3), triangle_area(a, b, c), w});
            std::ranges::sort(kept, std::greater(), &Sample::area);
            if (kept.size() > samples_kept) kept.pop_back();
        }
    }
    /// The surface's generalized winding number on the cell's boundary: that of the closed one less the fill's.
    template <class Fill>
    double winding(std::size_t cell, const Fill& of_fill_at) const {
        double sum = 0, weight = 0;
        for (const Sample& s : samples_[cell]) {
            sum += s.area * (s.winding - of_fill_at(s.place));
            weight += s.area;
        }
        return weight > 0 ? sum / weight : 0;
    }
    double of_fill(const Vec3& p) const {
        CoveredDirections covered(p);
        for (const Triangle& t : fill_)
            covered.add(surface_.points[t[0]], surface_.points[t[1]], surface_.points[t[2]]);
        return covered.sum();
    }

    const Arrangement& a_;
    const Mesh& surface_;
    std::span<const Triangle> fill_;
    std::vector<std::vector<Sample>> samples_;
    std::vector<char> inside_;
};

/// The boundary of the cells inside.
Enclosure boundary(const Arrangement& a, const WoundCells& cells) {
    Enclosure out;
    std::vector<std::uint32_t> number(a.points.size(), 0xffffffffu);
    auto point = [&](VertexId v) {
        std::uint32_t& n = number[v.value()];
        if (n == 0xffffffffu) n = out.mesh.points.push_back(a.points.approx(v)).value();
        return VertexId(n);
    };
    auto add = [&](const Cells::Sides& sides, const Triangle& t, FaceId origin) {
        const bool before = cells.inside(sides[0]), behind = cells.inside(sides[1]);
        if (before == behind) return;
        Triangle face{point(t[0]), point(t[1]), point(t[2])};
        if (before) std::swap(face[1], face[2]);
        out.mesh.faces.push_back(face);
        out.origin.push_back(origin);
    };
    for (std::uint32_t f = 0; f < a.faces.size(); ++f) {
        FaceId origin;
        for (const FaceSource& s : a.faces.sources[a.faces.source[f]])
            if (s.operand == 0 && !cells.is_fill(s)) origin = s.face;
        add(a.cells.of_face[f], a.faces.corners[f], origin);
    }
    for (std::uint32_t o = 0; o < a.soup.size(); ++o)
        for (const FaceId own : ids<FaceId>(a.soup.operand(o).mesh.faces.size())) {
            const FaceId f = a.soup.global(o, own);
            if (a.active.contains(f)) continue;
            Triangle t = a.soup.face(f);
            for (VertexId& v : t) v = a.points.same_as(v);
            const FaceSource s = a.soup.source(f);
            add(a.cells.of_patch[a.patches.of(a.soup, o, own)], t,
                s.operand == 0 && !cells.is_fill(s) ? s.face : FaceId());
        }
    return out;
}

}  // namespace

std::optional<Enclosure> enclose(const Mesh& surface, std::span<const Triangle> fill, Progress& progress) {
    const Mesh walls = likely_walls(surface, fill);
    if (walls.empty()) return std::nullopt;
    Mesh closed;
    closed.points = surface.points;
    closed.faces = surface.faces;
    for (const Triangle& t : fill) closed.faces.push_back(t);
    auto operands = all_of(make_operands(2, [&](std::size_t o) {
        return o == 0 ? make_operand(closed, Taken::as_wound, progress)
                      : make_operand(walls, Taken::as_surface, progress);
    }));
    if (!operands) return std::nullopt;
    const auto arrangement = arrange(std::move(*operands), progress);
    if (!arrangement) return std::nullopt;
    const WoundCells cells(*arrangement, surface, fill, progress);
    if (progress.cancelled()) return std::nullopt;
    Enclosure out = boundary(*arrangement, cells);
    if (!(signed_volume(out.mesh) > 0)) return std::nullopt;
    out.mesh = welded(out.mesh);
    for (const FaceId f : ids<FaceId>(out.mesh.faces.size()))
        (out.origin[f.value()].valid() ? out.own : out.walls) +=
            triangle_area(out.mesh.corner(f, 0), out.mesh.corner(f, 1), out.mesh.corner(f, 2));
    return out;
}

}  // namespace anvil
