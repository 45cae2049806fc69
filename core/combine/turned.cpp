#include "core/combine/turned.h"

#include <tbb/parallel_for.h>

#include <algorithm>

namespace anvil {
namespace {

bool is_turned(const Arrangement& a, const Extraction& extraction, std::size_t f, Precision precision) {
    const bool single = precision == Precision::single_precision;
    const Triangle& t = extraction.corners[f];
    // Points of operands stay where they are, as far as the precision can hold them.
    if (!single && std::ranges::all_of(t, [&](VertexId v) { return a.points.is_input(v); })) return false;
    auto rounded = [&](VertexId v) { return single ? in_single_precision(a.points.approx(v)) : a.points.approx(v); };
    auto normal = [](const Vec3& p, const Vec3& q, const Vec3& r) { return cross(q - p, r - p); };
    const auto plane = a.soup.corners(extraction.plane[f]);
    const double along =
        dot(normal(rounded(t[0]), rounded(t[1]), rounded(t[2])), normal(*plane[0], *plane[1], *plane[2]));
    return extraction.against_plane[f] ? along > 0 : along < 0;
}

}  // namespace

std::vector<FaceSource> turned_over(const Arrangement& arrangement, const Extraction& extraction, Precision precision,
                                    std::size_t most) {
    constexpr std::size_t block = 4096;
    std::vector<std::vector<FaceSource>> parts(extraction.corners.size() / block + 1);
    tbb::parallel_for(std::size_t{0}, parts.size(), [&](std::size_t b) {
        const std::size_t end = std::min(extraction.corners.size(), (b + 1) * block);
        for (std::size_t f = b * block; f < end && parts[b].size() < most; ++f)
            if (is_turned(arrangement, extraction, f, precision)) parts[b].push_back(extraction.source[f]);
    });
    std::vector<FaceSource> out;
    for (const auto& part : parts)
        for (const FaceSource& source : part)
            if (out.size() < most) out.push_back(source);
    return out;
}

}  // namespace anvil
