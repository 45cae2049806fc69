#include "core/job/evaluate.h"

#include <tbb/parallel_for.h>

#include <algorithm>
#include <chrono>

#include "core/base/memory.h"
#include "core/job/bundles.h"
#include "core/job/rows.h"
#include "core/mesh/measures.h"

namespace anvil {
namespace {

/// About, of what is kept.
std::size_t bytes_of(const Operand& o) { return o.mesh.points.size() * 40 + o.mesh.faces.size() * 160 + 1000; }
std::size_t bytes_of(const Arrangement& a) {
    return a.faces.size() * 120 + a.points.size() * 40 + a.active.index_of.size() * 8 + 10'000;
}
std::size_t bytes_of(const Combined& c) {
    std::size_t bytes = c.mesh.points.size() * sizeof(Vec3) + c.mesh.faces.size() * 2 * sizeof(Triangle) + 1000;
    for (const CrossingCurve& curve : c.curves) bytes += curve.points.size() * sizeof(Vec3);
    return bytes;
}

/// The order in which ids are given: "step-2" before "step-10".
bool given_before(const std::string& a, const std::string& b) {
    return a.size() != b.size() ? a.size() < b.size() : a < b;
}

Combined alone(const Part& base) {
    Combined out;
    out.piece_start = {0};
    gather_into(out, welded(base.placed()), 0);
    if (out.empty) out.reason = "The base has no faces.";
    const Mesh* given[] = {base.mesh.get()};
    out.take_materials(given);
    return out;
}

/// Puts what the job's gathering steps name beside the result, and counts its volume in.
void gather_parts(const Job& job, Evaluation& out) {
    std::shared_ptr<Combined> whole;
    for (std::size_t i = 0; i < out.steps.size(); ++i) {
        if (!out.steps[i].counted || job.steps[i].operation != Operation::gather) continue;
        const Mesh placed = welded(job.find_part(out.steps[i].part)->placed());
        if (!whole) whole = std::make_shared<Combined>(*out.combined);
        gather_into(*whole, placed, static_cast<std::uint32_t>(out.operand_parts.size()));
        out.operand_parts.push_back(out.steps[i].part);
        const double volume = signed_volume(placed);
        out.steps[i].volume_after += volume;
        for (std::size_t later = i + 1; later < out.steps.size(); ++later) {
            if (out.steps[later].depth > 0) continue;
            out.steps[later].volume_before += volume;
            out.steps[later].volume_after += volume;
        }
    }
    if (!whole) return;
    static const Mesh gone;
    std::vector<const Mesh*> given;
    for (const std::string& id : out.operand_parts) {
        const Part* part = job.find_part(id);
        given.push_back(part ? part->mesh.get() : &gone);
    }
    whole->take_materials(given);
    out.combined = std::move(whole);
}

/// What was found out about operands goes to their rows, and with the row's name into the messages.
void tell_notes(const Job& job, std::span<const std::vector<std::string>> notes, std::span<const std::uint32_t> operand,
                Evaluation& out) {
    auto prepend = [](std::string& to, const std::string& text) { to = to.empty() ? text : text + " " + to; };
    for (std::uint32_t o = 0; o < notes.size(); ++o)
        for (const std::string& note : notes[o]) {
            if (o == 0) prepend(out.base_note, note);
            for (std::size_t i = 0; i < out.steps.size(); ++i)
                if (out.steps[i].counted && job.steps[i].operation != Operation::gather && operand[i] == o)
                    prepend(out.steps[i].note, note);
        }
    if (!out.base_note.empty())
        out.remarks.push_back({job.base, {}, "base (" + job.find_part(job.base)->name + "): " + out.base_note});
    for (std::size_t i = 0; i < out.steps.size(); ++i)
        if (const StepOutcome& row = out.steps[i]; !row.note.empty())
            out.remarks.push_back(
                {row.part, row.step,
                 "step " + std::to_string(i + 1) + " (" + job.find_part(row.part)->name + "): " + row.note});
}

bool combines(const Job& job, std::span<const StepOutcome> rows, std::size_t i) {
    return rows[i].counted && job.steps[i].operation != Operation::gather;
}

}  // namespace

/// Cells chosen and settled, and what each row did.
struct Evaluator::Extracted {
    Combined combined;
    std::vector<RowFacts> rows;
};

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
    auto result = with_memory_checked(
        [&] { return evaluate_mended(job, progress, stop_after, settle.value_or(settle_options(job))); });
    if (!result && result.error().code == ErrorCode::out_of_memory) {  // what was kept is a good part of what is used
        kept_.forget();
        contacts_ = {};
    }
    return result;
}

/// Evaluates the job of the mended parts.
Result<Evaluation> Evaluator::evaluate_mended(const Job& job, Progress& progress, std::size_t stop_after,
                                              const SettleOptions& settle) {
    kept_.begin_round();
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
    if (result) result->mended = std::move(mended);
    return result;
}

Evaluator::Wanted Evaluator::wanted(const Part& part, std::optional<Taken> taken) {
    Wanted out{
        part.mesh, part.placement, taken.value_or(part.closes_sheets ? Taken::closed : Taken::repaired), part.id, {}};
    out.key = KeyMaker("operand 1")
                  .add(keys_.of(part.mesh))
                  .add(part.placement.position)
                  .add(part.placement.angles)
                  .add(out.taken)
                  .key();
    return out;
}

Evaluator::Operands Evaluator::operands_of(const Job& job, std::span<const StepOutcome> rows) {
    Operands out;
    out.of_row.resize(rows.size(), 0);
    const bool as_surface = starts_as_surface(engine_steps(job, rows, out.of_row));
    out.list.push_back(wanted(*job.find_part(job.base), as_surface ? std::optional(Taken::as_surface) : std::nullopt));
    std::vector<std::size_t> order;
    for (std::size_t i = 0; i < rows.size(); ++i)
        if (job.steps[i].operation != Operation::gather && job.find_part(job.steps[i].part)) order.push_back(i);
    std::ranges::sort(order, given_before, [&](std::size_t i) { return job.steps[i].id; });
    for (const std::size_t i : order) {
        Wanted one = wanted(*job.find_part(job.steps[i].part));
        const auto known = std::ranges::find(out.list, one.key, &Wanted::key);
        out.of_row[i] = static_cast<std::uint32_t>(known - out.list.begin());
        if (known == out.list.end()) out.list.push_back(std::move(one));
    }
    return out;
}

Result<void> Evaluator::make_ready(Operands& operands, Progress& progress) {
    progress.stage("making the parts ready", 0.0, 0.3);
    const std::size_t count = operands.list.size();
    std::vector<Result<std::shared_ptr<const Operand>>> made(count, cancelled_error());
    for (const Wanted& one : operands.list) operands.ready.push_back(kept_.find<Ready>(one.key));
    tbb::parallel_for(std::size_t{0}, count, [&](std::size_t i) {
        const Wanted& one = operands.list[i];
        if (operands.ready[i]) return;
        made[i] = with_memory_checked(
            [&] { return make_operand(transformed(*one.mesh, one.placement.transform()), one.taken, progress); });
    });
    for (std::size_t i = 0; i < count; ++i) {
        if (operands.ready[i]) continue;
        Ready ready;
        if (made[i]) {
            ready.operand = std::move(*made[i]);
        } else {
            ready.error = made[i].error();
            if (ready.error->is_cancel() || ready.error->code == ErrorCode::out_of_memory) return *ready.error;
        }
        const std::size_t bytes = ready.operand ? bytes_of(*ready.operand) : 0;
        operands.ready[i] = kept_.keep(operands.list[i].key, std::make_shared<const Ready>(std::move(ready)), bytes);
    }
    return {};
}

/// Takes the steps out whose operands cannot be taken, and what lies in their bundles. Returns whether there are any.
bool Evaluator::leave_out_broken(const Job& job, const Operands& operands, Evaluation& out) {
    bool any = false;
    for (std::size_t i = 0; i < out.steps.size(); ++i) {
        StepOutcome& row = out.steps[i];
        const auto head = bundle_head(job.steps, i);
        if (head && !out.steps[*head].counted) row.counted = false;
        if (!combines(job, out.steps, i)) continue;
        const std::optional<Error>& why = operands.ready[operands.of_row[i]]->error;
        if (!why) continue;
        Error error = *why;
        error.row = row.step;
        error.place = "step " + std::to_string(i + 1) + " (" + job.find_part(row.part)->name + ")" +
                      (error.place.empty() ? "" : ", " + error.place);
        row.error = std::move(error);
        row.counted = false;
        any = true;
    }
    return any;
}

/// What cannot be taken, of steps that do not count: nothing is said of it, and it is not arranged.
void Evaluator::drop_broken(Operands& operands) {
    Operands kept;
    std::vector<std::uint32_t> number(operands.list.size(), 0);
    for (std::size_t o = 0; o < operands.list.size(); ++o) {
        if (operands.ready[o]->error) continue;
        number[o] = static_cast<std::uint32_t>(kept.list.size());
        kept.list.push_back(std::move(operands.list[o]));
        kept.ready.push_back(std::move(operands.ready[o]));
    }
    for (const std::uint32_t o : operands.of_row) kept.of_row.push_back(number[o]);
    operands = std::move(kept);
}

Result<std::shared_ptr<const Arrangement>> Evaluator::arranged(const Operands& operands, bool& reused,
                                                               Progress& progress) {
    KeyMaker content("arrangement 1");
    std::vector<std::shared_ptr<const Operand>> list;
    for (std::size_t i = 0; i < operands.list.size(); ++i) {
        content.add(operands.list[i].key);
        list.push_back(operands.ready[i]->operand);
    }
    auto known = kept_.find<Arrangement>(content.key());
    reused = known != nullptr;
    if (known) return known;
    auto made = arrange(std::move(list), progress, &contacts_);
    if (!made) return made.error();
    const std::size_t bytes = bytes_of(*made);
    return kept_.keep(content.key(), std::make_shared<const Arrangement>(std::move(*made)), bytes);
}

Result<std::shared_ptr<const Evaluator::Extracted>> Evaluator::extracted(const Job& job, const Operands& operands,
                                                                         std::span<const StepOutcome> rows,
                                                                         const SettleOptions& settle, bool& reused,
                                                                         Progress& progress) {
    KeyMaker content("extracted 1");
    for (const Wanted& one : operands.list) content.add(one.key);
    content.add(settle.precision).add(settle.contact).add(settle.merge_flush);
    for (std::size_t i = 0; i < rows.size(); ++i)
        content.add(rows[i].counted).add(job.steps[i].operation).add(rows[i].depth).add(operands.of_row[i]);
    if (auto known = kept_.find<Extracted>(content.key())) {
        reused = true;
        return known;
    }
    auto arrangement = arranged(operands, reused, progress);
    if (!arrangement) return arrangement.error();
    Extracted out;
    out.rows = row_facts(job, **arrangement, rows, operands.of_row);
    auto combined = combine(**arrangement, engine_steps(job, rows, operands.of_row), progress, settle);
    if (!combined) return combined.error();
    out.combined = std::move(*combined);
    std::vector<const Mesh*> given;
    std::vector<char> counts(operands.list.size(), 0);
    for (const Wanted& one : operands.list) given.push_back(one.mesh.get());
    out.combined.take_materials(given);
    // What is off, or below the stop line, is arranged with the others, but nothing of it is told.
    counts[0] = 1;
    for (std::size_t i = 0; i < rows.size(); ++i)
        if (combines(job, rows, i)) counts[operands.of_row[i]] = 1;
    std::erase_if(out.combined.flush, [&](const FlushArea& f) { return !counts[f.a] || !counts[f.b]; });
    std::erase_if(out.combined.closed_holes, [&](const ClosedHole& h) { return !counts[h.operand]; });
    const std::size_t bytes = bytes_of(out.combined);
    return kept_.keep(content.key(), std::make_shared<const Extracted>(std::move(out)), bytes);
}

Result<Evaluation> Evaluator::evaluate_steps(const Job& job, Progress& progress, std::size_t stop_after,
                                             const SettleOptions& settle) {
    const auto start = std::chrono::steady_clock::now();
    Evaluation out;
    const Part* base = job.find_part(job.base);
    if (!base) {
        Combined nothing;
        nothing.empty = true;
        nothing.reason = "There is no part yet.";
        out.combined = std::make_shared<const Combined>(std::move(nothing));
        return out;
    }
    out.has_base = true;
    out.steps = counted_rows(job, stop_after);
    // Without a step there is nothing to combine: the base is the result as it is, sound or not.
    auto base_alone = [&] {
        out.combined = std::make_shared<const Combined>(alone(*base));
        out.operand_parts = {base->id};
        const double volume = signed_volume(out.combined->mesh);
        for (StepOutcome& row : out.steps)
            if (row.depth == 0) row.volume_before = row.volume_after = volume;
        gather_parts(job, out);
        return std::move(out);
    };
    Operands operands;
    do {
        bool any = false;
        for (std::size_t i = 0; i < out.steps.size(); ++i) any = any || combines(job, out.steps, i);
        if (!any) return base_alone();
        operands = operands_of(job, out.steps);
        if (auto made = make_ready(operands, progress); !made) return made.error();
        if (const auto& why = operands.ready[0]->error) {
            out.base_error = *why;
            out.base_error->row = base->id;
            out.base_error->place = "base (" + base->name + ")" + (why->place.empty() ? "" : ", " + why->place);
            for (std::size_t i = 0; i < out.steps.size(); ++i)
                if (combines(job, out.steps, i)) out.steps[i].counted = false;
            return base_alone();
        }
    } while (leave_out_broken(job, operands, out));
    drop_broken(operands);

    auto done = extracted(job, operands, out.steps, settle, out.reused_arrangement, progress);
    if (!done) return done.error();
    out.combined = {*done, &(*done)->combined};
    std::vector<std::vector<std::string>> notes;
    for (std::size_t o = 0; o < operands.list.size(); ++o) {
        const Operand& made = *operands.ready[o]->operand;
        out.operand_parts.push_back(operands.list[o].part);
        notes.push_back(made.notes);
        if (operands.list[o].taken != Taken::as_surface && made.sheet && !made.flat)
            out.sheets.insert(operands.list[o].part);
    }
    for (std::size_t i = 0; i < out.steps.size(); ++i) {
        const RowFacts& facts = (*done)->rows[i];
        StepOutcome& row = out.steps[i];
        row.volume_before = facts.volume_before;
        row.volume_after = facts.volume_after;
        row.pieces_before = facts.pieces_before;
        row.pieces_after = facts.pieces_after;
        if (!facts.note.empty()) row.note = facts.note;
    }
    tell_notes(job, notes, operands.of_row, out);
    for (const std::string& message : out.combined->messages) out.remarks.push_back({{}, {}, message});
    gather_parts(job, out);
    out.seconds = std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
    return out;
}

}  // namespace anvil
