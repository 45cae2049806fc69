#pragma once

#include "core/job/edits.h"

// What edits of lists have in common.
namespace anvil {

/// A step that was in the list, or in a group within it; null where there was none of that id. A group that it leaves
/// empty goes.
std::shared_ptr<const Step> take_out_of(Steps& steps, std::string_view id);
void put(Job& job, const Place& to, std::shared_ptr<const Step> step);

/// Puts each step as it is edited in the place of what it was.
template <class Edit>
void edit_each(Steps& steps, const Edit& edit) {
    for (auto& step : steps) {
        Step next = *step;
        edit(next);
        step = std::make_shared<const Step>(std::move(next));
    }
}
/// What a step and its copies hold on to, not those within its group.
template <class Visit>
void for_each_anchor(Step& step, const Visit& visit) {
    auto look = [&](Values& values) {
        for (auto& [name, value] : values)
            if (auto* anchors = std::get_if<std::vector<Anchor>>(&value))
                for (Anchor& anchor : *anchors) visit(anchor);
    };
    look(step.values);
    if (step.operand && step.operand->copies) look(step.operand->copies->values);
}
/// Points that a step names, not those within its group.
void carry_points(Step& step, const Transform& way);
/// What is told of a use in the coordinates of its list, in others.
void carry_use(Use& use, const Transform& way);

/// Whether it is of a tool that something has to be selected for: such steps are grouped.
bool is_edit_by_hand(const Step& step);

template <class Visit>
void for_each_use(const Steps& steps, const Visit& visit) {
    for (const auto& step : steps) {
        if (step->operand) visit(*step->operand, step->id);
        for_each_use(step->steps, visit);
    }
}
/// Each use with the id of its step; of the source of a part with none.
template <class Visit>
void for_each_use(const Job& job, const Visit& visit) {
    for (const auto& part : job.parts) {
        if (const auto* use = std::get_if<Use>(&part->source)) visit(*use, std::string());
        for_each_use(part->steps, visit);
    }
}

/// How often a part is used.
std::size_t uses_of(const Job& job, std::string_view part);

/// Whether a part follows it.
bool is_followed(const Job& job, std::string_view part);

/// The next id that is not taken; `number` is that of the last one, and then its.
template <class Taken>
std::string next_id(int& number, const std::string& prefix, const Taken& taken) {
    for (;;)
        if (std::string id = prefix + std::to_string(++number); !taken(id)) return id;
}
std::string unused_part(Job& job);
std::string unused_step(Job& job);
void add(Job& job, Part part);

/// A part that only gives a list to what it uses, and is called as that is.
bool is_made_list(const Job& job, const Part& part);
/// Lists that nothing is in any more are what they give a list to.
void drop_empty_lists(Job& job);

}  // namespace anvil
