#include "core/job/edit_lists.h"

#include <algorithm>
#include <cmath>

namespace anvil {
namespace {

int count_steps(const Steps& steps) {
    auto n = static_cast<int>(steps.size());
    for (const auto& step : steps) n += count_steps(step->steps);
    return n;
}

}  // namespace

std::shared_ptr<const Step> take_out_of(Steps& steps, std::string_view id) {
    for (std::size_t i = 0; i < steps.size(); ++i) {
        if (steps[i]->id == id) {
            auto out = steps[i];
            steps.erase(steps.begin() + static_cast<long>(i));
            return out;
        }
        if (steps[i]->steps.empty()) continue;
        Step next = *steps[i];
        if (auto out = take_out_of(next.steps, id)) {
            if (next.steps.empty())
                steps.erase(steps.begin() + static_cast<long>(i));
            else
                steps[i] = std::make_shared<const Step>(std::move(next));
            return out;
        }
    }
    return nullptr;
}

void put(Job& job, const Place& to, std::shared_ptr<const Step> step) {
    auto put_into = [&](Steps& steps) {
        const auto at = std::ranges::find_if(steps, [&](const auto& s) { return s->id == to.before; });
        steps.insert(to.before.empty() ? steps.end() : at, std::move(step));
    };
    if (!to.group.empty())
        edit_step(job, to.group, [&](Step& group) { put_into(group.steps); });
    else
        edit_part(job, to.list, [&](Part& part) { put_into(part.steps); });
}

void carry_points(Step& step, const Transform& way) {
    const Kind* kind = find_kind(step.kind);
    auto carry_all = [&](std::vector<Vec3>& points) {
        for (Vec3& p : points) p = apply(way, p);
    };
    if (kind)
        for (const Field& field : kind->fields) {
            // The usual place is one, too.
            const bool is_place = field.type == Field::Type::place, is_direction = field.type == Field::Type::direction;
            if (!is_place && !is_direction) continue;
            const Vec3 before = value_of<Vec3>(*kind, step.values, field.name);
            const Vec3 now = is_place ? apply(way, before) : normalized(apply(way, before) - apply(way, Vec3{}));
            if (now != before) step.values[field.name] = now;
        }
    for (auto& [name, value] : step.values) {
        const Field* field = kind ? kind->find_field(name) : nullptr;
        if (field && field->type == Field::Type::elements) carry_all(std::get<std::vector<Vec3>>(value));
    }
    for_each_anchor(step, [&](Anchor& anchor) { carry_all(anchor.points); });
}

void carry_use(Use& use, const Transform& way) {
    use.placement = placement_from(way * use.placement.transform());
    if (!use.copies) return;
    Placement& frame = use.copies->frame;
    frame = placement_from(way * frame.transform());
    // There and back again is the list's own frame to the bit, so that mirrored copies are.
    for (Vec3* v : {&frame.position, &frame.angles})
        for (int k = 0; k < 3; ++k)
            if (std::fabs((*v)[k]) < 1e-12) (*v)[k] = 0;
}

bool is_edit_by_hand(const Step& step) {
    const Kind* kind = find_kind(step.kind);
    return kind && kind->of == KindClass::treat && kind->elements_field() && kind->wants_selection();
}

std::size_t uses_of(const Job& job, std::string_view part) {
    std::size_t count = 0;
    for_each_use(job, [&](const Use& use, const std::string&) { count += use.part == part; });
    return count;
}

bool is_followed(const Job& job, std::string_view part) {
    return std::ranges::any_of(job.parts, [&](const auto& p) {
        const auto* link = std::get_if<Link>(&p->source);
        return link && link->part == part;
    });
}

std::string unused_part(Job& job) {
    int own = 0;
    for (const auto& part : job.parts) own += part->has_own_body();
    job.parts_given = std::max(job.parts_given, own);
    return next_id(job.parts_given, "part-", [&](const std::string& id) { return job.find_part(id) != nullptr; });
}

std::string unused_step(Job& job) {
    int steps = 0;
    for (const auto& part : job.parts) steps += count_steps(part->steps);
    job.steps_given = std::max(job.steps_given, steps);
    return next_id(job.steps_given, "step-", [&](const std::string& id) { return find_step(job, id).step != nullptr; });
}

void add(Job& job, Part part) { job.parts.push_back(std::make_shared<const Part>(std::move(part))); }

bool is_made_list(const Job& job, const Part& part) {
    const auto* use = std::get_if<Use>(&part.source);
    const Part* of = use ? job.find_part(use->part) : nullptr;
    return of && of->name == part.name && part.extra.empty() && !is_followed(job, part.id) &&
           std::ranges::find(job.results, part.id) == job.results.end();
}

void drop_empty_lists(Job& job) {
    for (std::size_t i = job.parts.size(); i-- > 0;) {
        const std::shared_ptr<const Part> part = job.parts[i];
        if (!part->steps.empty() || !is_made_list(job, *part)) continue;
        const Use& source = std::get<Use>(part->source);
        std::string user;
        std::size_t count = 0;
        bool plain = false;
        for_each_use(job, [&](const Use& use, const std::string& step) {
            if (use.part != part->id) return;
            ++count;
            user = step;
            plain = !use.closes_sheets && use.extra.empty();
        });
        if (count != 1 || !plain || user.empty()) continue;
        if (source.copies) continue;  // of the part, before what was in the list
        edit_step(job, user, [&](Step& step) {
            const Use outer = std::move(*step.operand);
            step.operand = source;
            step.operand->placement = together(outer.placement, source.placement);
            step.operand->copies = outer.copies;
        });
        job.parts.erase(job.parts.begin() + static_cast<long>(i));
    }
}

}  // namespace anvil
