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

const Error* Evaluation::first_error() const {
    if (base_error) return &*base_error;
    for (const auto& [id, part] : mended)
        for (const std::optional<Error>& error : part.errors)
            if (error) return &*error;
    for (const StepOutcome& row : steps)
        if (row.error) return &*row.error;
    return nullptr;
}

Result<void> Evaluator::make_ready(std::span<const PlacedMesh> wanted, Progress& progress) {
    progress.stage("making the parts ready", 0.0, 0.3);
    std::vector<PlacedMesh> missing;
    for (const PlacedMesh& mesh : wanted)
        if (std::ranges::find(ready_, mesh, &Ready::from) == ready_.end() &&
            std::ranges::find(missing, mesh) == missing.end())
            missing.push_back(mesh);
    std::vector<Result<std::shared_ptr<const Operand>>> made(missing.size(), cancelled_error());
    tbb::parallel_for(std::size_t{0}, missing.size(), [&](std::size_t i) {
        made[i] = with_memory_checked([&] {
            return make_operand(transformed(*missing[i].mesh, missing[i].placement.transform()), missing[i].taken,
                                progress);
        });
    });
    for (std::size_t i = 0; i < missing.size(); ++i) {
        if (made[i]) {
            ready_.push_back({missing[i], std::move(*made[i]), {}});
            continue;
        }
        const Error& error = made[i].error();
        if (error.is_cancel() || error.code == ErrorCode::out_of_memory) return error;
        ready_.push_back({missing[i], nullptr, error});
    }
    return {};
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

Result<void> Evaluator::arrange_wanted(std::span<const PlacedMesh> wanted, Progress& progress) {
    std::vector<PlacedMesh> unique;
    std::vector<std::shared_ptr<const Operand>> operands;
    for (const PlacedMesh& mesh : wanted) {
        if (std::ranges::find(unique, mesh) != unique.end()) continue;
        unique.push_back(mesh);
        operands.push_back(ready(mesh).operand);
    }
    auto prepared = arrange(std::move(operands), progress, &contacts_);
    if (!prepared) return prepared.error();
    operands_ = std::move(unique);
    prepared_ = std::make_unique<Arrangement>(std::move(*prepared));
    return {};
}

Evaluator::Wanted Evaluator::wanted_operands(const Job& job, std::span<const StepOutcome> rows) {
    Wanted out;
    auto add = [&](std::size_t step, const std::string& id) {
        const Part& part = *job.find_part(id);
        out.meshes.push_back({part.mesh, part.placement, part.closes_sheets ? Taken::closed : Taken::repaired});
        out.steps.push_back(step);
    };
    add(0, job.base);
    for (std::size_t i = 0; i < rows.size(); ++i)
        if (rows[i].counted && job.steps[i].operation != Operation::gather) add(i, job.steps[i].part);
    return out;
}

/// Takes the steps out whose operands cannot be taken, and what lies in their bundles; where it is the base, all.
/// Returns whether others are to be looked at again without them.
bool Evaluator::leave_out_broken(const Job& job, const Wanted& wanted, Evaluation& out) const {
    bool any = false;
    for (std::size_t i = 0; i < wanted.meshes.size(); ++i) {
        const std::optional<Error>& why = ready(wanted.meshes[i]).error;
        if (!why) continue;
        const std::size_t s = wanted.steps[i];
        const std::string part = job.find_part(i == 0 ? job.base : job.steps[s].part)->name;
        Error error = *why;
        error.row = i == 0 ? job.base : job.steps[s].id;
        error.place = (i == 0 ? "base (" : "step " + std::to_string(s + 1) + " (") + part + ")" +
                      (error.place.empty() ? "" : ", " + error.place);
        if (i == 0) {
            out.base_error = std::move(error);
            for (StepOutcome& row : out.steps) row.counted = false;
            return false;
        }
        out.steps[s].error = std::move(error);
        out.steps[s].counted = false;
        any = true;
    }
    for (std::size_t i = 0; i < out.steps.size(); ++i)
        if (const auto head = bundle_head(job.steps, i); head && !out.steps[*head].counted)
            out.steps[i].counted = false;
    return any;
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
    for (std::size_t i = 0; i < job.steps.size(); ++i)
        if (out.steps[i].counted && job.steps[i].operation == Operation::gather)
            gathered.emplace_back(i, job.find_part(job.steps[i].part));
    auto alone = [&] {
        out = base_alone(job, std::move(out));
        gather_parts(out, gathered);
        return std::move(out);
    };
    Wanted wanted;
    std::vector<PlacedMesh> asked;
    std::vector<std::uint32_t> operand(job.steps.size(), 0);
    do {
        wanted = wanted_operands(job, out.steps);
        // Without a step there is nothing to combine: the base is the result as it is, sound or not.
        if (wanted.meshes.size() == 1) return alone();
        if (starts_as_surface(engine_steps(job, out.steps, operand, 0, job.steps.size())))
            wanted.meshes[0].taken = Taken::as_surface;
        asked.insert(asked.end(), wanted.meshes.begin(), wanted.meshes.end());
        if (auto made = make_ready(wanted.meshes, progress); !made) return made.error();
    } while (leave_out_broken(job, wanted, out));
    std::erase_if(ready_, [&](const Ready& r) {
        return std::ranges::find(asked, r.from) == asked.end() &&
               std::ranges::find(operands_, r.from) == operands_.end();
    });
    if (out.base_error) return alone();

    // Reuse what was arranged last where it holds every operand that is wanted now, and the base is its first.
    auto find = [&](const PlacedMesh& o) { return std::find(operands_.begin(), operands_.end(), o); };
    out.reused_arrangement =
        prepared_ && operands_.front() == wanted.meshes.front() &&
        std::ranges::all_of(wanted.meshes, [&](const PlacedMesh& o) { return find(o) != operands_.end(); });
    if (!out.reused_arrangement)
        if (auto arranged = arrange_wanted(wanted.meshes, progress); !arranged) return arranged.error();

    out.operand_parts.resize(operands_.size());
    for (std::size_t i = wanted.meshes.size(); i-- > 0;) {
        const auto number = static_cast<std::size_t>(find(wanted.meshes[i]) - operands_.begin());
        out.operand_parts[number] = i == 0 ? base->id : job.steps[wanted.steps[i]].part;
        if (i > 0) operand[wanted.steps[i]] = static_cast<std::uint32_t>(number);
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
