#include "core/job/format1.h"

#include <set>

#include "core/job/edit_lists.h"
#include "core/job/kinds/mend_values.h"

namespace anvil::format1 {
namespace {

/// Ids of steps and parts that are made: such as no part or step of the job has.
class NewIds {
  public:
    explicit NewIds(const Job& job) {
        for (const Part& part : job.parts) used_.insert(part.id);
        for (const Step& step : job.steps) used_.insert(step.id);
    }
    std::string like(const std::string& wanted) {
        std::string id = wanted;
        for (int n = 2; !used_.insert(id).second; ++n) id = wanted + "-" + std::to_string(n);
        return id;
    }

  private:
    std::set<std::string> used_;
};

std::shared_ptr<const anvil::Step> treatment(const Mending& m, NewIds& ids) {
    anvil::Step out{.id = ids.like(m.id), .kind = "mend", .on = m.on, .extra = m.extra};
    if (m.edits.empty()) {
        MendSettings settings{m.repairs, m.options, {}};
        for (const Question::About about : m.answered) settings.answered.emplace_back(word(about));
        for (const std::string& elsewhere : m.answered_elsewhere) settings.answered.push_back(elsewhere);
        out.values = values_of(settings);
        return std::make_shared<const anvil::Step>(std::move(out));
    }
    out.kind = "by-hand";
    for (std::size_t k = 0; k < m.edits.size(); ++k)
        out.steps.push_back(
            std::make_shared<const anvil::Step>(anvil::Step{.id = ids.like(m.id + "/" + std::to_string(k + 1)),
                                                            .kind = std::string(word(m.edits[k].tool)),
                                                            .values = values_of(m.edits[k])}));
    return std::make_shared<const anvil::Step>(std::move(out));
}

anvil::Use use_of(const Part& part) {
    return {.part = part.id, .placement = part.placement, .closes_sheets = part.closes_sheets};
}

/// The index behind the last step of the bundle of step i: i + 1 where there is none.
std::size_t bundle_end(std::span<const Step> steps, std::size_t i) {
    std::size_t end = i + 1;
    while (end < steps.size() && steps[end].depth > steps[i].depth) ++end;
    return end;
}

/// The steps with indices from `from` to `end`; the parts that their bundles make come into `out`.
anvil::Steps steps_of(const Job& job, std::size_t from, std::size_t end, NewIds& ids, anvil::Job& out) {
    anvil::Steps steps;
    for (std::size_t i = from, next; i < end; i = next) {
        const Step& step = job.steps[i];
        next = bundle_end(job.steps, i);
        anvil::Step made{.id = step.id, .kind = std::string(word(step.operation)), .on = step.on, .extra = step.extra};
        if (const Part* part = job.find_part(step.part)) {
            made.operand = use_of(*part);
            if (next > i + 1) {
                anvil::Part bundle{.id = ids.like(step.part + "-bundle"), .name = part->name, .source = use_of(*part)};
                bundle.steps = steps_of(job, i + 1, next, ids, out);
                made.operand = anvil::Use{bundle.id};
                add(out, std::move(bundle));
            }
        }
        steps.push_back(std::make_shared<const anvil::Step>(std::move(made)));
    }
    return steps;
}

anvil::Part listed(const Part& part, NewIds& ids) {
    anvil::Part out{.id = part.id, .name = part.name, .source = anvil::StoredMesh{part.mesh}};
    for (const Mending& m : part.mendings) out.steps.push_back(treatment(m, ids));
    out.bench = part.placement;
    out.extra = part.extra;
    return out;
}

/// The part in work, which uses the base.
anvil::Part part_in_work(const Part& base, const std::string& id, anvil::Steps steps) {
    return {.id = id, .name = base.name, .source = use_of(base), .steps = std::move(steps)};
}

}  // namespace

anvil::Job upgraded(const Job& job) {
    NewIds ids(job);
    anvil::Job out;
    out.settings = job.settings;
    out.extra = job.extra;
    for (const Part& part : job.parts) add(out, listed(part, ids));
    const Part* base = job.find_part(job.base);
    if (!base) return out;
    anvil::Steps steps = steps_of(job, 0, job.steps.size(), ids, out);
    out.results = {ids.like("result")};
    add(out, part_in_work(*base, out.work(), std::move(steps)));
    return out;
}

}  // namespace anvil::format1
