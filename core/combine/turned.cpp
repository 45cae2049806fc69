#include "core/combine/turned.h"

#include <tbb/parallel_for.h>

#include <algorithm>
#include <atomic>

namespace anvil {
namespace {

Vec3 normal_of(const Vec3& p, const Vec3& q, const Vec3& r) { return cross(q - p, r - p); }

/// Tells face by face, in any order; quickly where faces of one plane follow each other.
class TurnedTeller {
  public:
    TurnedTeller(const Arrangement& arrangement, Precision precision)
        : a_(arrangement), single_(precision == Precision::single_precision) {}

    /// `against`: it runs against the face of the soup that lies in its plane.
    bool is_turned(const Triangle& t, FaceId plane, bool against) {
        // Points of operands stay where they are, as far as the precision can hold them.
        if (!single_ && std::ranges::all_of(t, [&](VertexId v) { return a_.points.is_input(v); })) return false;
        if (plane != plane_) {
            plane_ = plane;
            const auto corners = a_.soup.corners(plane_);
            normal_ = normal_of(*corners[0], *corners[1], *corners[2]);
        }
        const double along = dot(normal_of(rounded(t[0]), rounded(t[1]), rounded(t[2])), normal_);
        return against ? along > 0 : along < 0;
    }

  private:
    Vec3 rounded(VertexId v) const { return single_ ? in_single_precision(a_.points.approx(v)) : a_.points.approx(v); }
    const Arrangement& a_;
    bool single_;
    FaceId plane_;
    Vec3 normal_;
};

constexpr std::size_t block = 4096;

}  // namespace

std::vector<FaceSource> turned_over(const Arrangement& arrangement, const Extraction& extraction, Precision precision,
                                    std::size_t most) {
    std::vector<std::vector<FaceSource>> parts(extraction.corners.size() / block + 1);
    tbb::parallel_for(std::size_t{0}, parts.size(), [&](std::size_t b) {
        TurnedTeller teller(arrangement, precision);
        const std::size_t end = std::min(extraction.corners.size(), (b + 1) * block);
        for (std::size_t f = b * block; f < end && parts[b].size() < most; ++f)
            if (teller.is_turned(extraction.corners[f], extraction.plane[f], extraction.against_plane[f]))
                parts[b].push_back(extraction.source[f]);
    });
    std::vector<FaceSource> out;
    for (const auto& part : parts)
        for (const FaceSource& source : part)
            if (out.size() < most) out.push_back(source);
    return out;
}

bool none_turned_over(const Arrangement& arrangement, Precision precision) {
    const SubFaces& faces = arrangement.faces;
    std::atomic<bool> any = false;
    tbb::parallel_for(std::size_t{0}, faces.size() / block + 1, [&](std::size_t b) {
        TurnedTeller teller(arrangement, precision);
        const std::size_t end = std::min(faces.size(), (b + 1) * block);
        for (std::size_t f = b * block; f < end && !any; ++f)
            if (teller.is_turned(faces.corners[f], faces.plane[f], false)) any = true;
    });
    return !any;
}

std::size_t faults_at_turned(const Extraction& extraction, std::size_t turned) {
    const auto& sources = extraction.source;
    const auto against = static_cast<std::size_t>(std::ranges::count_if(sources, &FaceSource::reversed));
    const bool is_skin = 4 * std::min(against, sources.size() - against) > sources.size();
    return is_skin ? 3 * turned : turned + turned * 3 / 5;
}

}  // namespace anvil
