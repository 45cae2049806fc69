#pragma once

#include "core/base/result.h"
#include "core/job/tags.h"

namespace anvil {

// An anchor is found again by its tags: what lies on faces of that tag, or between faces of two. Where there were
// several such places, by where it lay: the one nearest to that, if no other is nearly as near. Where a tag is not
// there any more, since the mesh that had it was replaced, by lying where it lay, between faces of the same makers.
// Never otherwise: what is not found so is lost.

/// What a selection holds on to, one anchor for each part of it that hangs together. Mesh: welded; tags: of its faces.
std::vector<Anchor> anchors_of(const Selection& selection, const Mesh& mesh, const Tags& tags);

/// What the flat face that a face belongs to holds on to: faces in one plane that hang together. `corners`: of that
/// face. Nothing where the mesh has no such face, or where that is a facet of something round.
std::vector<Anchor> anchors_of_flat_face(const std::array<Vec3, 3>& corners, const Mesh& mesh, const Tags& tags);

/// The elements that anchors hold, in a body as it is now. All anchors are of one kind of element. Mesh: welded.
/// Fails: lost, where one of them is not found, or several places could be meant.
Result<Selection> held_by(std::span<const Anchor> anchors, const Mesh& mesh, const Tags& tags);

}  // namespace anvil
