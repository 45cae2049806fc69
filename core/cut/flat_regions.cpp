// Flat regions as single faces: regions are grown, the lines between them thinned out, and each is triangulated anew.
#include "core/cut/flat_regions.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <numeric>

#include "core/mesh/edge_table.h"
#include "core/mesh/measures.h"
#include "core/mesh/weld.h"
#include "core/shape/outline.h"

namespace anvil {
namespace {

constexpr std::uint32_t none = 0xffffffffu;
constexpr double same_way = 0.99985;  // cosine of a degree

struct FlatRegion {
    Vec3 normal;
    std::vector<FaceId> faces;
    bool frozen = false;  // it stays as it is, with all its points
};

double off_line(const Vec3& p, const Vec3& a, const Vec3& b) {
    const Vec3 ab = b - a;
    const double length2 = norm2(ab);
    const double t = length2 > 0 ? std::clamp(dot(p - a, ab) / length2, 0.0, 1.0) : 0.0;
    return norm(p - (a + ab * t));
}

class FlatMerger {
  public:
    FlatMerger(const Mesh& mesh, double within)
        : mesh_(mesh), within_(within / 2), edges_(mesh.faces.raw(), mesh.points.size()) {}

    Result<MergedFlat> run(Progress& progress) {
        grow_regions();
        find_lines();
        // A region that cannot be made anew keeps its points, and with them its neighbours do.
        bool again = true;
        while (again) {
            if (progress.cancelled()) return cancelled_error();
            again = false;
            thin_out();
            made_.assign(regions_.size(), {});
            for (std::size_t r = 0; r < regions_.size(); ++r) {
                if (regions_[r].frozen || !loses_points(regions_[r])) continue;
                if (make_anew(r)) continue;
                regions_[r].frozen = again = true;
            }
        }
        return result();
    }

  private:
    bool lies_in(FaceId f, const Vec3& origin, const Vec3& normal) const {
        double longest = 0;
        for (int k = 0; k < 3; ++k) {
            if (std::fabs(dot(mesh_.corner(f, k) - origin, normal)) > within_) return false;
            longest = std::max(longest, norm(mesh_.corner(f, k) - mesh_.corner(f, (k + 1) % 3)));
        }
        // The normal of a needle says nothing.
        const Vec3 n = area_vector(mesh_, f);
        return dot(normalized(n), normal) > same_way || norm(n) < 10 * within_ * longest;
    }

    void grow_regions() {
        region_of_.assign(mesh_.faces.size(), none);
        std::vector<std::pair<double, FaceId>> by_area;
        for (const FaceId f : ids<FaceId>(mesh_.faces.size())) by_area.push_back({-norm(area_vector(mesh_, f)), f});
        std::ranges::sort(by_area);
        for (const auto& [area, seed] : by_area) {
            if (region_of_[seed.value()] != none) continue;
            const auto number = static_cast<std::uint32_t>(regions_.size());
            FlatRegion region{face_normal(mesh_, seed), {seed}};
            region_of_[seed.value()] = number;
            for (std::size_t k = 0; k < region.faces.size(); ++k)
                for (std::uint32_t i = 0; i < 3; ++i) {
                    const EdgeId e = edges_.edge_of(3 * region.faces[k].value() + i);
                    if (!e.valid() || !edges_.is_regular(e)) continue;
                    for (const std::uint32_t use : edges_.uses(e)) {
                        const FaceId g(use / 3);
                        if (region_of_[g.value()] != none || mesh_.material_of(g) != mesh_.material_of(seed) ||
                            !lies_in(g, mesh_.corner(seed, 0), region.normal))
                            continue;
                        region_of_[g.value()] = number;
                        region.faces.push_back(g);
                    }
                }
            regions_.push_back(std::move(region));
        }
    }

    /// Edges between regions, and by how many of them each point is met.
    void find_lines() {
        is_line_.assign(edges_.size(), 0);
        at_.assign(mesh_.points.size(), {});
        for (const EdgeId e : ids<EdgeId>(edges_.size())) {
            const auto uses = edges_.uses(e);
            if (edges_.is_regular(e) && region_of_[uses[0] / 3] == region_of_[uses[1] / 3]) continue;
            is_line_[e.value()] = 1;
            at_[edges_.edge(e).low.value()].push_back(e);
            at_[edges_.edge(e).high.value()].push_back(e);
        }
    }

    VertexId other_end(EdgeId e, VertexId v) const {
        return edges_.edge(e).low == v ? edges_.edge(e).high : edges_.edge(e).low;
    }
    /// Ends of lines, and what belongs to a region that stays.
    bool is_corner(VertexId v) const {
        const auto& lines = at_[v.value()];
        if (lines.size() != 2) return !lines.empty();
        return std::ranges::any_of(lines, [&](EdgeId e) {
            return !edges_.is_regular(e) || std::ranges::any_of(edges_.uses(e), [&](std::uint32_t use) {
                return regions_[region_of_[use / 3]].frozen;
            });
        });
    }

    /// Decides which points stay: of a line those that it needs to leave its old course by no more than allowed.
    void thin_out() {
        stays_.assign(mesh_.points.size(), 0);
        for (const FlatRegion& region : regions_)
            if (region.frozen)
                for (const FaceId f : region.faces)
                    for (const VertexId v : mesh_.faces[f]) stays_[v.value()] = 1;
        std::vector<char> seen(edges_.size(), 0);
        auto walk = [&](VertexId from, EdgeId first) {
            std::vector<VertexId> line{from};
            for (EdgeId e = first;;) {
                seen[e.value()] = 1;
                line.push_back(other_end(e, line.back()));
                if (is_corner(line.back()) || line.back() == from) break;
                const auto& lines = at_[line.back().value()];
                e = lines[0] == e ? lines[1] : lines[0];
            }
            return line;
        };
        for (const VertexId v : ids<VertexId>(mesh_.points.size())) {
            if (!is_corner(v)) continue;
            stays_[v.value()] = 1;
            for (const EdgeId e : at_[v.value()])
                if (!seen[e.value()]) keep_of_line(walk(v, e));
        }
        for (const VertexId v : ids<VertexId>(mesh_.points.size()))  // rings
            if (at_[v.value()].size() == 2 && !seen[at_[v.value()][0].value()]) {
                stays_[v.value()] = 1;
                keep_of_line(walk(v, at_[v.value()][0]));
            }
    }

    /// Method: Ramer (1972), Douglas and Peucker (1973). A closed line is parted where it is farthest from its start.
    void keep_of_line(const std::vector<VertexId>& line) {
        std::vector<std::pair<std::size_t, std::size_t>> open{{0, line.size() - 1}};
        while (!open.empty()) {
            const auto [from, to] = open.back();
            open.pop_back();
            stays_[line[from].value()] = stays_[line[to].value()] = 1;
            double most = line[from] == line[to] ? -1 : within_;
            std::size_t farthest = from;
            for (std::size_t k = from + 1; k < to; ++k) {
                const double off = off_line(mesh_.points[line[k]], mesh_.points[line[from]], mesh_.points[line[to]]);
                if (off > most) most = off, farthest = k;
            }
            if (farthest == from) continue;
            open.push_back({from, farthest});
            open.push_back({farthest, to});
        }
    }

    bool loses_points(const FlatRegion& region) const {
        return std::ranges::any_of(region.faces, [&](FaceId f) {
            return std::ranges::any_of(mesh_.faces[f], [&](VertexId v) { return !stays_[v.value()]; });
        });
    }

    /// The outline of a region by the points that stay.
    std::vector<std::vector<VertexId>> loops_of(const FlatRegion& region) const {
        std::vector<std::pair<std::uint32_t, std::uint32_t>> rim;
        for (const FaceId f : region.faces)
            for (std::uint32_t k = 0; k < 3; ++k)
                if (const EdgeId e = edges_.edge_of(3 * f.value() + k); e.valid() && is_line_[e.value()])
                    rim.push_back({mesh_.faces[f][k].value(), mesh_.faces[f][(k + 1) % 3].value()});
        std::vector<std::vector<VertexId>> out;
        for (const auto& whole : closed_loops(rim)) {
            auto& loop = out.emplace_back();
            for (const std::uint32_t v : whole)
                if (stays_[v]) loop.push_back(VertexId(v));
        }
        return out;
    }

    /// Fails where the outline touches itself, as seen along its normal.
    bool make_anew(std::size_t number) {
        const FlatRegion& region = regions_[number];
        const int axis = longest_axis(region.normal);
        auto seen = [&](VertexId v) {
            const Vec3& p = mesh_.points[v];
            return Point2{p[(axis + 1) % 3], p[(axis + 2) % 3]};
        };
        Outline outline;
        std::map<std::pair<double, double>, VertexId> at;
        std::vector<std::pair<VertexId, VertexId>> rim;
        for (const auto& loop : loops_of(region)) {
            if (loop.size() < 3) return false;
            auto& drawn = outline.emplace_back();
            for (std::size_t k = 0; k < loop.size(); ++k) {
                const Point2 p = drawn.emplace_back(seen(loop[k]));
                if (at.try_emplace({p.u, p.v}, loop[k]).first->second != loop[k]) return false;
                rim.push_back({loop[k], loop[(k + 1) % loop.size()]});
            }
        }
        if (outline.empty()) return false;
        const bool turned = region.normal[axis] < 0;
        const FilledOutline fill = filled({{outline, FillRule::even_odd}});
        std::vector<VertexId> vertex;
        for (const Point2& p : fill.points) {
            const auto found = at.find({p.u, p.v});
            if (found == at.end()) return false;
            vertex.push_back(found->second);
        }
        std::vector<std::pair<VertexId, VertexId>> made_rim;
        for (const auto& [a, b] : rim_edges(fill.triangles))
            made_rim.push_back(turned ? std::pair(vertex[b], vertex[a]) : std::pair(vertex[a], vertex[b]));
        std::ranges::sort(rim);
        std::ranges::sort(made_rim);
        if (rim != made_rim) return false;
        for (const auto& [a, b, c] : fill.triangles)
            made_[number].push_back(turned ? Triangle{vertex[a], vertex[c], vertex[b]}
                                           : Triangle{vertex[a], vertex[b], vertex[c]});
        return !made_[number].empty();
    }

    MergedFlat result() const {
        MergedFlat out;
        out.mesh.points = mesh_.points;
        out.mesh.materials = mesh_.materials;
        auto add = [&](const Triangle& t, FaceId as) {
            out.mesh.faces.push_back(t);
            if (!mesh_.material.empty()) out.mesh.material.push_back(mesh_.material[as]);
        };
        for (std::size_t r = 0; r < regions_.size(); ++r) {
            if (made_[r].empty())
                for (const FaceId f : regions_[r].faces) add(mesh_.faces[f], f);
            else
                for (const Triangle& t : made_[r]) add(t, regions_[r].faces.front());
            out.regions += !made_[r].empty();
            out.regions_left += regions_[r].frozen;
        }
        out.mesh = welded(out.mesh);
        out.points_gone = mesh_.points.size() - out.mesh.points.size();
        return out;
    }

    const Mesh& mesh_;
    double within_;
    EdgeTable edges_;
    std::vector<std::uint32_t> region_of_;
    std::vector<FlatRegion> regions_;
    std::vector<char> is_line_, stays_;
    std::vector<std::vector<EdgeId>> at_;      // per point: the lines that it lies on
    std::vector<std::vector<Triangle>> made_;  // per region; empty: as it was
};

}  // namespace

Result<MergedFlat> merged_flat(const Mesh& body, double within, Progress& progress) {
    return FlatMerger(body, within).run(progress);
}

}  // namespace anvil
