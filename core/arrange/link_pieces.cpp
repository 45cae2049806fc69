// The region round a surface is found above it: a ray from beside the surface passes it for the last time into the
// region, and what it passes next, if anything, bounds the same region. Surfaces that lie over each other in turns, as
// links of a chain do, may be linked among themselves only: such a group is taken as one surface then, and linked to
// what else there is, until all hang together with the outside.
#include "core/arrange/link_pieces.h"

#include <tbb/parallel_for.h>

#include <unordered_set>

namespace anvil {
namespace {

/// An element, with the face on which a ray passes it.
struct Passed {
    std::uint32_t element;
    FaceId face;
};

class Linker {
  public:
    /// `group`: per element.
    Linker(const Soup& soup, const Elements& elements, const std::vector<std::uint32_t>& group)
        : soup_(soup), elements_(elements), group_(group) {}

    /// The two sides, one of the seed's group and one of another's (or the outside), that look into the region round
    /// the seed's group.
    std::pair<std::uint32_t, std::uint32_t> link(std::uint32_t seed) const {
        const SideRay ray = elements_.ray_beside(seed);
        const std::vector<Passed> passed = find_passed(ray);
        auto above = [&](const Passed& a, const Passed& b) {
            return ray.compare_heights(soup_.corners(a.face), soup_.corners(b.face)) > 0;
        };
        Passed last{seed, elements_.plane(seed)};
        for (const Passed& p : passed)
            if (group_[p.element] == group_[seed] && above(p, last)) last = p;
        const Passed* next = nullptr;
        for (const Passed& p : passed)
            if (group_[p.element] != group_[seed] && above(p, last) && (!next || above(*next, p))) next = &p;
        const std::uint32_t outside = 2 * elements_.count();
        return {side(last, ray, true), next ? side(*next, ray, false) : outside};
    }

  private:
    std::vector<Passed> find_passed(const SideRay& ray) const {
        std::vector<Passed> passed;
        std::unordered_set<std::uint32_t> searched;  // faces that lie on each other have one place, long to find
        for (std::uint32_t o = 0; o < soup_.size(); ++o) {
            const Operand& operand = soup_.operand(o);
            ray.through(operand.mesh.points.raw(), operand.mesh.faces.raw(), operand.tree, [&](std::uint32_t f) {
                const FaceId face = soup_.global(o, FaceId(f));
                const auto parts = elements_.first_part(face);
                if (parts && !searched.insert(*parts).second) return;
                passed.push_back({elements_.passed_by(ray, o, FaceId(f)), face});
            });
        }
        return passed;
    }
    /// The side that looks up, or down.
    std::uint32_t side(const Passed& p, const SideRay& ray, bool up) const {
        // A sub-face is wound like the face of its plane, which need not be the face that was passed.
        const FaceId wound_like = elements_.is_patch(p.element) ? p.face : elements_.plane(p.element);
        const CornerPoints c = soup_.corners(wound_like);
        const bool front_is_up = orient2d(*c[0], *c[1], *c[2], ray.axis()) > 0;
        return 2 * p.element + (front_is_up == up ? 0 : 1);
    }

    const Soup& soup_;
    const Elements& elements_;
    const std::vector<std::uint32_t>& group_;
};

}  // namespace

bool link_pieces(const Soup& soup, const Elements& elements, DisjointSets& surfaces, DisjointSets& sides,
                 Progress& progress) {
    const std::uint32_t n = elements.count(), outside = n;
    for (;;) {
        std::vector<std::uint32_t> group(n), seeds;
        const std::uint32_t linked = surfaces.find(outside);
        for (std::uint32_t e = 0; e < n; ++e) {
            if (e % 65536 == 0 && progress.cancelled()) return false;
            group[e] = surfaces.find(e);
            if (group[e] == e && e != linked) seeds.push_back(e);
        }
        if (seeds.empty()) return true;
        const Linker linker(soup, elements, group);
        std::vector<std::pair<std::uint32_t, std::uint32_t>> links(seeds.size());
        tbb::parallel_for(std::size_t{0}, seeds.size(), [&](std::size_t i) {
            if (!progress.cancelled()) links[i] = linker.link(seeds[i]);
        });
        if (progress.cancelled()) return false;
        for (const auto& [own, other] : links) {
            sides.join(own, other);
            surfaces.join(own / 2, other / 2);
        }
    }
}

}  // namespace anvil
