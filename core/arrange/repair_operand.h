#pragma once

#include "core/arrange/half_edges.h"
#include "core/arrange/operand.h"

namespace anvil {

/// Makes a closed chain of faces out of an operand's mesh, whatever it is: neighbours are turned to run alike, borders
/// that lie on each other are joined, loose sheets beside a solid are left out, holes are closed by the smallest fill.
/// Each is told in the notes. Faces that are added have no origin. `edges`: of the mesh's faces, kept up to date.
/// Where nothing of it is a solid it is marked as a sheet, and stays open.
void close_operand(Operand& operand, HalfEdges& edges);

/// Turns shells outward that are inside out, and notes it. Returns whether any was turned.
bool turn_operand_outward(Operand& operand, HalfEdges& edges);

}  // namespace anvil
