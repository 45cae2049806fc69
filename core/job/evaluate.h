#pragma once

#include <algorithm>
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
    std::string note;            ///< what is remarkable: "It removes nothing: it is 0.4 mm away from the body."
    std::optional<Error> error;  ///< why it was left out, where its operand cannot be taken
};

struct Evaluation {
    Combined combined;
    std::vector<StepOutcome> steps;
    std::vector<std::string> operand_parts;  ///< per operand number in combined.source: the part's id
    std::set<std::string> sheets;            ///< parts that were taken as sheets and could be closed
    bool reused_arrangement = false;         ///< only the choice of cells was made again
    bool has_base = false;
    std::string base_note;                     ///< what is remarkable about the base
    std::optional<Error> base_error;           ///< why no step could act on it
    std::map<std::string, MendedPart> mended;  ///< by id: the parts that have mendings

    /// Of what was left out since it could not be done, the first; null where all was done.
    const Error* first_error() const;
};

/// Evaluates jobs, keeping the arrangement of the last one: a changed operation, order or switch reuses it, and so
/// does any other change that leaves the placed operands as they were. Where one moved, the others stay ready, and
/// only its own crossings are looked for.
/// Not thread-safe; one evaluation at a time.
class Evaluator {
  public:
    /// `stop_after`: how many steps are taken, from the top. `settle`: by default in double precision and as the
    /// job's settings say.
    /// Parts are taken as their mendings leave them. What cannot be done is left out, with an error in its row: the
    /// body goes on as it was before. Fails: out_of_memory, cancelled, out_of_range where the result cannot be settled.
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
    /// A mesh made ready, or why it cannot be an operand.
    struct Ready {
        PlacedMesh from;
        std::shared_ptr<const Operand> operand;
        std::optional<Error> error;
    };
    /// Makes ready what is not yet. Fails: out_of_memory, cancelled.
    Result<void> make_ready(std::span<const PlacedMesh> wanted, Progress& progress);
    const Ready& ready(const PlacedMesh& mesh) const { return *std::ranges::find(ready_, mesh, &Ready::from); }
    /// Of the base and of the steps that count.
    struct Wanted {
        std::vector<PlacedMesh> meshes;
        std::vector<std::size_t> steps;  ///< per mesh; 0 for the base, which is the first
    };
    static Wanted wanted_operands(const Job& job, std::span<const StepOutcome> rows);
    bool leave_out_broken(const Job& job, const Wanted& wanted, Evaluation& out) const;
    Result<void> arrange_wanted(std::span<const PlacedMesh> wanted, Progress& progress);
    PartMender mender_;
    std::vector<Ready> ready_;          // what was wanted last, or is in the arrangement
    std::vector<PlacedMesh> operands_;  // of the arrangement
    ContactCache contacts_;
    std::unique_ptr<Arrangement> prepared_;
};

}  // namespace anvil
