#include "core/cut/slots.h"

#include <algorithm>
#include <cmath>
#include <map>

#include "core/base/number_text.h"
#include "core/cut/frame.h"
#include "core/mesh/circle.h"
#include "core/mesh/measures.h"

namespace anvil {
namespace {

constexpr std::size_t most_slots = 2000;

/// Sums of the normals at points and edges, by area.
class NormalSums {
  public:
    NormalSums(const Mesh& body, const Selection& at) {
        for (const Triangle& t : body.faces) {
            const Vec3 normal = area_vector(body, t);
            for (std::size_t k = 0; k < 3; ++k) {
                const Element e =
                    at.kind == ElementKind::points ? point_element(t[k]) : edge_element(t[k], t[(k + 1) % 3]);
                if (!at.contains(e)) continue;
                Vec3& own = sums_[e];
                own = own + normalized(normal);
                mean_ = mean_ + normalized(normal);
            }
        }
    }
    Vec3 at(const Element& e) const {
        const auto found = sums_.find(e);
        return found == sums_.end() ? Vec3{} : found->second;
    }
    const Vec3& mean() const { return mean_; }

  private:
    std::map<Element, Vec3> sums_;
    Vec3 mean_;
};

/// What a circle goes over on its way from p to q: the convex hull of both, counter-clockwise seen against the way.
std::vector<Vec3> stadium(const Vec3& p, const Vec3& q, const Vec3& way, double radius, int around) {
    const Transform frame = frame_on({}, -way);
    const Vec3 x = frame_axis(frame, 0), y = frame_axis(frame, 1);
    const double du = dot(q - p, x), dv = dot(q - p, y), flat = std::hypot(du, dv);
    std::vector<Vec3> out;
    auto arc = [&](const Vec3& middle, int from, int to, const Vec3& u, const Vec3& v) {
        for (int k = from; k <= to; ++k) {
            const Point2 at = on_circle(k, around);
            out.push_back(middle + u * (radius * at.u) + v * (radius * at.v));
        }
    };
    if (!(flat > 1e-9 * radius)) {
        arc(p, 0, around - 1, x, y);
        return out;
    }
    const Vec3 u = x * (du / flat) + y * (dv / flat), v = y * (du / flat) - x * (dv / flat);
    arc(q, -around / 4, around / 4, u, v);
    arc(p, around / 4, 3 * around / 4, u, v);
    return out;
}

}  // namespace

Result<Cut> slotted(const Mesh& body, const Selection& at, double thickness, double chord, const Broach& b,
                    const Box& box) {
    if (at.empty()) return Error{ErrorCode::lost, "nothing is chosen that could be pushed", ""};
    if (at.elements.size() > most_slots)
        return Error{
            ErrorCode::bad_count,
            std::to_string(at.elements.size()) + " are too many: take " + std::to_string(most_slots) + " at most", ""};
    const NormalSums normals(body, at);
    const int around = faces_around(thickness / 2, {chord});
    Cut out;
    for (const Element& e : at.elements) {
        const Vec3 normal = b.own_normals ? normals.at(e) : normals.mean();
        if (!b.along && !(norm(normal) > 1e-9))
            return Error{ErrorCode::out_of_range, "the faces there look all ways: choose a direction", ""};
        const Vec3 way = normalized(b.along ? *b.along : -normal);
        const Vec3 &p = body.points[e[0]], &q = body.points[e[at.kind == ElementKind::points ? 0 : 1]];
        const std::vector<Vec3> rim = stadium(p, q, way, thickness / 2, around);
        const double beyond = b.over + thickness / 2;
        double depth = b.depth;
        if (depth == 0) {
            const double last = placed(box, Transform(frame_on({}, way).inverse())).high.z;
            depth = last - std::min(dot(way, p), dot(way, q)) + b.over + 0.01 * box.diagonal();
        }
        const double out_by = b.boss ? depth : beyond, in_by = b.boss ? beyond : depth;
        Cutter cutter{b.boss ? Operation::union_of : Operation::difference, {}};
        Mesh& mesh = cutter.solid.mesh;
        for (const Vec3& r : rim) mesh.points.push_back(r - way * out_by);
        for (const Vec3& r : rim) mesh.points.push_back(r + way * in_by);
        const auto n = static_cast<std::uint32_t>(rim.size());
        const auto first_side = static_cast<std::uint32_t>(3 * out.cutters.size());
        auto add = [&](std::uint32_t i, std::uint32_t j, std::uint32_t k, std::uint32_t side) {
            mesh.faces.push_back({VertexId(i), VertexId(j), VertexId(k)});
            cutter.solid.side.push_back(first_side + side);
        };
        for (std::uint32_t k = 1; k + 1 < n; ++k) {
            add(0, k, k + 1, 0);
            add(n, n + k + 1, n + k, 1);
        }
        for (std::uint32_t k = 0; k < n; ++k) {
            const std::uint32_t next = (k + 1) % n;
            add(k, n + k, n + next, 2);
            add(k, n + next, next, 2);
        }
        append(out.shown, mesh);
        out.cutters.push_back(std::move(cutter));
    }
    return out;
}

}  // namespace anvil
