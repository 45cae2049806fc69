#include "core/job/translate.h"

#include <functional>
#include <set>

#include "core/job/bundles.h"
#include "core/job/kinds/mend_values.h"
#include "core/job/sheet_text.h"

namespace anvil {
namespace {

/// How parts and steps that are made in translating are called.
struct Names {
    std::function<std::string(const Step&)> step;
    std::function<std::string(const Mending&)> treatment;
    std::function<std::string(const Mending&, std::size_t)> edit;  ///< its number, from 1
    std::function<std::string(const Step&)> bundle;                ///< the part
};

std::shared_ptr<const sheet::Step> treatment(const Mending& m, const Names& names) {
    sheet::Step out{.id = names.treatment(m), .kind = "mend", .on = m.on, .extra = m.extra};
    if (m.edits.empty()) {
        MendSettings settings{m.repairs, m.options, {}};
        for (const Question::About about : m.answered) settings.answered.emplace_back(word(about));
        for (const std::string& elsewhere : m.answered_elsewhere) settings.answered.push_back(elsewhere);
        out.values = values_of(settings);
        return std::make_shared<const sheet::Step>(std::move(out));
    }
    out.kind = "by-hand";
    for (std::size_t k = 0; k < m.edits.size(); ++k)
        out.steps.push_back(std::make_shared<const sheet::Step>(sheet::Step{
            .id = names.edit(m, k + 1), .kind = std::string(word(m.edits[k].tool)), .values = values_of(m.edits[k])}));
    return std::make_shared<const sheet::Step>(std::move(out));
}

sheet::Use use_of(const Part& part) { return {part.id, part.placement, part.closes_sheets}; }

/// The steps with indices from `from` to `end`; the parts that their bundles make come into `out`.
sheet::Steps steps_of(const Job& job, std::size_t from, std::size_t end, const Names& names, sheet::Job& out) {
    sheet::Steps steps;
    for (std::size_t i = from, next; i < end; i = next) {
        const Step& step = job.steps[i];
        next = bundle_end(job.steps, i);
        sheet::Step made{
            .id = names.step(step), .kind = std::string(word(step.operation)), .on = step.on, .extra = step.extra};
        if (const Part* part = job.find_part(step.part)) {
            made.operand = use_of(*part);
            if (next > i + 1) {
                out.parts.push_back(std::make_shared<const sheet::Part>(sheet::Part{
                    names.bundle(step), part->name, use_of(*part), steps_of(job, i + 1, next, names, out)}));
                made.operand = sheet::Use{names.bundle(step)};
            }
        }
        steps.push_back(std::make_shared<const sheet::Step>(std::move(made)));
    }
    return steps;
}

sheet::Part listed(const Part& part, const Names& names) {
    sheet::Part out{.id = part.id, .name = part.name, .source = sheet::StoredMesh{part.mesh}};
    for (const Mending& m : part.mendings) out.steps.push_back(treatment(m, names));
    out.bench = part.placement;
    out.extra = part.extra;
    return out;
}

/// The part in work, which uses the base.
sheet::Part part_in_work(const Part& base, const std::string& id, sheet::Steps steps) {
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

void add(sheet::Job& job, sheet::Part part) {
    job.parts.push_back(std::make_shared<const sheet::Part>(std::move(part)));
}

}  // namespace

sheet::Job translated(const Job& job) {
    // No id of a part holds a slash.
    const Names names{[](const Step& step) { return row_of(step); }, [](const Mending& m) { return row_of(m); },
                      [](const Mending& m, std::size_t k) { return "edit " + std::to_string(k) + " of " + m.id; },
                      [](const Step& step) { return "/bundle " + step.id; }};
    sheet::Job out;
    out.settings = job.settings;
    for (const Part& part : job.parts) add(out, listed(part, names));
    const Part* base = job.find_part(job.base);
    if (!base) return out;
    out.results = {"/work"};
    sheet::Steps steps = steps_of(job, 0, job.steps.size(), names, out);
    add(out, part_in_work(*base, out.work(), std::move(steps)));
    return out;
}

sheet::Job upgraded(const Job& job) {
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
    sheet::Job out;
    out.settings = job.settings;
    out.extra = job.extra;
    for (const Part& part : job.parts) add(out, listed(part, names));
    const Part* base = job.find_part(job.base);
    if (!base) return out;
    sheet::Steps steps = steps_of(job, 0, job.steps.size(), names, out);
    out.results = {ids.next("result")};
    add(out, part_in_work(*base, out.work(), std::move(steps)));
    return out;
}

}  // namespace anvil
