#pragma once

#include "core/base/progress.h"
#include "core/base/result.h"
#include "core/job/rows.h"

namespace anvil {

/// The steps of a list up to one of them, which may be grouped; none where that is empty. Nothing where it is not
/// there.
std::optional<Steps> steps_up_to(const Steps& steps, std::string_view last);

/// The separate bodies of a mesh, as links name them, in the order of their first faces.
std::vector<PieceOf> pieces_of(const Mesh& mesh, const Progress& progress);
/// The separate body that is meant: the one that looks as it did, or the one nearest to that, if no other is nearly as
/// near. Fails: lost, cancelled.
Result<Mesh> piece_like(const PieceOf& wanted, const Mesh& mesh, const Progress& progress);

/// Adds a part that follows another, on the bench, where that stands. Returns its id.
std::string add_link(Job& job, std::string name, Link link, const Placement& bench);
/// What the part of a row is linked to by a link: an operand with its bundle, a part on the bench with its steps, of
/// the base that as it stands before any step.
Link link_to(const Job& job, const Row& row);
/// The body as the list of a row leaves it after that row.
Link link_to_stage(const Row& row);

/// The part that a link follows becomes a copy of its own, as it is now.
void use_copy(Job& job, const std::string& part, std::shared_ptr<const Mesh> body);
/// And follows again. Fails: where it was no link, or would be made of itself.
Result<void> follow_again(Job& job, const std::string& part);
/// Sets how far a link follows. Fails: where it would be made of itself.
Result<void> follow_as_of(Job& job, const std::string& part, std::optional<std::string> as_of);

/// Whether a part is made of another, or is that; links that end at a step are not gone through.
bool is_made_of(const Job& job, const std::string& id, std::string_view other);

}  // namespace anvil
