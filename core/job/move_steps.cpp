// Steps moved within lists and from one into another.
#include <algorithm>
#include <map>

#include "core/base/plain_text.h"
#include "core/job/edit_lists.h"
#include "core/job/links.h"

namespace anvil {
namespace {

/// How deep lists lie in each other below a part. Each part is looked at once: there may be a power of two of ways.
int depth_below(const Job& job, const std::string& id, std::map<std::string, int>& known) {
    if (const auto at = known.find(id); at != known.end()) return at->second;
    known[id] = 0;  // against circles
    int deepest = 0;
    if (const Part* part = job.find_part(id)) {
        if (const auto* use = std::get_if<Use>(&part->source)) deepest = depth_below(job, use->part, known);
        for_each_use(part->steps, [&](const Use& use, const std::string&) {
            deepest = std::max(deepest, 1 + depth_below(job, use.part, known));
        });
    }
    return known[id] = deepest;
}

/// What a step holds in the coordinates of its list, in those of another.
void carry(Step& step, const Transform& way) {
    if (way.isApprox(Transform::Identity(), 0)) return;
    if (step.operand) carry_use(*step.operand, way);
    carry_points(step, way);
    edit_each(step.steps, [&](Step& inner) { carry(inner, way); });
}

/// Whether the group of a place holds that step only: it would go when the step is taken out.
bool stays_alone(const Job& job, const Place& to, std::string_view id) {
    const Step* group = find_step(job, to.group).step;
    return group && group->steps.size() == 1 && group->steps.front()->id == id;
}

bool holds(const Step& step, std::string_view id) {
    return step.id == id || std::ranges::any_of(step.steps, [&](const auto& inner) { return holds(*inner, id); });
}

/// Of what a step and those grouped under it use, a part that is made of a list; null where none is.
const Part* made_of_list(const Job& job, const Step& step, const std::string& list) {
    if (step.operand && is_made_of(job, step.operand->part, list)) return job.find_part(step.operand->part);
    for (const auto& inner : step.steps)
        if (const Part* part = made_of_list(job, *inner, list)) return part;
    return nullptr;
}

Result<void> fits_group(const Job& job, const Place& to, const Step& step) {
    if (!to.group.empty() && holds(step, to.group))
        return Error{ErrorCode::bad_index, "a group cannot be put into itself", ""};
    const Step* group = find_step(job, to.group).step;
    if (!group || group->kind != "by-hand" || is_edit_by_hand(step)) return {};
    return Error{ErrorCode::bad_index, "only edits by hand stand in a group of them", ""};
}

/// The list of a step's operand; made where what it uses has none that is its own. Empty where it has no operand.
std::string own_list(Job& job, const std::string& id) {
    const Step* step = find_step(job, id).step;
    if (!step || !step->operand) return {};
    const Use use = *step->operand;
    const Part* part = job.find_part(use.part);
    if (!part) return {};
    // What follows the part follows what is put into its list.
    if (uses_of(job, part->id) == 1 && (is_made_list(job, *part) || is_followed(job, part->id))) return part->id;
    int number = 0;
    const std::string list =
        next_id(number, part->id + "-list-", [&](const std::string& name) { return job.find_part(name) != nullptr; });
    // Copies are of what the list makes.
    Use source = use;
    source.copies.reset();
    add(job, {.id = list, .name = part->name, .source = std::move(source)});
    edit_step(job, id, [&](Step& s) { s.operand = Use{.part = list, .copies = use.copies}; });
    return list;
}

}  // namespace

Result<void> move_step(Job& job, const std::string& id, const Place& to, const Transform& way) {
    const FoundStep found = find_step(job, id);
    const Part* list = job.find_part(to.list);
    if (!found.step || !list || to.before == id || stays_alone(job, to, id)) return {};
    if (auto fits = fits_group(job, to, *found.step); !fits) return fits;
    if (const Part* own = made_of_list(job, *found.step, to.list))
        return Error{ErrorCode::bad_index,
                     in_quotes(own->name) + " would be made of itself: it cannot stand in its own list", ""};
    Job next = job;
    std::shared_ptr<const Step> taken;
    edit_part(next, std::string(found.part->id), [&](Part& part) { taken = take_out_of(part.steps, id); });
    Step step = *taken;
    carry(step, way);
    put(next, to, std::make_shared<const Step>(std::move(step)));
    std::map<std::string, int> depths;
    if (depth_below(next, next.work(), depths) > deepest_list)
        return Error{ErrorCode::bad_count,
                     "lists would lie more than " + std::to_string(deepest_list) + " deep in each other", ""};
    drop_empty_lists(next);
    job = std::move(next);
    return {};
}

Result<void> move_into(Job& job, const std::string& id, const std::string& into) {
    const auto [owner, group, other] = find_step(job, into);
    const Kind* kind = other ? find_kind(other->kind) : nullptr;
    if (kind && kind->of == KindClass::group && id != into) return move_step(job, id, {owner->id, {}, into});
    if (!other || !other->operand)
        return Error{ErrorCode::bad_index, "only what acts on the body has a list that a step could be put into", ""};
    const Step* step = find_step(job, id).step;
    // What it uses is looked at before a list is made for it, which that does not use yet.
    if (!step || holds(*step, into) || made_of_list(job, *step, find_step(job, into).part->id))
        return Error{ErrorCode::bad_index, "a step cannot be put into its own list", ""};
    Job next = job;
    const std::string list = own_list(next, into);
    // What it acts on from now on may stand elsewhere than its list does.
    const Placement stands = find_step(next, into).step->operand->placement;
    const Transform way =
        stands.is_identity() ? Transform(Transform::Identity()) : Transform(stands.transform().inverse());
    if (auto moved = move_step(next, id, {list}, way); !moved) return moved;
    job = std::move(next);
    return {};
}

bool move_out(Job& job, const RowId& row) {
    if (row.way.size() < 3) return false;
    const std::vector<Row> rows = rows_of(job);
    const Row* inner = find_row(rows, row);
    const Row* head = find_row(rows, {{}, {row.way.begin(), row.way.end() - 1}});
    if (!inner || !head || !head->step) return false;
    Place behind = place_of(*head);
    behind.before.clear();
    const Steps& steps = head->group ? head->group->steps : head->list->steps;
    for (std::size_t i = 0; i + 1 < steps.size(); ++i)
        if (steps[i]->id == head->step->id) behind.before = steps[i + 1]->id;
    return move_step(job, row.way.back(), behind, way_between(*inner, head)).ok();
}

}  // namespace anvil
