#include "core/job/edits.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/base/plain_text.h"
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
            steps[i] = std::make_shared<const Step>(std::move(next));
            return out;
        }
    }
    return nullptr;
}

void put(Job& job, const Place& to, std::shared_ptr<const Step> step) {
    edit_part(job, to.list, [&](Part& part) {
        const auto at = std::ranges::find_if(part.steps, [&](const auto& s) { return s->id == to.before; });
        part.steps.insert(to.before.empty() ? part.steps.end() : at, std::move(step));
    });
}

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

std::size_t uses_of(const Job& job, std::string_view part) {
    std::size_t count = 0;
    for_each_use(job, [&](const Use& use, const std::string&) { count += use.part == part; });
    return count;
}

template <class Taken>
std::string unused_id(std::size_t from, const char* prefix, const Taken& taken) {
    for (std::size_t n = from;; ++n)
        if (std::string id = prefix + std::to_string(n); !taken(id)) return id;
}
/// The next id whose number is above `last`, which `given` then holds.
template <class Taken>
std::string given_id(int last, int& given, const char* prefix, const Taken& taken) {
    for (given = last + 1;; ++given)
        if (std::string id = prefix + std::to_string(given); !taken(id)) return id;
}
std::string unused_part(Job& job) {
    int meshes = 0;
    for (const auto& part : job.parts) meshes += std::holds_alternative<StoredMesh>(part->source);
    return given_id(std::max(job.parts_given, meshes), job.parts_given, "part-",
                    [&](const std::string& id) { return job.find_part(id) != nullptr; });
}
int count_steps(const Steps& steps) {
    auto n = static_cast<int>(steps.size());
    for (const auto& step : steps) n += count_steps(step->steps);
    return n;
}
std::string unused_step(Job& job) {
    int n = 0;
    for (const auto& part : job.parts) n += count_steps(part->steps);
    return given_id(std::max(job.steps_given, n), job.steps_given, "step-",
                    [&](const std::string& id) { return find_step(job, id).step != nullptr; });
}

void add(Job& job, Part part) { job.parts.push_back(std::make_shared<const Part>(std::move(part))); }
void erase_part(Job& job, std::string_view id) {
    std::erase_if(job.parts, [&](const auto& part) { return part->id == id; });
}

/// A part that only gives a list to what it uses, and is called as that is.
bool is_made_list(const Job& job, const Part& part) {
    const auto* use = std::get_if<Use>(&part.source);
    const Part* of = use ? job.find_part(use->part) : nullptr;
    return of && of->name == part.name && part.extra.empty() &&
           std::ranges::find(job.results, part.id) == job.results.end();
}

/// A use that was taken out: a part that nothing uses now goes to the bench; where that is only a list, what is in it
/// is let go, too.
void release(Job& job, const Use& use) {
    const Part* part = job.find_part(use.part);
    if (!part || uses_of(job, use.part) > 0 || std::ranges::find(job.results, use.part) != job.results.end()) return;
    if (!is_made_list(job, *part)) {
        edit_part(job, use.part, [&](Part& p) { p.bench = use.placement; });
        return;
    }
    const auto kept = std::ranges::find_if(job.parts, [&](const auto& p) { return p->id == use.part; });
    const std::shared_ptr<const Part> list = *kept;
    job.parts.erase(kept);
    release(job, std::get<Use>(list->source));
    for_each_use(list->steps, [&](const Use& inner, const std::string&) { release(job, inner); });
}

/// Lists that nothing is in any more are what they give a list to.
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
            plain = use.placement.is_identity() && !use.closes_sheets && use.extra.empty();
        });
        if (count != 1 || !plain || user.empty()) continue;
        edit_step(job, user, [&](Step& step) { step.operand = source; });
        job.parts.erase(job.parts.begin() + static_cast<long>(i));
    }
}

/// Gives the mesh of the part in work to a part of its own, which it uses, with the treatments that come first.
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

/// The part whose source, or the step whose operand, is the use of the part with the mesh.
struct UseOwner {
    std::string part, step;  // ids, one of them
};
UseOwner owner_of_use(const Job& job, const RowId& row) {
    UseOwner owner = row.is_step() ? UseOwner{{}, row.way.back()} : UseOwner{row.way.front(), {}};
    const FoundStep found = row.is_step() ? find_step(job, row.way.back()) : FoundStep();
    const Part* part = row.is_step() ? nullptr : job.find_part(row.way.front());
    const Use* use = found.step && found.step->operand ? &*found.step->operand
                     : part                            ? std::get_if<Use>(&part->source)
                                                       : nullptr;
    while (use) {
        const Part* of = job.find_part(use->part);
        use = of ? std::get_if<Use>(&of->source) : nullptr;
        if (use) owner = {of->id, {}};
    }
    return owner;
}

/// Whether a part is made of another, or is that.
bool is_made_of(const Job& job, const std::string& id, std::string_view other, std::set<std::string>& seen) {
    if (id == other) return true;
    const Part* part = job.find_part(id);
    if (!part || !seen.insert(id).second) return false;
    bool found = false;
    auto look = [&](const Use& use, const std::string&) { found = found || is_made_of(job, use.part, other, seen); };
    if (const auto* use = std::get_if<Use>(&part->source)) look(*use, {});
    for_each_use(part->steps, look);
    return found;
}
bool is_made_of(const Job& job, const std::string& id, std::string_view other) {
    std::set<std::string> seen;
    return is_made_of(job, id, other, seen);
}

int depth_below(const Job& job, const std::string& id, int guard = 0) {
    const Part* part = job.find_part(id);
    if (!part || guard > 2 * deepest_list) return 0;
    int deepest = 0;
    if (const auto* use = std::get_if<Use>(&part->source)) deepest = depth_below(job, use->part, guard + 1);
    for_each_use(part->steps, [&](const Use& use, const std::string&) {
        deepest = std::max(deepest, 1 + depth_below(job, use.part, guard + 1));
    });
    return deepest;
}

/// Angles about the x, then the y, then the z axis, and the move, that make a transform without scale.
Placement placement_from(const Transform& t) {
    const auto& m = t.linear();
    const double sine = std::clamp(-m(2, 0), -1.0, 1.0);
    constexpr double degrees = 180 / std::numbers::pi;
    Placement out;
    out.position = {t.translation().x(), t.translation().y(), t.translation().z()};
    if (std::fabs(sine) < 1 - 1e-12)
        out.angles = {std::atan2(m(2, 1), m(2, 2)), std::asin(sine), std::atan2(m(1, 0), m(0, 0))};
    else  // looking along z: one of the two turns does for both
        out.angles = {std::atan2(-m(1, 2), m(1, 1)), std::copysign(std::numbers::pi / 2, sine), 0};
    out.angles = out.angles * degrees;
    return out;
}

bool is_identity(const Transform& t) { return t.isApprox(Transform::Identity(), 0); }

/// What a step holds in the coordinates of its list, in those of another.
void carry(Step& step, const Transform& way) {
    if (is_identity(way)) return;
    if (step.operand) step.operand->placement = placement_from(way * step.operand->placement.transform());
    const Kind* kind = find_kind(step.kind);
    for (auto& [name, value] : step.values) {
        if (const Field* field = kind ? kind->find_field(name) : nullptr; field && field->type == Field::Type::elements)
            for (Vec3& p : std::get<std::vector<Vec3>>(value)) p = apply(way, p);
        if (auto* anchors = std::get_if<std::vector<Anchor>>(&value))
            for (Anchor& anchor : *anchors)
                for (Vec3& p : anchor.points) p = apply(way, p);
    }
    for (auto& inner : step.steps) {
        Step next = *inner;
        carry(next, way);
        inner = std::make_shared<const Step>(std::move(next));
    }
}

void scale_lengths(Step& step, double factor) {
    const Kind* kind = find_kind(step.kind);
    for (auto& [name, value] : step.values) {
        const Field* field = kind ? kind->find_field(name) : nullptr;
        if (!field) continue;
        if (auto* anchors = std::get_if<std::vector<Anchor>>(&value))
            for (Anchor& anchor : *anchors) {
                for (Vec3& p : anchor.points) p = p * factor;
                anchor.size *= anchor.kind == ElementKind::faces ? factor * factor : factor;
                anchor.apart *= factor;
            }
        if (field->type == Field::Type::elements)
            for (Vec3& p : std::get<std::vector<Vec3>>(value)) p = p * factor;
        // What was set for a selection goes with that; what somebody typed in millimetres stays.
        if (field->type == Field::Type::length && kind->wants_selection()) std::get<double>(value) *= factor;
    }
    for (auto& inner : step.steps) {
        Step next = *inner;
        scale_lengths(next, factor);
        inner = std::make_shared<const Step>(std::move(next));
    }
}

/// The list of a step's operand; made where what it uses has none that is its own. Empty where it has no operand.
std::string own_list(Job& job, const std::string& id) {
    const Step* step = find_step(job, id).step;
    if (!step || !step->operand) return {};
    const Use use = *step->operand;
    const Part* part = job.find_part(use.part);
    if (!part) return {};
    if (is_made_list(job, *part) && uses_of(job, part->id) == 1) return part->id;
    const std::string list = unused_id(1, (part->id + "-list-").c_str(),
                                       [&](const std::string& name) { return job.find_part(name) != nullptr; });
    add(job, {.id = list, .name = part->name, .source = use});
    edit_step(job, id, [&](Step& s) { s.operand = Use{list}; });
    return list;
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
        if (const Part* part = job.find_part(row.way.front()); part && std::holds_alternative<StoredMesh>(part->source))
            give_use(job, part->id);
    const UseOwner owner = owner_of_use(job, row);
    edit_part(job, owner.part, [&](Part& part) {
        if (auto* use = std::get_if<Use>(&part.source)) edit(*use);
    });
    edit_step(job, owner.step, [&](Step& step) {
        if (step.operand) edit(*step.operand);
    });
}

void set_placement(Job& job, const RowId& row, const Placement& placement) {
    if (row.empty()) return;
    if (!row.is_step() && row.way.front() != job.work())
        edit_part(job, row.way.front(), [&](Part& part) { part.bench = placement; });
    else
        edit_use(job, row, [&](Use& use) { use.placement = placement; });
}

std::string add_part(Job& job, std::string name, std::shared_ptr<const Mesh> mesh) {
    const std::string id = unused_part(job);
    add(job, {.id = id, .name = std::move(name), .source = StoredMesh{std::move(mesh)}});
    if (job.results.empty()) {
        std::string work = "result";
        for (int n = 2; job.find_part(work); ++n) work = "result-" + std::to_string(n);
        add(job, {.id = work, .name = job.find_part(id)->name, .source = Use{id}});
        job.results = {work};
    }
    return id;
}

std::string add_combining(Job& job, Operation operation, const std::string& part) {
    Step step{.id = unused_step(job), .kind = std::string(word(operation))};
    const Part* operand = job.find_part(part);
    step.operand = Use{.part = part, .placement = operand ? operand->bench : Placement()};
    const std::string id = step.id;
    put(job, {job.work()}, std::make_shared<const Step>(std::move(step)));
    return id;
}

std::string add_treatment(Job& job, const Place& to, std::string kind, Values values) {
    const std::string id = unused_step(job);
    put(job, to, std::make_shared<const Step>(Step{.id = id, .kind = std::move(kind), .values = std::move(values)}));
    return id;
}

std::string add_edit(Job& job, const Place& to, const HandEdit& edit) {
    const Part* list = job.find_part(to.list);
    if (!list) return {};
    const auto end = to.before.empty()
                         ? list->steps.end()
                         : std::ranges::find_if(list->steps, [&](const auto& s) { return s->id == to.before; });
    const Step* last = end == list->steps.begin() ? nullptr : std::prev(end)->get();
    const bool goes_on = last && last->kind == "by-hand" && last->on;
    const std::string id = goes_on ? last->id : add_treatment(job, to, "by-hand");
    const std::string inner = unused_step(job);
    edit_step(job, id, [&](Step& group) {
        group.steps.push_back(std::make_shared<const Step>(
            Step{.id = inner, .kind = std::string(word(edit.tool)), .values = values_of(edit)}));
    });
    return id;
}

void remove_step(Job& job, std::string id) {
    const FoundStep found = find_step(job, id);
    if (!found.step) return;
    std::shared_ptr<const Step> taken;
    edit_part(job, std::string(found.part->id), [&](Part& part) { taken = take_out_of(part.steps, id); });
    if (taken->operand) release(job, *taken->operand);
    for_each_use(taken->steps, [&](const Use& use, const std::string&) { release(job, use); });
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
        std::string next = idle.empty() ? std::string() : idle.front()->id;
        for (const auto& part : job.parts)
            if (next.empty() && part->id != id && part->id != work && std::holds_alternative<StoredMesh>(part->source))
                next = part->id;
        if (next.empty()) {
            job.parts.clear();
            job.results.clear();
            return;
        }
        make_base(job, next);
    }
    erase_part(job, id);
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

void make_base(Job& job, std::string part) {
    const std::string work = job.work();
    if (work.empty() || !job.find_part(part) || base_of(job) == part) return;
    if (std::holds_alternative<StoredMesh>(job.find_part(work)->source)) give_use(job, work);
    remove_steps_of(job, part);
    const Use before = std::get<Use>(job.find_part(work)->source);
    const Part next = *job.find_part(part);
    edit_part(job, work, [&](Part& p) {
        p.source = Use{.part = part, .placement = next.bench};
        p.name = next.name;
    });
    release(job, before);
}

Result<void> move_step(Job& job, const std::string& id, const Place& to, const Transform& way) {
    const FoundStep found = find_step(job, id);
    const Part* list = job.find_part(to.list);
    if (!found.step || !list || to.before == id) return {};
    if (found.step->operand && is_made_of(job, found.step->operand->part, to.list))
        return Error{ErrorCode::bad_index,
                     in_quotes(job.find_part(found.step->operand->part)->name) +
                         " would be made of itself: it cannot stand in its own list",
                     ""};
    Job next = job;
    std::shared_ptr<const Step> taken;
    edit_part(next, std::string(found.part->id), [&](Part& part) { taken = take_out_of(part.steps, id); });
    Step step = *taken;
    carry(step, way);
    put(next, to, std::make_shared<const Step>(std::move(step)));
    if (depth_below(next, next.work()) > deepest_list)
        return Error{ErrorCode::bad_count,
                     "lists would lie more than " + std::to_string(deepest_list) + " deep in each other", ""};
    drop_empty_lists(next);
    job = std::move(next);
    return {};
}

Result<void> move_into(Job& job, const std::string& id, const std::string& into) {
    const Step* other = find_step(job, into).step;
    if (!other || !other->operand)
        return Error{ErrorCode::bad_index, "only what acts on the body has a list that a step could be put into", ""};
    const Step* step = find_step(job, id).step;
    // What it uses is looked at before a list is made for it, which that does not use yet.
    if (id == into || !step || (step->operand && is_made_of(job, step->operand->part, find_step(job, into).part->id)))
        return Error{ErrorCode::bad_index, "a step cannot be put into its own list", ""};
    Job next = job;
    const std::string list = own_list(next, into);
    if (auto moved = move_step(next, id, {list}); !moved) return moved;
    job = std::move(next);
    return {};
}

bool move_out(Job& job, const RowId& row) {
    if (row.way.size() < 3) return false;
    const std::vector<Row> rows = rows_of(job);
    const Row* inner = find_row(rows, row);
    const Row* head = find_row(rows, {{}, {row.way.begin(), row.way.end() - 1}});
    if (!inner || !head || !head->step) return false;
    std::string behind;
    const Steps& steps = head->list->steps;
    for (std::size_t i = 0; i + 1 < steps.size(); ++i)
        if (steps[i]->id == head->step->id) behind = steps[i + 1]->id;
    const Transform way = Transform(head->stands.inverse()) * inner->stands;
    const bool stays = head->stands.isApprox(inner->stands, 0);
    return move_step(job, row.way.back(), {head->list->id, behind}, stays ? Transform(Transform::Identity()) : way)
        .ok();
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
                for (auto& step : part.steps) {
                    Step next = *step;
                    scale_lengths(next, millimetres(unit));
                    step = std::make_shared<const Step>(std::move(next));
                }
            });
    job.settings.import_unit = unit;
}

}  // namespace anvil
