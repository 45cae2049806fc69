#pragma once

#include <optional>

#include "core/recast/dual_contour.h"
#include "core/spatial/fast_winding.h"
#include "core/spatial/nearest.h"

namespace anvil {

/// What a closed surface encloses, crossing itself or not: the points that it is wound around at least once.
class SolidField : public ContourSource {
  public:
    /// Precondition: the mesh closes and has no degenerate face. It must outlive this. Of no use where it was stopped.
    SolidField(const Mesh& mesh, const Progress& progress) : mesh_(mesh), winding_(mesh, &progress), nearest_(mesh) {}

    bool is_inside(const Vec3& p) const { return winding_.at(p) > 0.5; }
    /// Where the second place is inside, too, half-way between them, across.
    SurfacePassage passage(const Vec3& inner, const Vec3& outer) const override;
    std::vector<SurfacePassage> planes_in(const Box& box) const override;
    /// Whether the box of some face meets the line between two places along an axis.
    bool comes_between(const Vec3& p, const Vec3& q) const;
    double distance(const Vec3& p) const override { return nearest_.distance(p); }
    const NearestFace& nearest() const { return nearest_; }

  private:
    struct Exit {
        Vec3 place;
        FaceId face;
    };
    std::optional<Exit> first_exit(const Vec3& inner, const Vec3& outer) const;
    Vec3 normal(FaceId f) const;

    const Mesh& mesh_;
    FastWinding winding_;
    NearestFace nearest_;
};

/// The solid's surface on a lattice. Points on the rim of the lattice are taken for outer ones, so that the surface
/// closes there. Fails only where it was stopped.
Result<Mesh> contour(const SolidField& field, const Lattice& lattice, Progress& progress);

}  // namespace anvil
