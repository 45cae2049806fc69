#include "core/inspect/compare.h"

#include <tbb/blocked_range.h>
#include <tbb/parallel_reduce.h>

#include <algorithm>
#include <chrono>

#include "core/spatial/nearest.h"

namespace anvil {
namespace {

struct Distances {
    double largest = 0, sum = 0;
    double samples = 0;
};

/// Into how many parts the edges of a face are cut.
int parts_of(const Mesh& mesh, FaceId f, double spacing) {
    const Vec3 &a = mesh.corner(f, 0), &b = mesh.corner(f, 1), &c = mesh.corner(f, 2);
    const double longest = std::max({norm(b - a), norm(c - a), norm(c - b)});
    return std::max(1, static_cast<int>(std::min(std::ceil(longest / spacing), 10000.0)));
}

/// A face that reaches far would have millions of samples: the spacing by which there are not too many.
double affordable(const Mesh& a, const Mesh& b, double spacing) {
    constexpr double most_samples = 4e6;
    for (;; spacing *= 1.5) {
        double samples = 0;
        for (const Mesh* mesh : {&a, &b})
            for (const FaceId f : ids<FaceId>(mesh->faces.size())) {
                const double n = parts_of(*mesh, f, spacing);
                samples += n * n / 2;
            }
        if (samples <= most_samples + static_cast<double>(a.faces.size() + b.faces.size())) return spacing;
    }
}

/// Samples each face on a grid of its barycentric coordinates, corners included.
Distances one_sided(const Mesh& from, const Mesh& to, double spacing, Progress& progress) {
    if (from.empty()) return {};
    if (to.empty()) return {HUGE_VAL, HUGE_VAL, 1};
    const NearestFace nearest(to);
    auto sample_face = [&](FaceId f, Distances& out) {
        const Vec3 &a = from.corner(f, 0), u = from.corner(f, 1) - a, v = from.corner(f, 2) - a;
        const int n = parts_of(from, f, spacing);
        for (int i = 0; i <= n && !progress.cancelled(); ++i)
            for (int j = 0; i + j <= n; ++j) {
                const double d = nearest.distance(a + u * (double(i) / n) + v * (double(j) / n));
                out.largest = std::max(out.largest, d);
                out.sum += d;
                out.samples += 1;
            }
    };
    return tbb::parallel_deterministic_reduce(
        tbb::blocked_range<std::size_t>(0, from.faces.size(), 256), Distances{},
        [&](const auto& range, Distances out) {
            for (std::size_t f = range.begin(); f != range.end() && !progress.cancelled(); ++f)
                sample_face(FaceId(f), out);
            return out;
        },
        [](const Distances& x, const Distances& y) {
            return Distances{std::max(x.largest, y.largest), x.sum + y.sum, x.samples + y.samples};
        });
}

}  // namespace

Result<Comparison> compare(const Mesh& a, const Mesh& b, double spacing, Progress& progress) {
    const auto start = std::chrono::steady_clock::now();
    Comparison out;
    out.a = measure(welded(a));
    out.b = measure(welded(b));
    out.spacing = spacing > 0 ? spacing : std::max(out.a.bounds.diagonal(), out.b.bounds.diagonal()) / 200;
    if (out.spacing <= 0) out.spacing = 1;
    out.spacing = affordable(a, b, out.spacing);
    progress.stage("measuring distances", 0, 0.5);
    const Distances ab = one_sided(a, b, out.spacing, progress);
    progress.stage("measuring distances", 0.5, 1);
    const Distances ba = one_sided(b, a, out.spacing, progress);
    if (progress.cancelled()) return cancelled_error();
    out.a_to_b = ab.largest;
    out.b_to_a = ba.largest;
    out.mean_a_to_b = ab.samples > 0 ? ab.sum / ab.samples : 0;
    out.mean_b_to_a = ba.samples > 0 ? ba.sum / ba.samples : 0;
    out.seconds = std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
    return out;
}

}  // namespace anvil
