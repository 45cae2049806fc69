#pragma once

#include <span>
#include <vector>

#include "core/mesh/mesh.h"

namespace anvil {

/// Where a face comes from: which operand, which of its faces, and whether it is used turned over.
struct FaceSource {
    std::uint32_t operand = 0;
    FaceId face;
    bool reversed = false;
    bool operator==(const FaceSource&) const = default;
};

/// Lists of sources, many per list, shared by faces that have the same ones.
class SourceLists {
  public:
    std::uint32_t add(std::span<const FaceSource> list) {
        all_.insert(all_.end(), list.begin(), list.end());
        start_.push_back(static_cast<std::uint32_t>(all_.size()));
        return static_cast<std::uint32_t>(start_.size() - 2);
    }
    std::span<const FaceSource> operator[](std::uint32_t list) const {
        return std::span(all_).subspan(start_[list], start_[list + 1] - start_[list]);
    }
    std::size_t size() const { return start_.size() - 1; }

  private:
    std::vector<FaceSource> all_;
    std::vector<std::uint32_t> start_{0};
};

/// Step 1, gather: the triangles of all operands over one set of welded points. Bit-equal faces are one face with
/// several sources; degenerate faces are set aside (their corners are corners of the neighbours too, and split what
/// they touch).
struct Soup {
    IdVector<VertexId, Vec3> points;
    IdVector<FaceId, Triangle> faces;   ///< no two with the same corners, none degenerate
    std::vector<std::uint32_t> source;  ///< per face: number of its list in `sources`
    SourceLists sources;
    std::uint32_t operands = 0;
    std::size_t set_aside = 0;  ///< degenerate faces left out

    const Vec3& corner(FaceId f, int k) const { return points[faces[f][k]]; }
};
Soup gather(std::span<const Mesh* const> operands);

}  // namespace anvil
