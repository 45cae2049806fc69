#pragma once

#include "core/arrange/arrangement.h"

namespace anvil {

/// An earlier arrangement, for one that has some of the same operands at the same places: the points and the splitting
/// of clusters that nothing else touches are as they were. What is taken over is, bit for bit, what would be worked out
/// anew.
class EarlierArrangement {
  public:
    /// Both must outlive it.
    EarlierArrangement(const Arrangement& before, const Soup& now);

    /// Whether an operand is the same one, with points and faces of the same numbers.
    bool same(std::uint32_t operand) const { return operand < same_.size() && same_[operand]; }
    /// Looks for the points that are defined as they were; to be called before what follows.
    void match(std::span<const PointDefinition> definitions);
    /// The one of that number among those, or null where it is to be constructed.
    const ExactPoint* point(std::size_t number, Vec3& approx) const;

    /// Finds the cluster as it was, where it was split into sub-faces without points of their own.
    /// `points`: with the crossings' points, identified.
    const SubFaces::OfCluster* find(const Cluster& cluster, const Clusters& clusters, const ActiveFaces& active,
                                    const Crossings& crossings, const PointTable& points) const;
    /// Its sub-faces, and numbers of points now.
    const SubFaces& faces() const { return before_.faces; }
    VertexId now(VertexId v) const { return is_input(v) ? v : VertexId(added_now_[v.value() - input_count_]); }

  private:
    static constexpr std::uint32_t none = 0xffffffffu;
    bool is_input(VertexId v) const { return v.value() < input_count_; }
    bool same(const PointDefinition& d) const;

    const Arrangement& before_;
    const Soup& soup_;
    std::size_t input_count_;
    Clusters clusters_;                        // of the one before, found again: they take more room than time
    std::vector<char> same_;                   // per operand
    std::vector<std::uint32_t> added_before_;  // per point defined now: its number among those before
    std::vector<std::uint32_t> added_now_;     // the other way round, numbers of the table
};

}  // namespace anvil
