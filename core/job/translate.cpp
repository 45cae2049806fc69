#include "core/job/translate.h"

#include "core/job/bundles.h"
#include "core/job/kinds/mend_values.h"

namespace anvil {
namespace {

// No id of a job holds a slash at its beginning.
constexpr const char* work = "/work";
std::string bundle_of(const Step& step) { return "/" + step.id; }

std::shared_ptr<const sheet::Step> treatment(const Mending& m) {
    sheet::Step out{.id = row_of(m), .kind = "mend", .on = m.on};
    if (m.edits.empty()) {
        out.values = values_of(m.repairs, m.options, m.answered);
        return std::make_shared<const sheet::Step>(std::move(out));
    }
    out.kind = "by-hand";
    for (std::size_t k = 0; k < m.edits.size(); ++k)
        out.steps.push_back(
            std::make_shared<const sheet::Step>(sheet::Step{.id = row_of(m) + "/" + std::to_string(k + 1),
                                                            .kind = std::string(word(m.edits[k].tool)),
                                                            .values = values_of(m.edits[k])}));
    return std::make_shared<const sheet::Step>(std::move(out));
}

sheet::Use use_of(const Part& part) { return {part.id, part.placement, part.closes_sheets}; }

/// The steps with indices from `from` to `end`; the parts that their bundles make come into `out`.
sheet::Steps steps_of(const Job& job, std::size_t from, std::size_t end, sheet::Job& out) {
    sheet::Steps steps;
    for (std::size_t i = from, next; i < end; i = next) {
        const Step& step = job.steps[i];
        next = bundle_end(job.steps, i);
        sheet::Step made{.id = step.id, .kind = std::string(word(step.operation)), .on = step.on};
        if (const Part* part = job.find_part(step.part)) {
            made.operand = use_of(*part);
            if (next > i + 1) {
                out.parts.push_back(std::make_shared<const sheet::Part>(
                    sheet::Part{bundle_of(step), part->name, use_of(*part), steps_of(job, i + 1, next, out)}));
                made.operand = sheet::Use{bundle_of(step)};
            }
        }
        steps.push_back(std::make_shared<const sheet::Step>(std::move(made)));
    }
    return steps;
}

}  // namespace

sheet::Job translated(const Job& job) {
    sheet::Job out;
    out.settings = job.settings;
    for (const Part& part : job.parts) {
        sheet::Part made{part.id, part.name, sheet::StoredMesh{part.mesh}};
        for (const Mending& m : part.mendings) made.steps.push_back(treatment(m));
        out.parts.push_back(std::make_shared<const sheet::Part>(std::move(made)));
    }
    const Part* base = job.find_part(job.base);
    if (!base) return out;
    out.work = work;
    sheet::Steps steps = steps_of(job, 0, job.steps.size(), out);
    out.parts.push_back(
        std::make_shared<const sheet::Part>(sheet::Part{work, base->name, use_of(*base), std::move(steps)}));
    return out;
}

}  // namespace anvil
