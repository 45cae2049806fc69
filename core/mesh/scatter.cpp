#include "core/mesh/scatter.h"

#include <algorithm>
#include <cmath>
#include <unordered_map>

#include "core/mesh/measures.h"

namespace anvil {
namespace {

/// Points in cells as wide as they keep apart: only the 27 cells round one have to be looked at.
class Neighbours {
  public:
    explicit Neighbours(double apart) : apart_(apart) {}
    bool is_free(const Vec3& p) const {
        if (apart_ <= 0) return true;
        for (int x = -1; x <= 1; ++x)
            for (int y = -1; y <= 1; ++y)
                for (int z = -1; z <= 1; ++z) {
                    const auto [from, to] = cells_.equal_range(cell(p, x, y, z));
                    for (auto at = from; at != to; ++at)
                        if (norm2(at->second - p) < apart_ * apart_) return false;
                }
        return true;
    }
    void add(const Vec3& p) {
        if (apart_ > 0) cells_.emplace(cell(p, 0, 0, 0), p);
    }

  private:
    /// Cells that share a key by chance only make more to be looked at.
    std::uint64_t cell(const Vec3& p, int x, int y, int z) const {
        auto of = [&](double v, int by) {
            return static_cast<std::uint64_t>(static_cast<std::int64_t>(std::floor(v / apart_)) + by);
        };
        return of(p.x, x) * 0x9e3779b97f4a7c15ull ^ of(p.y, y) * 0xc2b2ae3d27d4eb4full ^
               of(p.z, z) * 0x165667b19e3779f9ull;
    }
    double apart_;
    std::unordered_multimap<std::uint64_t, Vec3> cells_;
};

}  // namespace

std::vector<SurfacePoint> scattered(const Mesh& mesh, const ScatterOptions& options, const Progress& progress) {
    std::vector<double> up_to;  // areas, summed
    double area = 0;
    for (const FaceId f : ids<FaceId>(mesh.faces.size())) {
        area += norm(area_vector(mesh, f)) / 2;
        up_to.push_back(area);
    }
    std::vector<SurfacePoint> out;
    if (!(area > 0) || !std::isfinite(area)) return out;
    Chance chance(options.seed);
    Neighbours near(options.apart);
    const std::size_t most_misses = 200 + 4 * std::min<std::size_t>(options.count, 10000);
    for (std::size_t misses = 0; out.size() < options.count && misses < most_misses;) {
        if (progress.cancelled()) break;
        const auto at = std::ranges::upper_bound(up_to, chance.share() * area);
        const FaceId f(static_cast<std::uint32_t>(std::min<std::ptrdiff_t>(at - up_to.begin(), std::ssize(up_to) - 1)));
        // Even over a triangle: the square root undoes how it narrows.
        const double s = std::sqrt(chance.share()), t = chance.share();
        const Vec3 &a = mesh.corner(f, 0), &b = mesh.corner(f, 1), &c = mesh.corner(f, 2);
        const Vec3 p = a * (1 - s) + b * (s * (1 - t)) + c * (s * t), normal = normalized(cross(b - a, c - a));
        if (normal == Vec3{} || !near.is_free(p)) {
            ++misses;
            continue;
        }
        misses = 0;
        near.add(p);
        out.push_back({p, normal});
    }
    return out;
}

}  // namespace anvil
