#include "core/arrange/self_contacts.h"

#include "core/arrange/contact_lists.h"

namespace anvil {

std::optional<std::vector<FaceContact>> find_self_contacts(const Mesh& mesh, const std::vector<char>& sound,
                                                           const BoxTree& tree, Progress& progress) {
    const auto& points = mesh.points.raw();
    const auto& faces = mesh.faces.raw();
    // Of the pairs that the boxes give, nine in ten are neighbours; stars that are sound as a whole answer for them.
    return gather_contacts(
        [&](const auto& prepare, const auto& test) { return tree.self_pairs(prepare, test, &progress); },
        [&](std::uint32_t i, std::uint32_t j) -> std::optional<Contact> {
            const Triangle &a = faces[i], &b = faces[j];
            for (VertexId v : a)
                if ((v == b[0] || v == b[1] || v == b[2]) && sound[v.value()]) return std::nullopt;
            const Contact c = triangle_contact(corner_points(points, a), corner_points(points, b));
            return c.beyond_shared() ? std::optional(c) : std::nullopt;
        });
}

}  // namespace anvil
