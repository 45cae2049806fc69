#pragma once

#include "core/arrange/half_edges.h"

namespace anvil {

/// Turns faces over so that neighbours run alike: of each part of the surface the fewer ones are turned. Where that is
/// not possible (a one-sided surface) the part stays as it is. Returns how many faces were turned.
/// `edges`: of the mesh's faces; out of date where any was turned.
std::size_t orient_alike(Mesh& mesh, const HalfEdges& edges);

/// Turns closed shells that are inside out: all of them where the mesh as a whole encloses less than nothing, and then
/// each that is wound inward without lying in another one, where it would bound a cavity. Returns how many shells were
/// turned. Shells with irregular edges are left alone.
std::size_t turn_shells_outward(Mesh& mesh, const HalfEdges& edges);

}  // namespace anvil
