#include "core/arrange/self_contacts.h"

#include "core/arrange/contact_lists.h"
#include "core/spatial/leaf_corners.h"

namespace anvil {

std::optional<std::vector<FaceContact>> find_self_contacts(const Mesh& mesh, const std::vector<char>& sound,
                                                           const BoxTree& tree, Progress& progress) {
    const auto& points = mesh.points.raw();
    const auto& faces = mesh.faces.raw();
    // Of the pairs that the boxes give, nine in ten are neighbours; stars that are sound as a whole answer for them.
    const LeafCorners corners(tree, faces, sound);
    auto at_sound_star = [&](std::uint32_t a, std::uint32_t b, unsigned) { return corners.sharing(a, b); };
    return gather_contacts(
        [&](const auto& prepare, const auto& test) { return tree.self_pairs(prepare, test, &progress, at_sound_star); },
        [&](std::uint32_t i, std::uint32_t j) -> std::optional<Contact> {
            const Contact c = triangle_contact(corner_points(points, faces[i]), corner_points(points, faces[j]));
            return c.beyond_shared() ? std::optional(c) : std::nullopt;
        });
}

}  // namespace anvil
