#include "core/job/edits.h"

#include <algorithm>
#include <set>

#include "core/job/edit_lists.h"
#include "core/job/kinds/mend_values.h"
#include "core/mesh/measures.h"

namespace anvil {
namespace {

std::shared_ptr<const Step>* slot_of(Steps& steps, std::string_view id) {
    const auto at = std::ranges::find_if(steps, [&](const auto& s) { return s->id == id; });
    return at == steps.end() ? nullptr : &*at;
}

bool edit_in(Steps& steps, std::string_view id, const std::function<void(Step&)>& edit) {
    if (auto* slot = slot_of(steps, id)) {
        Step next = **slot;
        edit(next);
        *slot = std::make_shared<const Step>(std::move(next));
        return true;
    }
    for (auto& step : steps) {
        if (step->steps.empty()) continue;
        Step next = *step;
        if (!edit_in(next.steps, id, edit)) continue;
        step = std::make_shared<const Step>(std::move(next));
        return true;
    }
    return false;
}

void erase_part(Job& job, std::string_view id) {
    std::erase_if(job.parts, [&](const auto& part) { return part->id == id; });
}

/// What stands somewhere in the job, in the coordinates of the list of the part in work.
Placement in_work(const Job& job, const Placement& there) {
    const Part* work = job.find_part(job.work());
    if (!work || work->bench.is_identity()) return there;
    return placement_from(Transform(work->bench.transform().inverse()) * there.transform());
}

/// A use that was taken out: a part that nothing uses now goes to the bench; where that is only a list, what is in it
/// is let go, too.
void release(Job& job, const Use& use, const Placement& within = {}) {
    const Part* part = job.find_part(use.part);
    if (!part || uses_of(job, use.part) > 0 || std::ranges::find(job.results, use.part) != job.results.end()) return;
    if (!is_made_list(job, *part)) {
        edit_part(job, use.part, [&](Part& p) { p.bench = together(within, use.placement); });
        return;
    }
    const auto kept = std::ranges::find_if(job.parts, [&](const auto& p) { return p->id == use.part; });
    const std::shared_ptr<const Part> list = *kept;
    job.parts.erase(kept);
    const Placement at = together(within, use.placement);
    release(job, std::get<Use>(list->source), at);
    for_each_use(list->steps, [&](const Use& inner, const std::string&) { release(job, inner, at); });
}

/// Gives the body of the part in work to a part of its own, which it uses, with the treatments that come first.
void give_use(Job& job, std::string work) {
    const std::string id = unused_part(job);
    Part own{.id = id, .name = {}, .source = StoredMesh{}};
    edit_part(job, work, [&](Part& part) {
        own.name = part.name;
        own.source = part.source;
        std::size_t first = 0;
        const auto treats = [](const Step& step) {
            const Kind* kind = find_kind(step.kind);
            return kind && kind->of != KindClass::combine;
        };
        while (first < part.steps.size() && treats(*part.steps[first])) ++first;
        own.steps.assign(part.steps.begin(), part.steps.begin() + static_cast<long>(first));
        part.steps.erase(part.steps.begin(), part.steps.begin() + static_cast<long>(first));
        part.source = Use{id};
    });
    add(job, std::move(own));
    auto& accepted = job.settings.accepted;
    if (auto moved = accepted.extract(work); !moved.empty()) {
        moved.key() = id;
        accepted.insert(std::move(moved));
    }
}

/// What goes with the numbers of a mesh goes with them; what somebody typed in millimetres stays.
void scale(Step& step, double factor) {
    carry_points(step, scaling(factor));
    const Kind* kind = find_kind(step.kind);
    for_each_anchor(step, [&](Anchor& anchor) {
        anchor.size *= anchor.kind == ElementKind::faces ? factor * factor : factor;
        anchor.apart *= factor;
    });
    for (auto& [name, value] : step.values) {
        const Field* field = kind ? kind->find_field(name) : nullptr;
        // What was set for a selection goes with that.
        if (field && field->type == Field::Type::length && kind->wants_selection(step.values))
            std::get<double>(value) *= factor;
    }
    edit_each(step.steps, [&](Step& inner) { scale(inner, factor); });
}

}  // namespace

void edit_part(Job& job, std::string_view id, const std::function<void(Part&)>& edit) {
    for (auto& part : job.parts) {
        if (part->id != id) continue;
        Part next = *part;
        edit(next);
        part = std::make_shared<const Part>(std::move(next));
        return;
    }
}

void edit_step(Job& job, std::string_view id, const std::function<void(Step&)>& edit) {
    if (const FoundStep found = find_step(job, id); found.step)
        edit_part(job, std::string(found.part->id), [&](Part& part) { edit_in(part.steps, id, edit); });
}

void edit_use(Job& job, const RowId& row, const std::function<void(Use&)>& edit) {
    if (row.empty()) return;
    if (!row.is_step())
        if (const Part* part = job.find_part(row.way.front()); part && part->has_own_body()) give_use(job, part->id);
    auto edit_source = [&](Part& part) {
        if (auto* use = std::get_if<Use>(&part.source)) edit(*use);
    };
    const Part* part = job.find_part(row.way.front());
    const Step* step = find_step(job, row.step()).step;
    const Use* use = step && step->operand    ? &*step->operand
                     : part && !row.is_step() ? std::get_if<Use>(&part->source)
                                              : nullptr;
    if (!use) return;
    if (const std::string owner = innermost(job, *use).owner; !owner.empty())
        edit_part(job, owner, edit_source);
    else if (step)
        edit_step(job, row.step(), [&](Step& next) { edit(*next.operand); });
    else
        edit_part(job, row.way.front(), edit_source);
}

namespace {

/// Where the outer one stands of two that are together there, the inner one as it is.
Placement outer_of(const Placement& both, const Placement& inner) {
    if (inner.is_identity()) return both;
    // Moved only: no angle is a rounding error.
    if (both.angles == inner.angles) return {both.position - inner.position, {}};
    return placement_from(both.transform() * Transform(inner.transform().inverse()));
}

/// The list of the part in work stands so that its base does there: what is in it goes along, but for what is unlinked.
void move_work(Job& job, const Row& base, const Placement& placement) {
    const Placement before = base.list->bench;
    const auto* use = std::get_if<Use>(&base.list->source);
    const Placement bench = use ? outer_of(placement, innermost(job, *use).placement) : placement;
    const Transform back = Transform(bench.transform().inverse()) * before.transform();
    const std::function<void(Step&)> stay = [&](Step& step) {
        if (step.unlinked && step.operand) carry_use(*step.operand, back);
        edit_each(step.steps, stay);
    };
    edit_part(job, std::string(base.list->id), [&](Part& part) {
        part.bench = bench;
        edit_each(part.steps, stay);
    });
}

}  // namespace

void set_placement(Job& job, const RowId& id, const Placement& placement) {
    const std::vector<Row> rows = rows_of(job);
    const Row* row = find_row(rows, id);
    if (!row) return;
    if (row->is_base()) {
        move_work(job, *row, placement);
        return;
    }
    if (!row->step) {
        edit_part(job, id.way.front(), [&](Part& part) { part.bench = placement; });
        return;
    }
    const Use* outer = row->step->operand ? &*row->step->operand : nullptr;
    // A list that was made for the part goes with it, and so does what is in that.
    Placement own = placement;
    if (outer && outer != row->use) {
        const Part* list = job.find_part(outer->part);
        own = outer_of(placement, innermost(job, std::get<Use>(list->source)).placement);
    }
    edit_step(job, row->step->id, [&](Step& step) {
        if (step.operand) step.operand->placement = own;
    });
}

std::string add_part(Job& job, std::string name, PartSource source, const Placement& bench) {
    const std::string id = unused_part(job);
    add(job, {.id = id, .name = std::move(name), .source = std::move(source), .bench = bench});
    if (job.results.empty()) {
        std::string work = "result";
        for (int n = 2; job.find_part(work); ++n) work = "result-" + std::to_string(n);
        add(job, {.id = work, .name = job.find_part(id)->name, .source = Use{.part = id}, .bench = bench});
        job.results = {work};
    }
    return id;
}

std::string add_part(Job& job, std::string name, std::shared_ptr<const Mesh> mesh) {
    return add_part(job, std::move(name), StoredMesh{std::move(mesh)});
}

std::string add_combining(Job& job, Operation operation, const std::string& part) {
    // What follows the result follows it up to here: it cannot be made of itself.
    if (const Part* acts = job.find_part(part))
        if (const auto* link = std::get_if<Link>(&acts->source); link && link->part == job.work() && !link->as_of) {
            const Steps& before = job.find_part(job.work())->steps;
            edit_part(job, part, [&](Part& p) {
                std::get<Link>(p.source).as_of = before.empty() ? std::string() : before.back()->id;
            });
        }
    Step step{.id = unused_step(job), .kind = std::string(word(operation))};
    const Part* operand = job.find_part(part);
    step.operand = Use{.part = part, .placement = in_work(job, operand ? operand->bench : Placement())};
    const std::string id = step.id;
    put(job, {job.work()}, std::make_shared<const Step>(std::move(step)));
    return id;
}

std::string add_treatment(Job& job, const Place& to, std::string kind, Values values) {
    const std::string id = unused_step(job);
    put(job, to, std::make_shared<const Step>(Step{.id = id, .kind = std::move(kind), .values = std::move(values)}));
    return id;
}

Place place_of(const Row& row) {
    return {row.list->id, row.step ? row.step->id : std::string(), row.group ? row.group->id : std::string()};
}

const Step* step_before(const Job& job, const Place& place) {
    const Part* list = job.find_part(place.list);
    const Step* group = find_step(job, place.group).step;
    if (!list) return nullptr;
    const Steps& steps = group ? group->steps : list->steps;
    const auto at = place.before.empty()
                        ? steps.end()
                        : std::ranges::find_if(steps, [&](const auto& s) { return s->id == place.before; });
    return at == steps.begin() ? nullptr : std::prev(at)->get();
}

std::string add_edit(Job& job, const Place& to, const HandEdit& edit) {
    if (!job.find_part(to.list)) return {};
    Place place = to;
    if (place.group.empty()) {
        const Step* last = step_before(job, to);
        const bool goes_on = last && last->kind == "by-hand" && last->on;
        place = {to.list, {}, goes_on ? last->id : add_treatment(job, to, "by-hand")};
    }
    return add_treatment(job, place, std::string(word(edit.tool)), values_of(edit));
}

void remove_step(Job& job, std::string id) {
    const FoundStep found = find_step(job, id);
    if (!found.step) return;
    const bool was_in_work = found.part->id == job.work();
    std::shared_ptr<const Step> taken;
    edit_part(job, std::string(found.part->id), [&](Part& part) { taken = take_out_of(part.steps, id); });
    const Part* work = job.find_part(job.work());
    const Placement within = work && was_in_work ? work->bench : Placement();
    if (taken->operand) release(job, *taken->operand, within);
    for_each_use(taken->steps, [&](const Use& use, const std::string&) { release(job, use, within); });
    drop_empty_lists(job);
}

void remove_steps_of(Job& job, std::string part) {
    for (bool again = true; again;) {
        again = false;
        std::string id;
        for_each_use(job, [&](const Use& use, const std::string& step) {
            const Innermost inner = innermost(job, use);
            if (!step.empty() && inner.part && inner.part->id == part) id = step;
        });
        if (id.empty()) return;
        remove_step(job, id);
        again = true;
    }
}

void remove_part(Job& job, std::string id) {
    remove_steps_of(job, id);
    const bool was_base = base_of(job) == id;
    const std::string work = job.work();
    if (was_base) {
        const auto idle = idle_parts(job);
        std::string next;
        std::vector<std::string> others;
        for (const Part* part : idle) others.push_back(part->id);
        for (const auto& part : job.parts)
            if (part->id != work && part->has_own_body()) others.push_back(part->id);
        if (std::ranges::none_of(others,
                                 [&](const std::string& other) { return other != id && make_base(job, other); })) {
            job.parts.clear();
            job.results.clear();
            return;
        }
    }
    erase_part(job, id);
    std::erase(job.results, id);
    job.settings.accepted.erase(id);
    drop_empty_lists(job);
}

void rename_part(Job& job, std::string id, std::string name) {
    const Part* part = job.find_part(id);
    if (!part) return;
    const std::string before = part->name;
    edit_part(job, id, [&](Part& p) { p.name = name; });
    for (const std::shared_ptr<const Part>& user : std::vector(job.parts))
        if (const auto* use = std::get_if<Use>(&user->source); use && use->part == id && user->name == before)
            rename_part(job, user->id, name);
}

bool make_base(Job& job, std::string part) {
    const std::string work = job.work();
    if (work.empty() || !job.find_part(part) || base_of(job) == part) return false;
    // However far it follows the result, that would start from it.
    std::set<std::string> seen;
    for (const Part* p = job.find_part(part); p && seen.insert(p->id).second;) {
        const auto* link = std::get_if<Link>(&p->source);
        if (link && link->part == work) return false;
        p = link ? job.find_part(link->part) : nullptr;
    }
    if (job.find_part(work)->has_own_body()) give_use(job, work);
    remove_steps_of(job, part);
    const Use before = std::get<Use>(job.find_part(work)->source);
    const Part next = *job.find_part(part);
    // The steps stay where they are.
    const Placement there = in_work(job, next.bench), within = job.find_part(work)->bench;
    edit_part(job, work, [&](Part& p) {
        p.source = Use{.part = part, .placement = there};
        p.name = next.name;
    });
    release(job, before, within);
    return true;
}

Vec3 size_as(const Job& job, std::span<const std::string> parts, ImportUnit unit) {
    Box box;
    for (const std::string& id : parts)
        if (const Part* part = job.find_part(id))
            if (const auto* stored = std::get_if<StoredMesh>(&part->source)) box.add(bounds(*stored->mesh));
    return box.empty() ? Vec3{} : box.size() * millimetres(unit);
}

void read_as(Job& job, std::span<const std::string> parts, ImportUnit unit) {
    if (unit != ImportUnit::millimetre)
        for (const std::string& id : parts)
            edit_part(job, id, [&](Part& part) {
                auto* stored = std::get_if<StoredMesh>(&part.source);
                if (!stored) return;
                stored->mesh = std::make_shared<const Mesh>(transformed(*stored->mesh, scaling(millimetres(unit))));
                edit_each(part.steps, [&](Step& step) { scale(step, millimetres(unit)); });
            });
    job.settings.import_unit = unit;
}

}  // namespace anvil
