#pragma once

#include <memory>
#include <string>

#include "core/base/progress.h"
#include "core/base/result.h"
#include "core/spatial/box_tree.h"
#include "core/spatial/triangle_contact.h"

namespace anvil {

/// Two faces that meet, each by its number within its own operand.
struct FaceContact {
    FaceId a, b;
    Contact contact;
};

/// One operand made ready, once, for any number of arrangements: everything that depends on it alone.
/// Never changed after it is made, so arrangements, jobs and threads share it.
struct Operand {
    Mesh mesh;                  ///< welded; no face has a corner twice, lies in a line, or repeats another one
    std::vector<FaceId> origin;  ///< per face: its number in the mesh as it was given
    /// Further faces that lie on a face of `mesh` with the same corners; sorted by that face.
    struct Copy {
        FaceId of, origin;
        bool reversed;
    };
    std::vector<Copy> copies;
    std::vector<std::uint32_t> twin;        ///< per half-edge: as `HalfEdges::twin`
    std::vector<FaceId> irregular;          ///< faces with an edge that is not regular, or with copies; sorted
    std::vector<std::uint32_t> shell;       ///< per face: faces connected across regular edges
    std::vector<FaceId> shell_start;        ///< per shell: its first face
    std::vector<std::uint32_t> shell_size;  ///< per shell: its number of faces
    BoxTree tree;                           ///< over the boxes of the faces
    Box bounds;
    std::vector<FaceContact> contacts;  ///< of its faces among each other, beyond shared corners and edges; sorted
    std::size_t set_aside = 0;          ///< degenerate faces left out: their edges are in their neighbours' too
    std::vector<std::string> notes;     ///< what was assumed about it; sentences about "it"
};

struct OperandOptions {
    /// Turns what is inside out. Off: faces are taken as they are wound, and winding numbers may be negative.
    bool turn_outward = true;
};

/// Preconditions: coordinates are finite.
/// Fails: open_operand where it has no faces or does not close (every edge must be run along as often one way as the
/// other; the message counts them); cancelled.
Result<std::shared_ptr<const Operand>> make_operand(const Mesh& given, const OperandOptions& options,
                                                    Progress& progress);

}  // namespace anvil
