#include "core/job/format1.h"

#include <functional>
#include <set>

#include "core/job/kinds/mend_values.h"

namespace anvil::format1 {
namespace {

/// How parts and steps that are made in translating are called.
struct Names {
    std::function<std::string(const Step&)> step;
    std::function<std::string(const Mending&)> treatment;
    std::function<std::string(const Mending&, std::size_t)> edit;  ///< its number, from 1
    std::function<std::string(const Step&)> bundle;                ///< the part
};

std::shared_ptr<const anvil::Step> treatment(const Mending& m, const Names& names) {
    anvil::Step out{.id = names.treatment(m), .kind = "mend", .on = m.on, .extra = m.extra};
    if (m.edits.empty()) {
        MendSettings settings{m.repairs, m.options, {}};
        for (const Question::About about : m.answered) settings.answered.emplace_back(word(about));
        for (const std::string& elsewhere : m.answered_elsewhere) settings.answered.push_back(elsewhere);
        out.values = values_of(settings);
        return std::make_shared<const anvil::Step>(std::move(out));
    }
    out.kind = "by-hand";
    for (std::size_t k = 0; k < m.edits.size(); ++k)
        out.steps.push_back(std::make_shared<const anvil::Step>(anvil::Step{
            .id = names.edit(m, k + 1), .kind = std::string(word(m.edits[k].tool)), .values = values_of(m.edits[k])}));
    return std::make_shared<const anvil::Step>(std::move(out));
}

anvil::Use use_of(const Part& part) { return {part.id, part.placement, part.closes_sheets}; }

/// The index behind the last step of the bundle of step i: i + 1 where there is none.
std::size_t bundle_end(std::span<const Step> steps, std::size_t i) {
    std::size_t end = i + 1;
    while (end < steps.size() && steps[end].depth > steps[i].depth) ++end;
    return end;
}

/// The steps with indices from `from` to `end`; the parts that their bundles make come into `out`.
anvil::Steps steps_of(const Job& job, std::size_t from, std::size_t end, const Names& names, anvil::Job& out) {
    anvil::Steps steps;
    for (std::size_t i = from, next; i < end; i = next) {
        const Step& step = job.steps[i];
        next = bundle_end(job.steps, i);
        anvil::Step made{
            .id = names.step(step), .kind = std::string(word(step.operation)), .on = step.on, .extra = step.extra};
        if (const Part* part = job.find_part(step.part)) {
            made.operand = use_of(*part);
            if (next > i + 1) {
                out.parts.push_back(std::make_shared<const anvil::Part>(anvil::Part{
                    names.bundle(step), part->name, use_of(*part), steps_of(job, i + 1, next, names, out)}));
                made.operand = anvil::Use{names.bundle(step)};
            }
        }
        steps.push_back(std::make_shared<const anvil::Step>(std::move(made)));
    }
    return steps;
}

anvil::Part listed(const Part& part, const Names& names) {
    anvil::Part out{.id = part.id, .name = part.name, .source = anvil::StoredMesh{part.mesh}};
    for (const Mending& m : part.mendings) out.steps.push_back(treatment(m, names));
    out.bench = part.placement;
    out.extra = part.extra;
    return out;
}

/// The part in work, which uses the base.
anvil::Part part_in_work(const Part& base, const std::string& id, anvil::Steps steps) {
    return {.id = id, .name = base.name, .source = use_of(base), .steps = std::move(steps)};
}

/// Ids that no part or step of the job has.
class UnusedIds {
  public:
    explicit UnusedIds(const Job& job) {
        for (const Part& part : job.parts) used_.insert(part.id);
        for (const Step& step : job.steps) used_.insert(step.id);
    }
    std::string next(const std::string& like) {
        std::string id = like;
        for (int n = 2; !used_.insert(id).second; ++n) id = like + "-" + std::to_string(n);
        return id;
    }

  private:
    std::set<std::string> used_;
};

void add(anvil::Job& job, anvil::Part part) {
    job.parts.push_back(std::make_shared<const anvil::Part>(std::move(part)));
}

}  // namespace

anvil::Job upgraded(const Job& job) {
    UnusedIds ids(job);
    std::map<std::string, std::string> given;  // ids of what is made, by those of what they are made of
    auto made = [&](const std::string& of, const std::string& like) {
        auto& id = given[of];
        if (id.empty()) id = ids.next(like);
        return id;
    };
    const Names names{[](const Step& step) { return step.id; },
                      [&](const Mending& m) { return made("mending " + m.id, m.id); },
                      [&](const Mending& m, std::size_t k) {
                          const std::string number = std::to_string(k);
                          return made("edit " + number + " of " + m.id, m.id + "/" + number);
                      },
                      [&](const Step& step) { return made("bundle " + step.id, step.part + "-bundle"); }};
    anvil::Job out;
    out.settings = job.settings;
    out.extra = job.extra;
    for (const Part& part : job.parts) add(out, listed(part, names));
    const Part* base = job.find_part(job.base);
    if (!base) return out;
    anvil::Steps steps = steps_of(job, 0, job.steps.size(), names, out);
    out.results = {ids.next("result")};
    add(out, part_in_work(*base, out.work(), std::move(steps)));
    return out;
}

}  // namespace anvil::format1
