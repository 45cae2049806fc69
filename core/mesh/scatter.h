#pragma once

#include <cstdint>
#include <vector>

#include "core/base/progress.h"
#include "core/mesh/mesh.h"

namespace anvil {

/// A place on a surface.
struct SurfacePoint {
    Vec3 point, normal;  ///< normal of length 1
};

struct ScatterOptions {
    std::size_t count = 0;   ///< so many are wanted
    double apart = 0;        ///< mm that they keep from each other, as the crow flies
    std::uint64_t seed = 1;  ///< the same seed gives the same places, on any machine
};

/// Places spread by chance evenly over a surface. Fewer come back where no more keep apart: after so many misses in a
/// row that a gap is not likely to be left (dart throwing: R. L. Cook, "Stochastic Sampling in Computer Graphics",
/// 1986).
std::vector<SurfacePoint> scattered(const Mesh& mesh, const ScatterOptions& options, const Progress& progress);

/// Numbers by chance that are the same everywhere (SplitMix64: G. Steele, D. Lea, C. Flood, "Fast Splittable
/// Pseudorandom Number Generators", 2014).
class Chance {
  public:
    explicit Chance(std::uint64_t seed) : state_(seed) {}
    std::uint64_t next() {
        std::uint64_t z = state_ += 0x9e3779b97f4a7c15ull;
        z = (z ^ (z >> 30)) * 0xbf58476d1ce4e5b9ull;
        z = (z ^ (z >> 27)) * 0x94d049bb133111ebull;
        return z ^ (z >> 31);
    }
    /// From 0 up to, not with, 1.
    double share() { return static_cast<double>(next() >> 11) * 0x1p-53; }
    double between(double low, double high) { return low + (high - low) * share(); }

  private:
    std::uint64_t state_;
};

}  // namespace anvil
