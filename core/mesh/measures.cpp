#include "core/mesh/measures.h"

#include "core/mesh/disjoint_sets.h"

namespace anvil {
namespace {

/// Sums many terms with the rounding error of about one (Neumaier's variant of Kahan's summation).
class CompensatedSum {
  public:
    void add(double v) {
        const double t = sum_ + v;
        rest_ += std::fabs(sum_) >= std::fabs(v) ? (sum_ - t) + v : (v - t) + sum_;
        sum_ = t;
    }
    double value() const { return sum_ + rest_; }

  private:
    double sum_ = 0, rest_ = 0;
};

}  // namespace

Box bounds(const Mesh& mesh) {
    // Without a branch in the loop, which `Box::add` has: it is asked for often, of large meshes.
    double low[3] = {HUGE_VAL, HUGE_VAL, HUGE_VAL}, high[3] = {-HUGE_VAL, -HUGE_VAL, -HUGE_VAL};
    for (const Triangle& f : mesh.faces)
        for (VertexId v : f) {
            const Vec3& p = mesh.points[v];
            const double at[3] = {p.x, p.y, p.z};
            for (int k = 0; k < 3; ++k) {
                low[k] = at[k] < low[k] ? at[k] : low[k];
                high[k] = at[k] > high[k] ? at[k] : high[k];
            }
        }
    return {{low[0], low[1], low[2]}, {high[0], high[1], high[2]}};
}

Vec3 area_vector(const Mesh& mesh, std::span<const VertexId> loop) {
    Vec3 sum;
    const Vec3& origin = mesh.points[loop.front()];
    for (std::size_t i = 0; i < loop.size(); ++i)
        sum = sum + cross(mesh.points[loop[i]] - origin, mesh.points[loop[(i + 1) % loop.size()]] - origin);
    return sum;
}

double surface_area(const Mesh& mesh) {
    // Fourth powers of lengths are no numbers where those are very large or small: then all is worked out near 1.
    const double size = largest_component(bounds(mesh).size());
    const int exponent = size > 1e-60 && size < 1e60 ? 0 : size > 0 ? std::ilogb(size) : 0;
    const double scale = std::ldexp(1.0, -exponent);
    CompensatedSum sum;
    for (FaceId f : ids<FaceId>(mesh.faces.size())) {
        const Vec3& a = mesh.corner(f, 0);
        sum.add(0.5 * norm(cross((mesh.corner(f, 1) - a) * scale, (mesh.corner(f, 2) - a) * scale)));
    }
    return std::ldexp(sum.value(), 2 * exponent);
}

double signed_volume(const Mesh& mesh) {
    const Vec3 center = bounds(mesh).center();
    CompensatedSum sum;
    for (FaceId f : ids<FaceId>(mesh.faces.size())) {
        const Vec3 a = mesh.corner(f, 0) - center, b = mesh.corner(f, 1) - center, c = mesh.corner(f, 2) - center;
        sum.add(dot(a, cross(b, c)) / 6);
    }
    return sum.value();
}

Shells find_shells(const Mesh& mesh) { return find_shells(mesh, {mesh.faces.raw(), mesh.points.size()}); }

Shells find_shells(const Mesh& mesh, const EdgeTable& edges) {
    DisjointSets sets(mesh.faces.size());
    Shells shells;
    for (EdgeId e : ids<EdgeId>(edges.size())) {
        const auto uses = edges.uses(e);
        if (uses.size() == 1) shells.closed = false;
        for (std::uint32_t h : uses.subspan(1)) sets.join(uses[0] / 3, h / 3);
    }
    shells.count = sets.number(shells.shell_of.raw());
    return shells;
}

long euler_characteristic(const Mesh& mesh) {
    const EdgeTable edges(mesh.faces.raw(), mesh.points.size());
    std::vector<bool> used(mesh.points.size());
    for (const Triangle& f : mesh.faces)
        for (VertexId v : f) used[v.value()] = true;
    long vertices = 0;
    for (bool u : used) vertices += u;
    return vertices - static_cast<long>(edges.size()) + static_cast<long>(mesh.faces.size());
}

Measures measure_as(const Measures& before, const Mesh& mesh) {
    return {mesh.points.size(), mesh.faces.size(), before.shells, signed_volume(mesh),
            surface_area(mesh), bounds(mesh),      before.closed};
}

Measures measure(const Mesh& mesh) { return measure(mesh, {mesh.faces.raw(), mesh.points.size()}); }

Measures measure(const Mesh& mesh, const EdgeTable& edges) {
    const Shells shells = find_shells(mesh, edges);
    return {mesh.points.size(),
            mesh.faces.size(),
            shells.count,
            signed_volume(mesh),
            surface_area(mesh),
            bounds(mesh),
            shells.closed && !mesh.empty()};
}

}  // namespace anvil
