#pragma once

#include <functional>

#include "core/base/result.h"
#include "core/job/rows.h"
#include "core/mend/hand_edit.h"

namespace anvil {

// Edits put other parts and steps in the place of those that were: what a history holds never changes. An id that is
// not there changes nothing. Ids that are given may be those of the job itself.

/// Where a step is to stand: in the list of that part, or of the steps grouped under one of it, in front of the step
/// `before`, or last where that is empty.
struct Place {
    std::string list, before{}, group{};
};
/// In front of the step of a row.
Place place_of(const Row& row);

void edit_part(Job& job, std::string_view id, const std::function<void(Part&)>& edit);
/// Also of steps within groups.
void edit_step(Job& job, std::string_view id, const std::function<void(Step&)>& edit);
/// The use of the part with the body that a row is about: of the operand of a step, or of the source of the part in
/// work, which becomes a use where it has a body of its own.
void edit_use(Job& job, const RowId& row, const std::function<void(Use&)>& edit);
/// Where the part of a row stands; on the bench for one that waits there.
void set_placement(Job& job, const RowId& row, const Placement& placement);

/// Adds a part with an unused id, which lies there on the bench. The first one becomes the base: the part in work uses
/// it. Returns its id.
std::string add_part(Job& job, std::string name, PartSource source, const Placement& bench = {});
std::string add_part(Job& job, std::string name, std::shared_ptr<const Mesh> mesh);
/// Adds a step with an unused id that combines a part with the body, last of all; it stands where it stood on the
/// bench. Returns its id. Precondition: there is a part in work.
std::string add_combining(Job& job, Operation operation, const std::string& part);
/// Adds a treatment with an unused id. Returns that.
std::string add_treatment(Job& job, const Place& to, std::string kind, Values values = {});
/// The step in front of a place; null where that is the first.
const Step* step_before(const Job& job, const Place& place);
/// Adds an edit by hand: to the group of edits that stands there already and is on, else in one of its own. Returns its
/// id.
std::string add_edit(Job& job, const Place& to, const HandEdit& edit);

/// Takes a step out. Parts that only it used go to the bench and stay where they stood; a list that was made for it
/// goes.
void remove_step(Job& job, std::string id);
/// Takes the steps out whose operand a part is.
void remove_steps_of(Job& job, std::string part);
/// Takes a part out, and the steps that use it. Where it was the base, the first part on the bench, else the first one,
/// becomes that.
void remove_part(Job& job, std::string id);
/// Calls a part otherwise, and the lists that stand for it.
void rename_part(Job& job, std::string id, std::string name);
/// The steps that used the part go; what was the base goes to the bench. False where the part follows the result.
bool make_base(Job& job, std::string part);

/// Moves a step to another place, its operand with all that belongs to it. `way`: from the coordinates of the list
/// that it leaves into those of the other. Fails: where a part would be made of itself, or lists lie too deep.
Result<void> move_step(Job& job, const std::string& id, const Place& to, const Transform& way = Transform::Identity());
/// Moves a step, last, into the list of the operand of another: it acts on that, before that acts on its own body.
/// It stays where it stands. Fails: as `move_step`; where the other has no operand.
Result<void> move_into(Job& job, const std::string& id, const std::string& into);
/// Moves a step out of the list of an operand, behind the step that uses that. False where it lies in none.
bool move_out(Job& job, const RowId& row);

/// Lists of operands lie no deeper in each other.
inline constexpr int deepest_list = 16;

/// Size in mm of the box around the named parts, as meshes where they were made, if their numbers were meant in `unit`.
Vec3 size_as(const Job& job, std::span<const std::string> parts, ImportUnit unit);
/// Takes the numbers of the named parts, read as millimetres so far, as meant in `unit`, and keeps that as the answer.
void read_as(Job& job, std::span<const std::string> parts, ImportUnit unit);

}  // namespace anvil
