#pragma once

#include <memory>
#include <set>

#include "core/combine/combine.h"
#include "core/job/mended_parts.h"

namespace anvil {

/// What became of one step.
struct StepOutcome {
    std::string step, part;    ///< their ids
    int depth = 0;             ///< in how many bundles it lies
    bool counted = false;      ///< it is on, above the stop line, so are the heads of its bundles
    double volume_before = 0;  ///< mm3, of the body that it acts on: in a bundle, of the head's operand
    double volume_after = 0;
    std::size_t pieces_before = 1, pieces_after = 1;
    std::string note;  ///< what is remarkable: "It removes nothing: it is 0.4 mm away from the body."
};

struct Evaluation {
    Combined combined;
    std::vector<StepOutcome> steps;
    std::vector<std::string> operand_parts;  ///< per operand number in combined.source: the part's id
    std::set<std::string> sheets;            ///< parts that were taken as sheets and could be closed
    bool reused_arrangement = false;         ///< only the choice of cells was made again
    bool has_base = false;
    std::string base_note;                     ///< what is remarkable about the base
    std::map<std::string, MendedPart> mended;  ///< by id: the parts that have mendings
};

/// Evaluates jobs, keeping the arrangement of the last one: a changed operation, order or switch reuses it, and so
/// does any other change that leaves the placed operands as they were. Where one moved, the others stay ready, and
/// only its own crossings are looked for.
/// Not thread-safe; one evaluation at a time.
class Evaluator {
  public:
    /// `stop_after`: how many steps are taken, from the top. `settle`: by default in double precision and as the
    /// job's settings say.
    /// Parts are taken as their mendings leave them.
    /// Fails: where a mending does; open_operand with the step's number as its operand, and nothing is lost; cancelled.
    Result<Evaluation> evaluate(const Job& job, Progress& progress, std::size_t stop_after = ~std::size_t{0},
                                std::optional<SettleOptions> settle = std::nullopt);

    /// The part as the steps see it. What the last evaluation worked out is at hand.
    Result<MendedPart> mended(const Job& job, const Part& part, Progress& progress) {
        return mender_.mended(part, settle_options(job), progress);
    }

  private:
    struct PlacedMesh {
        std::shared_ptr<const Mesh> mesh;
        Placement placement;
        Taken taken = Taken::repaired;
        bool operator==(const PlacedMesh&) const = default;
    };
    Result<Evaluation> evaluate_mended(const Job& job, Progress& progress, std::size_t stop_after,
                                       const SettleOptions& settle);
    Result<Evaluation> evaluate_steps(const Job& job, Progress& progress, std::size_t stop_after,
                                      const SettleOptions& settle);
    /// `rows`: per wanted operand, 0 for the base, n for the n-th step. For errors.
    Result<void> arrange_wanted(const Job& job, const std::vector<PlacedMesh>& wanted,
                                std::span<const std::size_t> rows, Progress& progress);
    Result<std::vector<std::shared_ptr<const Operand>>> make_ready(const std::vector<PlacedMesh>& wanted,
                                                                   Progress& progress) const;
    PartMender mender_;
    std::vector<PlacedMesh> operands_;
    std::vector<std::shared_ptr<const Operand>> ready_;  // side by side with operands_
    ContactCache contacts_;
    std::unique_ptr<Arrangement> prepared_;
};

}  // namespace anvil
