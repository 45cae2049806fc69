#include "core/job/evaluate.h"

#include <chrono>

#include "core/base/memory.h"

namespace anvil {
namespace {

std::string with_place(const std::string& name, const std::string& place) {
    return place.empty() ? name : name + ", " + place;
}

void tell(const Job& job, const std::vector<Row>& rows, const ListOutcome& outcome, Evaluation& out) {
    const Row* base = rows.empty() ? nullptr : &rows.front();
    if (!out.base_note.empty()) out.remarks.push_back({base->id, name_of(job, *base) + ": " + out.base_note});
    if (out.base_error) {
        out.base_error->row = base->id.part;
        out.base_error->place = with_place(name_of(job, *base), out.base_error->place);
        out.first_error = out.base_error;
    }
    std::set<std::string_view> told;
    for (const Row& row : rows) {
        if (!row.step || !told.insert(row.step->id).second) continue;
        const auto at = outcome.rows.find(row.step->id);
        if (at == outcome.rows.end()) continue;
        if (!row.kind && row.step->on)
            out.remarks.push_back(
                {row.id, name_of(job, row) + ": This version knows no step of this kind: it does nothing."});
        if (!at->second.note.empty()) out.remarks.push_back({row.id, name_of(job, row) + ": " + at->second.note});
        if (at->second.error) {
            Error& mine = *out.rows[row.step->id].error;
            mine.row = row.step->id;
            mine.place = with_place(name_of(job, row), mine.place);
            if (!out.first_error) out.first_error = mine;
        }
    }
    for (const auto& [id, error] : outcome.broken)
        if (!out.first_error) {
            out.first_error = error;
            out.first_error->place = with_place(job.find_part(id)->name, error.place);
        }
    for (const std::string& message : out.combined->messages) out.remarks.push_back({{}, message});
}

Result<Evaluation> evaluated(ListEvaluator& lists, const Job& job, std::size_t stop_after, const SettleOptions& settle,
                             ResultAt at, Progress& progress) {
    const auto start = std::chrono::steady_clock::now();
    const std::vector<Row> rows = rows_of(job);
    auto outcome = lists.run(job, below_line(rows, stop_after), settle, at, progress);
    if (!outcome) return outcome.error();
    Evaluation out;
    out.combined = outcome->placed;
    out.rows = outcome->rows;
    out.given = std::move(outcome->given);
    out.copies = std::move(outcome->copies);
    out.parts = std::move(outcome->parts);
    out.lineages = std::move(outcome->lineages);
    out.broken = outcome->broken;
    out.also = std::move(outcome->also);
    out.operand_parts = outcome->result.operand_parts;
    out.sheets = {outcome->result.sheets.begin(), outcome->result.sheets.end()};
    out.reused_arrangement = outcome->result.reused_arrangement;
    out.has_base = job.find_part(job.work()) && !out.broken.contains(job.work());
    out.base_note = outcome->result.note;
    out.base_error = outcome->result.error;
    tell(job, rows, *outcome, out);
    out.seconds = std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
    return out;
}

}  // namespace

Result<Evaluation> Evaluator::evaluate(const Job& job, Progress& progress, std::size_t stop_after,
                                       std::optional<SettleOptions> settle, ResultAt at) {
    kept_.begin_round();
    auto result = with_memory_checked([&] {
        return evaluated(lists_, job, stop_after, settle.value_or(settle_options(job.settings)), at, progress);
    });
    if (!result && result.error().code == ErrorCode::out_of_memory) {  // what was kept is a good part of what is used
        kept_.forget();
        lists_.forget();
    }
    return result;
}

std::vector<NamedMesh> results_by_name(const Job& job, const Evaluation& evaluation) {
    std::vector<NamedMesh> out;
    std::set<std::string> taken;  // each has a name, and so a file, of its own
    auto add = [&](const std::string& part, const Combined& combined) {
        const Part* named = job.find_part(part);
        std::string name = named ? named->name : part;
        if (!taken.insert(name).second) name += "-" + part;
        for (std::size_t k = 0; k < combined.pieces(); ++k)
            out.push_back({combined.pieces() == 1 ? name : name + " " + std::to_string(k + 1), combined.piece(k)});
    };
    add(job.work(), *evaluation.combined);
    for (const auto& [id, combined] : evaluation.also) add(id, *combined);
    return out;
}

std::vector<std::string> said_by(const Treated& treated) {
    std::vector<std::string> out;
    if (treated.mended)
        for (const Repaired& r : treated.mended->repairs)
            if (!r.said.empty()) out.push_back(r.said);
    if (!treated.said.empty()) out.push_back(treated.said);
    return out;
}

std::vector<std::string> told_of_treatments(const Job& job, const Evaluation& evaluation) {
    std::vector<std::string> out;
    std::set<std::string_view> told;
    for (const Row& row : rows_of(job)) {
        if (!row.step || !told.insert(row.step->id).second) continue;
        const RowOutcome* done = evaluation.row(row.step->id);
        if (done && done->cut && done->counted && !done->cut->said.empty())
            out.push_back(name_of(job, row) + ": " + done->cut->said);
        if (!done || !done->treated) continue;
        const std::string name = name_of(job, row) + ": ";
        for (const std::string& said : said_by(*done->treated)) out.push_back(name + said);
        if (done->treated->question)
            out.push_back(name + done->treated->question->asked + " It waits for an answer, which \"answered\" gives.");
    }
    return out;
}

}  // namespace anvil
