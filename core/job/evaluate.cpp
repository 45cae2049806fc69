#include "core/job/evaluate.h"

#include <tbb/parallel_for.h>

#include <algorithm>
#include <chrono>

#include "core/base/memory.h"
#include "core/combine/diagnose.h"
#include "core/combine/volume.h"
#include "core/job/bundles.h"
#include "core/mesh/measures.h"

namespace anvil {
namespace {

/// Puts what the job's gathering steps name beside the result, and counts its volume in.
void gather_parts(Evaluation& out, std::span<const std::pair<std::size_t, const Part*>> gathered) {
    for (const auto& [row, part] : gathered) {
        const Mesh placed = welded(part->placed());
        gather_into(out.combined, placed, static_cast<std::uint32_t>(out.operand_parts.size()));
        out.operand_parts.push_back(part->id);
        const double volume = signed_volume(placed);
        out.steps[row].volume_after += volume;
        for (std::size_t later = row + 1; later < out.steps.size(); ++later) {
            if (out.steps[later].depth > 0) continue;
            out.steps[later].volume_before += volume;
            out.steps[later].volume_after += volume;
        }
    }
}

/// Which rows count: on, above the stop line, their heads too, and of a kind that does something where they are.
void tell_counted(const Job& job, std::size_t stop_after, std::vector<StepOutcome>& rows) {
    for (std::size_t i = 0; i < job.steps.size(); ++i) {
        const Step& step = job.steps[i];
        StepOutcome& row = rows.emplace_back();
        row.step = step.id;
        row.part = step.part;
        row.depth = step.depth;
        const auto head = bundle_head(job.steps, i);
        row.counted = job.find_part(step.part) && step.on && i < stop_after && (!head || rows[*head].counted);
        if (row.counted && head && !counts_in_bundle(step.operation)) {
            row.counted = false;
            row.note = "It changes nothing: a bundle makes a solid, and only what changes a solid counts in it.";
        }
    }
}

/// The steps with indices from `from` to `end`, those that count, as the engine takes them, bundles within them.
/// `operand`: per row, the number of its operand.
std::vector<CombineStep> engine_steps(const Job& job, std::span<const StepOutcome> rows,
                                      std::span<const std::uint32_t> operand, std::size_t from, std::size_t end) {
    std::vector<CombineStep> steps;
    for (std::size_t i = from, next; i < end; i = next) {
        next = bundle_end(job.steps, i);
        if (rows[i].counted && job.steps[i].operation != Operation::gather)
            steps.push_back({job.steps[i].operation, operand[i], engine_steps(job, rows, operand, i + 1, next)});
    }
    return steps;
}

/// Tells of each row what it does to its body, and of the rows of its bundle what they do to its operand.
class RowTeller {
  public:
    RowTeller(const Job& job, const Arrangement& arrangement, std::span<const std::uint32_t> operand,
              std::vector<StepOutcome>& rows)
        : job_(job), arrangement_(arrangement), volumes_(arrangement), operand_(operand), rows_(rows) {}

    void tell(std::uint32_t base, std::size_t from, std::size_t end) const {
        const std::vector<CombineStep> all = engine_steps(job_, rows_, operand_, from, end);
        std::size_t taken = 0;
        double volume = volumes_.volume({}, base);
        std::size_t pieces = 1;
        for (std::size_t i = from, next; i < end; i = next) {
            next = bundle_end(job_.steps, i);
            StepOutcome& row = rows_[i];
            row.volume_before = volume;
            row.pieces_before = pieces;
            if (row.counted && job_.steps[i].operation != Operation::gather) {
                const std::span<const CombineStep> before = std::span(all).first(taken);
                row.note = diagnose_step(arrangement_, before, all[taken], base);
                const auto with = std::span(all).first(++taken);
                volume = volumes_.volume(with, base);
                pieces = pieces_of(arrangement_.cells, with, base).count;
                tell(operand_[i], i + 1, next);
            }
            row.volume_after = volume;
            row.pieces_after = pieces;
        }
    }

  private:
    const Job& job_;
    const Arrangement& arrangement_;
    VolumeTeller volumes_;
    std::span<const std::uint32_t> operand_;
    std::vector<StepOutcome>& rows_;
};

/// What was found out about operands goes to their rows, and with the row's name into the messages.
void tell_notes(const Job& job, const Arrangement& arrangement, std::span<const std::uint32_t> operand,
                Evaluation& out) {
    auto prepend = [](std::string& to, const std::string& text) { to = to.empty() ? text : text + " " + to; };
    for (std::uint32_t o = 0; o < arrangement.soup.size(); ++o)
        for (const std::string& note : arrangement.soup.operand(o).notes) {
            if (o == 0) prepend(out.base_note, note);
            for (std::size_t i = 0; i < out.steps.size(); ++i)
                if (out.steps[i].counted && job.steps[i].operation != Operation::gather && operand[i] == o)
                    prepend(out.steps[i].note, note);
        }
    std::vector<std::string> messages;
    if (!out.base_note.empty()) messages.push_back("base (" + job.find_part(job.base)->name + "): " + out.base_note);
    for (std::size_t i = 0; i < out.steps.size(); ++i)
        if (!out.steps[i].note.empty())
            messages.push_back("step " + std::to_string(i + 1) + " (" + job.find_part(job.steps[i].part)->name +
                               "): " + out.steps[i].note);
    out.combined.messages.insert(out.combined.messages.begin(), messages.begin(), messages.end());
}

Evaluation base_alone(const Job& job, Evaluation out) {
    const Part& base = *job.find_part(job.base);
    out.combined.piece_start = {0};
    gather_into(out.combined, welded(base.placed()), 0);
    out.operand_parts = {base.id};
    if (out.combined.empty) out.combined.reason = "The base has no faces.";
    const double volume = signed_volume(out.combined.mesh);
    for (StepOutcome& row : out.steps)
        if (row.depth == 0) row.volume_before = row.volume_after = volume;
    return out;
}

}  // namespace

Result<std::vector<std::shared_ptr<const Operand>>> Evaluator::make_ready(const std::vector<PlacedMesh>& wanted,
                                                                          Progress& progress) const {
    progress.stage("making the parts ready", 0.0, 0.3);
    std::vector<Result<std::shared_ptr<const Operand>>> made(wanted.size(), cancelled_error());
    tbb::parallel_for(std::size_t{0}, wanted.size(), [&](std::size_t i) {
        const auto known = std::find(operands_.begin(), operands_.end(), wanted[i]);
        if (known != operands_.end())
            made[i] = ready_[static_cast<std::size_t>(known - operands_.begin())];
        else
            made[i] = with_memory_checked([&] {
                return make_operand(transformed(*wanted[i].mesh, wanted[i].placement.transform()), wanted[i].taken,
                                    progress);
            });
    });
    std::vector<std::shared_ptr<const Operand>> out;
    for (auto& one : made) {
        if (!one) {
            Error error = one.error();
            if (!error.is_cancel() && error.code != ErrorCode::out_of_memory)
                error.operand = static_cast<int>(out.size());
            return error;
        }
        out.push_back(std::move(*one));
    }
    return out;
}

/// Evaluates the job of the mended parts.
Result<Evaluation> Evaluator::evaluate_mended(const Job& job, Progress& progress, std::size_t stop_after,
                                              const SettleOptions& settle) {
    mender_.begin_round();
    Job mended_job = job;
    std::map<std::string, MendedPart> mended;
    for (Part& part : mended_job.parts) {
        if (part.mendings.empty()) continue;
        auto one = mender_.mended(part, settle, progress);
        if (!one) return one.error();
        part.mesh = one->mesh;
        mended[part.id] = std::move(*one);
    }
    auto result = evaluate_steps(mended_job, progress, stop_after, settle);
    if (!result) return result;
    static const Mesh unused;  // an operand of the kept arrangement that no step wants now
    std::vector<const Mesh*> given;
    for (const std::string& id : result->operand_parts) {
        const Part* part = mended_job.find_part(id);
        given.push_back(part ? part->mesh.get() : &unused);
    }
    result->combined.take_materials(given);
    result->mended = std::move(mended);
    return result;
}

Result<Evaluation> Evaluator::evaluate(const Job& job, Progress& progress, std::size_t stop_after,
                                       std::optional<SettleOptions> settle) {
    auto result = with_memory_checked(
        [&] { return evaluate_mended(job, progress, stop_after, settle.value_or(settle_options(job))); });
    if (!result && result.error().code == ErrorCode::out_of_memory) {  // what was kept is a good part of what is used
        prepared_.reset();
        operands_.clear();
        ready_.clear();
        contacts_ = {};
        mender_.forget();
    }
    return result;
}

Result<void> Evaluator::arrange_wanted(const Job& job, const std::vector<PlacedMesh>& wanted,
                                       std::span<const std::size_t> rows, Progress& progress) {
    std::vector<PlacedMesh> unique;
    std::vector<std::size_t> unique_rows;
    for (std::size_t i = 0; i < wanted.size(); ++i) {
        if (std::find(unique.begin(), unique.end(), wanted[i]) != unique.end()) continue;
        unique.push_back(wanted[i]);
        unique_rows.push_back(rows[i]);
    }
    auto ready = make_ready(unique, progress);
    if (!ready) {
        Error error = ready.error();
        if (error.operand >= 0) {
            const std::size_t row = unique_rows[static_cast<std::size_t>(error.operand)];
            const std::string& part = job.find_part(row == 0 ? job.base : job.steps[row - 1].part)->name;
            error.operand = static_cast<int>(row);
            error.place = (row == 0 ? "base (" : "step " + std::to_string(row) + " (") + part + ")";
        }
        return error;
    }
    auto prepared = arrange(*ready, progress, &contacts_);
    if (!prepared) return prepared.error();
    operands_ = std::move(unique);
    ready_ = std::move(*ready);
    prepared_ = std::make_unique<Arrangement>(std::move(*prepared));
    return {};
}

Result<Evaluation> Evaluator::evaluate_steps(const Job& job, Progress& progress, std::size_t stop_after,
                                             const SettleOptions& settle) {
    const auto start = std::chrono::steady_clock::now();
    Evaluation out;
    const Part* base = job.find_part(job.base);
    if (!base) {
        out.combined.empty = true;
        out.combined.reason = "There is no part yet.";
        return out;
    }
    out.has_base = true;
    tell_counted(job, stop_after, out.steps);

    std::vector<std::pair<std::size_t, const Part*>> gathered;
    auto taken = [](const Part& part) { return part.closes_sheets ? Taken::closed : Taken::repaired; };
    std::vector<PlacedMesh> wanted{{base->mesh, base->placement, taken(*base)}};
    std::vector<std::size_t> rows{0};  // per wanted operand: 0 for the base, n for the n-th step
    for (std::size_t i = 0; i < job.steps.size(); ++i) {
        if (!out.steps[i].counted) continue;
        const Part* part = job.find_part(job.steps[i].part);
        if (job.steps[i].operation == Operation::gather) {
            gathered.emplace_back(i, part);
            continue;
        }
        wanted.push_back({part->mesh, part->placement, taken(*part)});
        rows.push_back(i + 1);
    }
    // Without a step there is nothing to combine: the base is the result as it is, sound or not.
    if (wanted.size() == 1) {
        out = base_alone(job, std::move(out));
        gather_parts(out, gathered);
        return out;
    }
    std::vector<std::uint32_t> operand(job.steps.size(), 0);
    if (starts_as_surface(engine_steps(job, out.steps, operand, 0, job.steps.size())))
        wanted[0].taken = Taken::as_surface;

    // Reuse what was arranged last where it holds every operand that is wanted now, and the base is its first.
    auto find = [&](const PlacedMesh& o) { return std::find(operands_.begin(), operands_.end(), o); };
    out.reused_arrangement =
        prepared_ && operands_.front() == wanted.front() &&
        std::all_of(wanted.begin(), wanted.end(), [&](const PlacedMesh& o) { return find(o) != operands_.end(); });
    if (!out.reused_arrangement)
        if (auto arranged = arrange_wanted(job, wanted, rows, progress); !arranged) return arranged.error();

    out.operand_parts.resize(operands_.size());
    for (std::size_t i = wanted.size(); i-- > 0;) {
        const auto number = static_cast<std::size_t>(find(wanted[i]) - operands_.begin());
        out.operand_parts[number] = rows[i] == 0 ? base->id : job.steps[rows[i] - 1].part;
        if (rows[i] > 0) operand[rows[i] - 1] = static_cast<std::uint32_t>(number);
    }
    for (std::size_t i = 0; i < operands_.size(); ++i) {
        const Operand& made = prepared_->soup.operand(static_cast<std::uint32_t>(i));
        if (operands_[i].taken != Taken::as_surface && made.sheet && !made.flat)
            out.sheets.insert(out.operand_parts[i]);
    }
    RowTeller(job, *prepared_, operand, out.steps).tell(0, 0, job.steps.size());
    const std::vector<CombineStep> steps = engine_steps(job, out.steps, operand, 0, job.steps.size());
    auto combined = combine(*prepared_, steps, progress, settle);
    if (!combined) return combined.error();
    out.combined = std::move(*combined);
    tell_notes(job, *prepared_, operand, out);
    gather_parts(out, gathered);
    out.combined.seconds = std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
    return out;
}

}  // namespace anvil
