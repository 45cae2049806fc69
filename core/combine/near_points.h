#pragma once

#include <optional>
#include <span>
#include <vector>

#include "core/combine/rounding.h"

namespace anvil {

/// The point of an operand that is nearest to p within `distance` mm, which becomes how far it is.
std::optional<VertexId> nearest_point(const Operand& operand, const Vec3& p, double& distance);

/// Points of different operands that nearly coincide: bodies laid on each other but for their last digits. Skins
/// between them are thinner than numbers can keep, so where a result cannot be settled, such points become one.
///
/// The rule: a point goes to the nearest point of an earlier operand that is no farther than a distance, unless that is
/// more than an eighth of its own shortest edge.
class NearPoints {
  public:
    explicit NearPoints(const Soup& soup);
    /// How far the corners of those faces lie from their nearest points in other operands, at most: mm, not above
    /// `most`; 0 where none is so near.
    double distance_at(std::span<const std::vector<FaceId>> faces, double most) const;
    /// The points of all operands, those within `distance` mm of one of an earlier operand made that one. Of no use
    /// where it was stopped.
    std::vector<std::vector<Vec3>> merged(double distance, Precision precision, const Progress& progress) const;

  private:
    const Soup& soup_;
    std::vector<std::vector<double>> room_;  // per operand and point: mm, how far it may go
};

}  // namespace anvil
