#include "core/job/rows.h"

#include "core/combine/diagnose.h"
#include "core/combine/volume.h"
#include "core/job/bundles.h"

namespace anvil {
namespace {

/// Of the steps with indices from `from` to `end`.
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
              std::span<const StepOutcome> rows)
        : job_(job), arrangement_(arrangement), volumes_(arrangement), operand_(operand), rows_(rows) {}

    void tell(std::uint32_t base, std::size_t from, std::size_t end, std::vector<RowFacts>& out) const {
        const std::vector<CombineStep> all = engine_steps(job_, rows_, operand_, from, end);
        std::size_t taken = 0;
        double volume = volumes_.volume({}, base);
        std::size_t pieces = 1;
        for (std::size_t i = from, next; i < end; i = next) {
            next = bundle_end(job_.steps, i);
            RowFacts& row = out[i];
            row.volume_before = volume;
            row.pieces_before = pieces;
            if (rows_[i].counted && job_.steps[i].operation != Operation::gather) {
                const std::span<const CombineStep> before = std::span(all).first(taken);
                row.note = diagnose_step(arrangement_, before, all[taken], base);
                const auto with = std::span(all).first(++taken);
                volume = volumes_.volume(with, base);
                pieces = pieces_of(arrangement_.cells, with, base).count;
                tell(operand_[i], i + 1, next, out);
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
    std::span<const StepOutcome> rows_;
};

}  // namespace

std::vector<StepOutcome> counted_rows(const Job& job, std::size_t stop_after) {
    std::vector<StepOutcome> rows;
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
    return rows;
}

std::vector<CombineStep> engine_steps(const Job& job, std::span<const StepOutcome> rows,
                                      std::span<const std::uint32_t> operand) {
    return engine_steps(job, rows, operand, 0, job.steps.size());
}

std::vector<RowFacts> row_facts(const Job& job, const Arrangement& arrangement, std::span<const StepOutcome> rows,
                                std::span<const std::uint32_t> operand) {
    std::vector<RowFacts> out(rows.size());
    RowTeller(job, arrangement, operand, rows).tell(0, 0, job.steps.size(), out);
    return out;
}

}  // namespace anvil
