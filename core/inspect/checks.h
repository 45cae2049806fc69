#pragma once

#include "core/inspect/inspect.h"
#include "core/mesh/edge_table.h"
#include "core/spatial/box_tree.h"

namespace anvil::inspect_detail {

/// What the single checks share. `clean_faces` are faces that are neither degenerate nor of zero length anywhere.
struct CheckContext {
    const Mesh& mesh;
    const EdgeTable& edges;
    const BoxTree* tree;  ///< over the boxes of the faces; for what is not cheap
    std::vector<char> clean_face;
    Inspection& out;
    std::vector<Finding>& findings;  ///< out.findings
    Progress& progress;
    const InspectOptions& options;
};

/// The checks, cheap ones first; each adds its findings.
void check_faces(CheckContext& context);     ///< zero-length edges, degenerate and duplicate faces
void check_edges(CheckContext& context);     ///< open, non-manifold and misoriented edges; holes
void check_vertices(CheckContext& context);  ///< non-manifold vertices
void check_sizes(CheckContext& context);     ///< short edges, needles, tiny shells
void check_borders(CheckContext& context);   ///< T-junctions and cracks
void check_fins(CheckContext& context);
void check_touching(CheckContext& context);  ///< after edges and vertices
void check_form(CheckContext& context);      ///< solid or sheet; stray sheets
void check_crossings(CheckContext& context);
void check_shells(CheckContext& context);       ///< interior faces and inverted shells; after crossings
void check_thin_places(CheckContext& context);  ///< thin skins and narrow gaps

}  // namespace anvil::inspect_detail
