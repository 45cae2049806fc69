#pragma once

#include <mutex>
#include <optional>

#include "core/combine/near_points.h"
#include "core/combine/settle_pieces.h"

namespace anvil {

/// Settles each of the pieces, cleaned before (see clean.h), up to one that the attempt gives up. `beside`: see
/// settle_pieces.
Result<SettledPieces> settle_each(const Arrangement& arrangement, std::span<const Extraction> pieces,
                                  std::span<const std::uint32_t> drawn, const SettleOptions& options,
                                  const Attempt& attempt, Progress& progress, const std::function<void()>& beside = {});

/// For a result that cannot be settled as it is: rounds points of the operands, arranges those anew, and settles what
/// comes of them. The moves count in `largest_move`; sources are those of the operands as they were given. Each way
/// gives nothing where the operands cannot be arranged then, or where it has no points to move.
class SnappedSettler {
  public:
    SnappedSettler(const Arrangement& arrangement, std::span<const CombineStep> steps,
                   std::span<const std::uint32_t> drawn, const SettleOptions& options, Progress& progress);

    /// Takes note of where a result was faulty.
    void note_faults(const SettledPieces& pieces);
    /// Whether points of those faces are near points of other operands.
    bool are_near_at(std::span<const FaceSource> faces) const { return distance_at(own_faces(faces)) > 0; }
    /// Whether operands nearly coincide at those faces, so that making their points one is the better way: they are a
    /// few places of the last digit apart, or there are many faults.
    bool nearly_coincide_at(std::span<const FaceSource> faces, std::size_t faults) const;

    using Tried = Result<std::optional<SettledPieces>>;
    /// All points rounded to single precision.
    Tried rounded() const;
    /// Points of different operands made one that are as near to each other as those at the faults that were noted
    /// last, or nearer; within a few places of the last digit at least, and 16 times as far as the time before. Nothing
    /// where none there are near.
    Tried merged();
    /// mm, within which they would be made one; 0 where none would.
    double merge_distance() const;
    /// The flat regions at all faults noted, and what touches them, put on a grid: `bits` as in `grid_for`.
    Tried on_grid(int bits) const;
    /// mm, the step of such a grid.
    double grid_step(int bits) const;
    double reach() const { return reach_; }

  private:
    /// An operand with some of its points rounded, and where its faces come from.
    struct Snapped {
        Mesh mesh;
        std::vector<FaceId> origin;
        bool moved = false;
        double largest_move = 0;  ///< mm
    };
    const NearPoints& near_points() const;
    /// mm, as NearPoints tells it: 0 where nothing is near.
    double distance_at(std::span<const std::vector<FaceId>> faces) const {
        return near_points().distance_at(faces, farthest());
    }
    /// mm; nearest points of operands that are farther apart do not become one.
    double farthest() const { return reach_ * (options_.precision == Precision::single_precision ? 0x1p-12 : 0x1p-20); }
    template <class To>
    std::vector<Snapped> snapped(const To& to) const;
    Tried settled(std::span<const Snapped> operands, Effort effort) const;
    Result<Arrangement> arranged(std::span<const Snapped> operands) const;
    void trace_back(std::span<const Snapped> operands, Settled& piece) const;
    std::vector<std::vector<FaceId>> own_faces(std::span<const FaceSource> sources) const;

    const Soup& soup_;
    std::span<const CombineStep> steps_;
    std::span<const std::uint32_t> drawn_;
    const SettleOptions& options_;
    Progress& progress_;
    double reach_;                             // mm
    std::vector<std::vector<FaceId>> faulty_;  // per operand: its faces at the faults noted last
    std::vector<std::vector<char>> near_;      // per operand and point: it is near a fault
    double merged_ = 0;                        // mm, within which points were made one
    mutable std::once_flag near_points_made_;
    mutable std::optional<NearPoints> near_points_;  // made when first asked for: few results need them
};

}  // namespace anvil
