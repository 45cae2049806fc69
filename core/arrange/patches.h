#pragma once

#include <span>
#include <vector>

#include "core/arrange/active_faces.h"

namespace anvil {

/// Patches: what is left of the operands' surfaces when the active faces are taken out, connected across regular edges.
/// Nothing meets a patch but at its rim, so all of it lies between the same two cells.
struct Patches {
    struct Patch {
        std::uint32_t operand;
        FaceId first;         ///< one of its faces, by the operand's number
        std::uint32_t faces;  ///< how many
    };
    std::vector<Patch> list;

    std::size_t size() const { return list.size(); }
    /// The patch of an operand's face, which must not be active.
    std::uint32_t of(const Soup& soup, std::uint32_t operand, FaceId own) const {
        const OperandPart& part = parts[operand];
        if (!part.label.empty())
            if (const std::uint32_t label = part.label[own.value()]; label != none) return label;
        return part.rest_of_shell[soup.operand(operand).shell[own.value()]];
    }

    static constexpr std::uint32_t none = 0xffffffffu;
    struct OperandPart {
        std::vector<std::uint32_t> label;          ///< per face: its patch where it is told; empty for none
        std::vector<std::uint32_t> rest_of_shell;  ///< per shell: the patch of its faces that have no label
    };
    std::vector<OperandPart> parts;  ///< per operand
};

/// Costs about as much as all patches but the largest one of each shell have faces.
Patches find_patches(const Soup& soup, const ActiveFaces& active);

}  // namespace anvil
