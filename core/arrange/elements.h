#pragma once

#include <optional>

#include "core/arrange/patches.h"
#include "core/arrange/subdivide.h"
#include "core/spatial/ray_winding.h"

namespace anvil {

/// Sub-faces and, behind them, patches by one number. Each element has two sides: 2 * e in front of it, 2 * e + 1
/// behind it. Refers to what it is made of.
class Elements {
  public:
    Elements(const Soup& soup, const PointTable& points, const ActiveFaces& active, const SubFaces& faces,
             const Patches& patches)
        : soup_(soup), points_(points), active_(active), faces_(faces), patches_(patches) {}

    std::uint32_t count() const { return static_cast<std::uint32_t>(faces_.size() + patches_.size()); }
    bool is_patch(std::uint32_t e) const { return e >= faces_.size(); }
    const Patches::Patch& patch(std::uint32_t e) const { return patches_.list[e - faces_.size()]; }
    std::uint32_t of_patch(std::uint32_t p) const { return static_cast<std::uint32_t>(faces_.size()) + p; }

    /// Calls visit(operand, reversed) for everything that lies there.
    template <class Visit>
    void for_each_source(std::uint32_t e, const Visit& visit) const {
        if (is_patch(e)) return visit(patch(e).operand, false);
        for (const FaceSource& s : faces_.sources[faces_.source[e]]) visit(s.operand, s.reversed);
    }
    /// Calls add(operand, jump): what is added to its winding number when the element is passed from front to back.
    template <class Add>
    void for_each_jump(std::uint32_t e, const Add& add) const {
        for_each_source(e, [&](std::uint32_t o, bool reversed) {
            if (!soup_.operand(o).sheet) add(o, reversed ? -1 : 1);
        });
    }
    FaceSource a_source(std::uint32_t e) const {
        if (!is_patch(e)) return faces_.sources[faces_.source[e]].front();
        return soup_.source(soup_.global(patch(e).operand, patch(e).first));
    }

    /// A face of the soup in whose plane it lies; for a patch, where it lies in several planes, one of its faces.
    FaceId plane(std::uint32_t e) const {
        return is_patch(e) ? soup_.global(patch(e).operand, patch(e).first) : faces_.plane[e];
    }
    /// A ray from beside the element.
    SideRay ray_beside(std::uint32_t e) const {
        const CornerPoints c = soup_.corners(plane(e));
        return is_patch(e) ? SideRay(c) : SideRay(corners(e), c);
    }
    /// Where the sub-faces of a face begin, which faces that lie on each other share; none for a face of a patch.
    std::optional<std::uint32_t> first_part(FaceId face) const {
        const std::uint32_t active = active_.index_of[face.value()];
        if (active == ActiveFaces::none) return std::nullopt;
        return faces_.of_active[active][0];
    }
    /// The element of a face that a ray passes, at the place where it does.
    std::uint32_t passed_by(const SideRay& ray, std::uint32_t operand, FaceId own) const {
        const std::uint32_t active = active_.index_of[soup_.global(operand, own).value()];
        if (active == ActiveFaces::none) return of_patch(patches_.of(soup_, operand, own));
        const auto [from, to] = faces_.of_active[active];
        for (std::uint32_t e = from; e + 1 < to; ++e)
            if (ray.passes(corners(e)) != 0) return e;
        return to - 1;
    }

  private:
    std::array<PointView, 3> corners(std::uint32_t e) const {
        const Triangle& t = faces_.corners[e];
        return {points_.view(t[0]), points_.view(t[1]), points_.view(t[2])};
    }

    const Soup& soup_;
    const PointTable& points_;
    const ActiveFaces& active_;
    const SubFaces& faces_;
    const Patches& patches_;
};

}  // namespace anvil
