#pragma once

#include <optional>
#include <set>
#include <string>
#include <vector>

#include "core/job/model.h"

namespace anvil {

/// A row of the job sheet: the source of the part in work, a part on the bench, or a step, known by the way to it: the
/// id of that part, then the ids of steps, each of which stands in the list of what the one before uses, or is grouped
/// under it. A part that two steps use has its steps under both. Empty: no row.
struct RowId {
    std::string part{};              ///< id of the part that it is about: of an operand the one with the mesh, of a
                                     ///< treatment the one in whose list it stands
    std::vector<std::string> way{};  ///< ids
    bool operator==(const RowId&) const = default;
    bool empty() const { return way.empty(); }
    bool is_step() const { return way.size() > 1; }
    /// Empty for a part.
    std::string step() const { return is_step() ? way.back() : std::string(); }
};

struct Row {
    RowId id;
    const Part* list = nullptr;   ///< in whose list the step stands; of a part itself: that one
    const Step* step = nullptr;   ///< null for a part
    const Step* group = nullptr;  ///< that the step stands in; null where it stands in the list itself
    const Use* use = nullptr;     ///< of the part with the mesh; null where there is none
    std::optional<Placement>
        at{};  ///< where that stands, with all that is in lists made for it; none for a part on the bench
    const Kind* kind = nullptr;  ///< of the step; null where that is not known here
    int depth = 0;               ///< how many lists and groups it lies in
    bool idle = false;           ///< on the bench, or in the list of what is there
    std::string number{};  ///< "3" of a step; "3.1" of one in the list of its operand or grouped under it, "0.1" in
                           ///< the list of the base
    Transform stands = Transform::Identity();  ///< of what is in the list, in the job
    Transform frame = Transform::Identity();   ///< of what the placement is told in

    bool is_base() const { return !step && !idle; }
    bool combines() const { return kind && kind->of == KindClass::combine; }
    bool cuts() const { return kind && kind->of == KindClass::cut; }
    /// Whether it acts on the body in an arrangement, by an operand of the job or by one of its own.
    bool is_in_segment() const { return combines() || cuts(); }
    /// Where the part that it is about stands.
    Placement placement() const { return at ? *at : !step && idle ? list->bench : Placement(); }
};

/// All rows, from the top down: the part in work with its steps, then the parts on the bench; under each what belongs
/// to it. They point into the job.
std::vector<Row> rows_of(const Job& job);
/// Null where there is none.
const Row* find_row(std::span<const Row> rows, const RowId& id);
/// The row of that way, or where it has gone the first one that is about its part.
RowId nearest_row(std::span<const Row> rows, const RowId& id);
/// Whether another step than that of the row has the part for its operand, too.
bool is_used_elsewhere(std::span<const Row> rows, const Row& row);
/// From the coordinates of what is in one row's list into those of another's; of the job where that is null.
Transform way_between(const Row& from, const Row* to);
/// "base (housing)", "step 3 (bore)", "step 3.1 (mend)".
std::string name_of(const Job& job, const Row& row);
/// Ids of the steps below a stop line that lets so many rows of steps count, from the top.
std::set<std::string> below_line(std::span<const Row> rows, std::size_t count);
/// How many rows of steps there are above the bench.
std::size_t steps_in_work(std::span<const Row> rows);

/// One placement within another; exactly the one where the other is none.
Placement together(const Placement& outer, const Placement& inner);

/// Whether a step or the list of a part uses it.
bool is_used(const Job& job, std::string_view part);
/// Parts that lie on the bench: nothing uses them, or they stay there all the same.
std::vector<const Part*> idle_parts(const Job& job);

/// The part with the mesh that a use comes to in the end, and the use of that.
struct Innermost {
    const Part* part = nullptr;  ///< null where a part is not there
    const Use* use = nullptr;
    Placement placement{};  ///< where it stands, in the coordinates of what the first use is told in
    std::string owner{};    ///< id of the part whose source it is; empty for the use itself
};
Innermost innermost(const Job& job, const Use& use);
Innermost innermost(const Job& job, const Part& part);
/// Id of the part that the steps start from; empty where there is none.
std::string base_of(const Job& job);

/// A step, and the part in whose list it stands, or the group there; null where there is none.
struct FoundStep {
    const Part* part = nullptr;
    const Step* group = nullptr;
    const Step* step = nullptr;
};
FoundStep find_step(const Job& job, std::string_view id);

}  // namespace anvil
