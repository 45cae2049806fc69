#include "core/job/evaluate.h"

#include <chrono>

#include "core/base/memory.h"
#include "core/job/bundles.h"
#include "core/job/translate.h"

namespace anvil {
namespace {

MendedPart told_of(const Part& part, const sheet::Outcome& outcome) {
    MendedPart out{outcome.parts.at(part.id), {}, {}, {}};
    for (const Mending& mending : part.mendings) {
        const sheet::RowOutcome& row = outcome.rows.at(row_of(mending));
        out.done.push_back(row.treated ? row.treated->mended : nullptr);
        out.errors.push_back(row.error);
        if (std::optional<Error>& error = out.errors.back()) {
            error->row = mending.id;
            error->place = part.name + (error->place.empty() ? "" : " (" + error->place + ")");
        }
        if (row.treated && row.treated->question && !out.question)
            out.question = OpenQuestion{part.id, mending.id, row.from, *row.treated->question};
    }
    return out;
}

std::string name_of_row(const Job& job, std::size_t step) {
    const Part* part = job.find_part(job.steps[step].part);
    return "step " + std::to_string(step + 1) + " (" + (part ? part->name : job.steps[step].part) + ")";
}

std::string with_place(const std::string& name, const std::string& place) {
    return place.empty() ? name : name + ", " + place;
}

StepOutcome told_of(const Job& job, std::size_t i, const sheet::Outcome& outcome) {
    const Step& step = job.steps[i];
    const sheet::RowOutcome& row = outcome.rows.at(row_of(step));
    StepOutcome out{step.id,          step.part,         step.depth,       row.counted, row.volume_before,
                    row.volume_after, row.pieces_before, row.pieces_after, row.note,    row.error};
    if (out.error) {
        out.error->row = step.id;
        out.error->place = with_place(name_of_row(job, i), out.error->place);
    }
    return out;
}

void add_remarks(const Job& job, Evaluation& out) {
    if (!out.base_note.empty())
        out.remarks.push_back({job.base, {}, "base (" + job.find_part(job.base)->name + "): " + out.base_note});
    for (std::size_t i = 0; i < out.steps.size(); ++i)
        if (const StepOutcome& row = out.steps[i]; !row.note.empty())
            out.remarks.push_back({row.part, row.step, name_of_row(job, i) + ": " + row.note});
    for (const std::string& message : out.combined->messages) out.remarks.push_back({{}, {}, message});
}

Result<Evaluation> evaluated(sheet::ListEvaluator& lists, const Job& job, std::size_t stop_after,
                             const SettleOptions& settle, Progress& progress) {
    const auto start = std::chrono::steady_clock::now();
    std::set<std::string> below;
    for (std::size_t i = stop_after; i < job.steps.size(); ++i) below.insert(row_of(job.steps[i]));
    auto outcome = lists.run(translated(job), below, settle, progress);
    if (!outcome) return outcome.error();
    Evaluation out;
    out.combined = outcome->result.combined;
    out.operand_parts = outcome->result.operand_parts;
    out.sheets = {outcome->result.sheets.begin(), outcome->result.sheets.end()};
    out.reused_arrangement = outcome->result.reused_arrangement;
    for (const Part& part : job.parts)
        if (!part.mendings.empty()) out.mended[part.id] = told_of(part, *outcome);
    if (const Part* base = job.find_part(job.base)) {
        out.has_base = true;
        out.base_note = outcome->result.note;
        out.base_error = outcome->result.error;
        if (out.base_error) {
            out.base_error->row = base->id;
            out.base_error->place = with_place("base (" + base->name + ")", out.base_error->place);
        }
        for (std::size_t i = 0; i < job.steps.size(); ++i) out.steps.push_back(told_of(job, i, *outcome));
        add_remarks(job, out);
    }
    out.seconds = std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
    return out;
}

}  // namespace

const Error* Evaluation::first_error() const {
    if (base_error) return &*base_error;
    for (const auto& [id, part] : mended)
        for (const std::optional<Error>& error : part.errors)
            if (error) return &*error;
    for (const StepOutcome& row : steps)
        if (row.error) return &*row.error;
    return nullptr;
}

Result<Evaluation> Evaluator::evaluate(const Job& job, Progress& progress, std::size_t stop_after,
                                       std::optional<SettleOptions> settle) {
    kept_.begin_round();
    auto result = with_memory_checked(
        [&] { return evaluated(lists_, job, stop_after, settle.value_or(settle_options(job.settings)), progress); });
    if (!result && result.error().code == ErrorCode::out_of_memory) {  // what was kept is a good part of what is used
        kept_.forget();
        lists_.forget();
    }
    return result;
}

}  // namespace anvil
