#include "core/job/groups.h"

#include <algorithm>

#include "core/job/edit_lists.h"

namespace anvil {
namespace {

KindClass class_of(const Step& step) {
    const Kind* kind = find_kind(step.kind);
    return kind ? kind->of : KindClass::treat;
}

void set_operation(Step& step, Operation operation) {
    if (class_of(step) == KindClass::combine) step.kind = std::string(word(operation));
    edit_each(step.steps, [&](Step& inner) { set_operation(inner, operation); });
}

}  // namespace

Result<std::string> group_steps(Job& job, std::span<const std::string> ids) {
    const FoundStep first = ids.empty() ? FoundStep{} : find_step(job, ids.front());
    if (!first.step) return Error{ErrorCode::lost, "select the steps that shall be a group", ""};
    for (const std::string& id : ids) {
        const FoundStep found = find_step(job, id);
        if (!found.step) return Error{ErrorCode::lost, "a step of the group is not there any more", ""};
        if (found.part != first.part || found.group != first.group)
            return Error{ErrorCode::bad_index, "the steps of a group have to stand in the same list", ""};
        if (is_edit_by_hand(*found.step))
            return Error{ErrorCode::bad_index, "edits by hand stand in a group of their own already", ""};
    }
    Steps group;
    std::string id = unused_step(job);
    auto gather = [&](Steps& steps) {
        Steps left;
        for (auto& step : steps) {
            if (std::ranges::find(ids, step->id) == ids.end()) {
                left.push_back(step);
                continue;
            }
            if (group.empty()) left.push_back(nullptr);  // its place
            group.push_back(step);
        }
        std::ranges::replace(left, nullptr,
                             std::make_shared<const Step>(Step{.id = id, .kind = "group", .steps = std::move(group)}));
        steps = std::move(left);
    };
    if (first.group)
        edit_step(job, std::string(first.group->id), [&](Step& outer) { gather(outer.steps); });
    else
        edit_part(job, std::string(first.part->id), [&](Part& list) { gather(list.steps); });
    return id;
}

void ungroup(Job& job, const std::string& id) {
    const FoundStep found = find_step(job, id);
    if (!found.step || class_of(*found.step) != KindClass::group) return;
    const Steps inner = found.step->steps;
    auto spread = [&](Steps& steps) {
        const auto at = std::ranges::find_if(steps, [&](const auto& step) { return step->id == id; });
        const auto behind = steps.erase(at);
        steps.insert(behind, inner.begin(), inner.end());
    };
    if (found.group)
        edit_step(job, std::string(found.group->id), [&](Step& outer) { spread(outer.steps); });
    else
        edit_part(job, std::string(found.part->id), [&](Part& list) { spread(list.steps); });
}

std::optional<Operation> operation_of_group(const Step& group) {
    std::optional<Operation> out;
    for (const auto& step : group.steps) {
        std::optional<Operation> one;
        if (class_of(*step) == KindClass::combine)
            one = find_kind(step->kind)->operation;
        else if (class_of(*step) == KindClass::group)
            one = operation_of_group(*step);
        else
            continue;
        if (!one || (out && *out != *one)) return {};
        out = one;
    }
    return out;
}

void set_operation_of_group(Job& job, const std::string& group, Operation operation) {
    edit_step(job, group, [&](Step& step) { set_operation(step, operation); });
}

bool combines_only(const Step& group) {
    return std::ranges::all_of(group.steps, [](const auto& step) {
        const KindClass of = class_of(*step);
        return of == KindClass::combine || of == KindClass::cut || (of == KindClass::group && combines_only(*step));
    });
}

}  // namespace anvil
