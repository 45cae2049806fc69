#pragma once

#include "core/arrange/half_edges.h"
#include "core/arrange/operand.h"
#include "core/arrange/surface_parts.h"

namespace anvil {

/// Makes a closed chain of faces out of an operand's mesh, whatever it is: neighbours are turned to run alike, borders
/// that lie on each other are joined, loose sheets beside a solid are left out, holes are closed by the smallest fill.
/// Each is told in the notes. Faces that are added have no origin. `edges`: of the mesh's faces, kept up to date.
/// Where no part of it is a solid by itself, what all enclose together is taken (see enclose.h); where that is nothing
/// it is marked as a sheet, and stays open; with the rule to close sheets its borders are filled first, and only what
/// is flat is a sheet. Where it was stopped the operand is of no use.
void close_operand(Operand& operand, HalfEdges& edges, SheetRule sheets, Progress& progress);

/// Turns shells outward that are inside out, and notes it. Returns whether any was turned.
bool turn_operand_outward(Operand& operand, HalfEdges& edges);

}  // namespace anvil
