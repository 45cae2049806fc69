#pragma once

#include <cstdint>
#include <span>

#include "core/arrange/half_edges.h"
#include "core/base/vec3.h"
#include "core/spatial/triangle_contact.h"

namespace anvil {

/// Which fans of faces round a point are looked at: rings, or open ones, too.
enum class Fans { closed, open_too };

/// The faces round a point as rays from it, each face between one ray and the next.
class RayFan {
  public:
    /// False where the faces are not one ring or one such fan, or too many to look at all pairs.
    bool collect(std::span<const Vec3> points, std::span<const Triangle> faces, const HalfEdges& edges, Fans fans,
                 std::size_t v);

    /// Whether certainly no two of the faces meet in more than the edges or the point they share.
    bool are_apart();

  private:
    static constexpr std::size_t most = 16, few = 3;
    std::size_t after(std::size_t i) const { return i + 1 == rays_ ? 0 : i + 1; }
    bool bends(std::size_t i) const;
    bool surely_apart(std::size_t i, std::size_t j) const;
    bool has_area(std::size_t i) const;
    bool meet_as_neighbours(std::size_t i, std::size_t j) const;
    bool is_beside(std::size_t i, std::size_t j) const;
    bool are_parted(std::size_t i, std::size_t j) const;
    bool are_parted_along_rays(std::size_t i, std::size_t j) const;
    bool are_parted_round_line(std::size_t i, std::size_t j) const;
    bool has_between(const Vec3& normal, std::size_t i, std::size_t j) const;
    int side_of(const Vec3& normal, double reaches, std::size_t k) const;
    Vec3 unit(std::size_t k) const;

    bool closed_ = false;
    std::size_t faces_ = 0, rays_ = 0;
    CornerPoints corners_[most];
    Vec3 ray_[most + 1], normal_[most];
    double reach_[most + 1];
    // Per face and ray: the side of the face's plane on which the ray certainly lies; 0 where that is not sure.
    signed char side_[most][most + 1];
};

}  // namespace anvil
