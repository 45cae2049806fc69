#include "core/job/evaluate.h"

#include <tbb/parallel_for.h>

#include <algorithm>
#include <chrono>

#include "core/base/memory.h"
#include "core/combine/diagnose.h"
#include "core/combine/volume.h"
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
            out.steps[later].volume_before += volume;
            out.steps[later].volume_after += volume;
        }
    }
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

Result<Evaluation> Evaluator::evaluate(const Job& job, Progress& progress, std::size_t stop_after,
                                       std::optional<SettleOptions> settle) {
    auto result = with_memory_checked([&] { return evaluate_steps(job, progress, stop_after, settle); });
    if (result) {
        static const Mesh unused;  // an operand of the kept arrangement that no step wants now
        std::vector<const Mesh*> given;
        for (const std::string& id : result->operand_parts) {
            const Part* part = job.find_part(id);
            given.push_back(part ? part->mesh.get() : &unused);
        }
        result->combined.take_materials(given);
    }
    if (!result && result.error().code == ErrorCode::out_of_memory) {  // what was kept is a good part of what is used
        prepared_.reset();
        operands_.clear();
        ready_.clear();
        contacts_ = {};
    }
    return result;
}

Result<Evaluation> Evaluator::evaluate_steps(const Job& job, Progress& progress, std::size_t stop_after,
                                             std::optional<SettleOptions> settle) {
    const auto start = std::chrono::steady_clock::now();
    Evaluation out;
    const Part* base = job.find_part(job.base);
    if (!base) {
        out.combined.empty = true;
        out.combined.reason = "There is no part yet.";
        return out;
    }
    out.has_base = true;

    std::vector<const Step*> taken;
    std::vector<std::pair<std::size_t, const Part*>> gathered;
    std::vector<PlacedMesh> wanted{{base->mesh, base->placement}};
    std::vector<std::size_t> rows{0};  // per wanted operand: 0 for the base, n for the n-th step
    for (std::size_t i = 0; i < job.steps.size(); ++i) {
        const Step& step = job.steps[i];
        out.steps.emplace_back().step = step.id;
        const Part* part = job.find_part(step.part);
        if (!part || !step.on || i >= stop_after) continue;
        out.steps.back().counted = true;
        if (step.operation == Operation::gather) {
            gathered.emplace_back(i, part);
            continue;
        }
        taken.push_back(&step);
        wanted.push_back({part->mesh, part->placement});
        rows.push_back(i + 1);
    }

    if (!taken.empty()) {
        std::vector<CombineStep> operations;
        for (const Step* step : taken) operations.push_back({step->operation, 1, {}});
        if (starts_as_surface(operations)) wanted[0].taken = Taken::as_surface;
    }

    // Without a step there is nothing to combine: the base is the result as it is, sound or not.
    if (taken.empty()) {
        out.combined.piece_start = {0};
        gather_into(out.combined, welded(base->placed()), 0);
        out.operand_parts = {base->id};
        if (out.combined.empty) out.combined.reason = "The base has no faces.";
        const double volume = signed_volume(out.combined.mesh);
        for (StepOutcome& outcome : out.steps) outcome.volume_before = outcome.volume_after = volume;
        gather_parts(out, gathered);
        return out;
    }

    // Reuse what was arranged last where it holds every operand that is wanted now.
    auto find = [&](const PlacedMesh& o) { return std::find(operands_.begin(), operands_.end(), o); };
    out.reused_arrangement = prepared_ && std::all_of(wanted.begin(), wanted.end(),
                                                      [&](const PlacedMesh& o) { return find(o) != operands_.end(); });
    if (!out.reused_arrangement) {
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
    }

    // The base must be operand 0 of the winding function: it starts as a union with nothing.
    auto number = [&](const PlacedMesh& o) { return static_cast<std::uint32_t>(find(o) - operands_.begin()); };
    if (number(wanted[0]) != 0) {
        prepared_.reset();
        operands_.clear();
        return evaluate_steps(job, progress, stop_after, settle);
    }
    out.operand_parts.resize(operands_.size());
    for (std::size_t i = wanted.size(); i-- > 1;) out.operand_parts[number(wanted[i])] = taken[i - 1]->part;
    out.operand_parts[0] = base->id;
    std::vector<CombineStep> steps;
    const VolumeTeller volumes(*prepared_);
    double volume = volumes.volume(steps);
    std::size_t pieces = 1;
    std::size_t next = 0;
    for (StepOutcome& outcome : out.steps) {
        outcome.volume_before = volume;
        outcome.pieces_before = pieces;
        if (next < taken.size() && outcome.step == taken[next]->id) {
            const CombineStep step{taken[next]->operation, number(wanted[next + 1]), {}};
            outcome.note = diagnose_step(*prepared_, steps, step);
            steps.push_back(step);
            ++next;
            volume = volumes.volume(steps);
            pieces = pieces_of(prepared_->cells, steps).count;
        }
        outcome.volume_after = volume;
        outcome.pieces_after = pieces;
    }
    auto combined = combine(*prepared_, steps, progress, settle.value_or(settle_options(job)));
    if (!combined) return combined.error();
    out.combined = std::move(*combined);
    // What was found out about operands goes to their rows, and with the row's name into the messages.
    auto prepend = [](std::string& to, const std::string& text) { to = to.empty() ? text : text + " " + to; };
    for (std::uint32_t o = 0; o < prepared_->soup.size(); ++o)
        for (const std::string& note : prepared_->soup.operand(o).notes) {
            if (o == 0) prepend(out.base_note, note);
            std::size_t step = 0;
            for (StepOutcome& outcome : out.steps)
                if (step < taken.size() && outcome.step == taken[step]->id && number(wanted[++step]) == o)
                    prepend(outcome.note, note);
        }
    std::vector<std::string> messages;
    if (!out.base_note.empty()) messages.push_back("base (" + base->name + "): " + out.base_note);
    for (std::size_t i = 0; i < out.steps.size(); ++i)
        if (!out.steps[i].note.empty())
            messages.push_back("step " + std::to_string(i + 1) + " (" + job.find_part(job.steps[i].part)->name +
                               "): " + out.steps[i].note);
    out.combined.messages.insert(out.combined.messages.begin(), messages.begin(), messages.end());
    gather_parts(out, gathered);
    out.combined.seconds = std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
    return out;
}

}  // namespace anvil
