#pragma once

#include "core/inspect/inspect.h"
#include "core/mesh/edge_table.h"
#include "core/spatial/box_tree.h"

namespace anvil::inspect_detail {

/// What the single checks share. `clean_faces` are faces that are neither degenerate nor of zero length anywhere.
struct CheckContext {
    const Mesh& mesh;
    const EdgeTable& edges;
    const BoxTree& tree;  ///< over the boxes of the faces
    std::vector<char> clean_face;
    std::vector<Finding>& findings;
    Progress& progress;
    double thin_below;  ///< mm
};

/// The checks, cheap ones first; each adds its findings.
void check_faces(CheckContext& context);     ///< zero-length edges, degenerate and duplicate faces
void check_edges(CheckContext& context);     ///< open, non-manifold and misoriented edges; holes
void check_vertices(CheckContext& context);  ///< non-manifold vertices
void check_t_junctions(CheckContext& context);
void check_crossings(CheckContext& context);
void check_shells(CheckContext& context);  ///< interior faces and inverted shells
void check_thin_skins(CheckContext& context);

}  // namespace anvil::inspect_detail
