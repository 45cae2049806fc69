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
    std::string note;            ///< what is remarkable: "It removes nothing: it is 0.4 mm away from the body."
    std::optional<Error> error;  ///< why it was left out, where its operand cannot be taken
};

/// What was assumed or found out.
struct Remark {
    std::string part, step;  ///< the row that it is about, by its ids; both empty: the result
    std::string text;        ///< with the row's name
};

struct Evaluation {
    std::shared_ptr<const Combined> combined;  ///< never null
    std::vector<StepOutcome> steps;
    std::vector<std::string> operand_parts;  ///< per operand number in combined->source: the part's id
    std::set<std::string> sheets;            ///< parts that were taken as sheets and could be closed
    std::vector<Remark> remarks;             ///< what was assumed or found out, of rows and then of the result
    double seconds = 0;                      ///< of combining
    bool reused_arrangement = false;         ///< only cells were chosen, or not even that
    bool has_base = false;
    std::string base_note;                     ///< what is remarkable about the base
    std::optional<Error> base_error;           ///< why no step could act on it
    std::map<std::string, MendedPart> mended;  ///< by id: the parts that have mendings

    /// Of what was left out since it could not be done, the first; null where all was done.
    const Error* first_error() const;
};

/// Evaluates jobs. All that it works out is kept by its content, up to a budget of bytes: a changed operation, order or
/// switch chooses cells anew, a part that moved finds its own crossings only, and what was there before is at hand. The
/// operands of all steps are arranged, those that are off, too, in the order of the steps' ids, so that the result
/// depends on nothing but the job.
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
    KeptResults& kept() { return kept_; }

  private:
    /// A part as an operand.
    struct Wanted {
        std::shared_ptr<const Mesh> mesh;
        Placement placement;
        Taken taken = Taken::repaired;
        std::string part;
        ContentKey key{};
    };
    /// A mesh made ready, or why it cannot be an operand.
    struct Ready {
        std::shared_ptr<const Operand> operand;
        std::optional<Error> error;
    };
    /// The operands of the steps: the base first, then the others in the order of their steps' ids.
    struct Operands {
        std::vector<Wanted> list;
        std::vector<std::shared_ptr<const Ready>> ready;  ///< side by side with `list`
        std::vector<std::uint32_t> of_row;                ///< per row: its number in `list`
    };
    struct Extracted;

    Result<Evaluation> evaluate_mended(const Job& job, Progress& progress, std::size_t stop_after,
                                       const SettleOptions& settle);
    Result<Evaluation> evaluate_steps(const Job& job, Progress& progress, std::size_t stop_after,
                                      const SettleOptions& settle);
    Wanted wanted(const Part& part, std::optional<Taken> taken = std::nullopt);
    Operands operands_of(const Job& job, std::span<const StepOutcome> rows);
    Result<void> make_ready(Operands& operands, Progress& progress);
    static bool leave_out_broken(const Job& job, const Operands& operands, Evaluation& out);
    static void drop_broken(Operands& operands);
    Result<std::shared_ptr<const Arrangement>> arranged(const Operands& operands, bool& reused, Progress& progress);
    Result<std::shared_ptr<const Extracted>> extracted(const Job& job, const Operands& operands,
                                                       std::span<const StepOutcome> rows, const SettleOptions& settle,
                                                       bool& reused, Progress& progress);

    KeptResults kept_;
    MeshKeys keys_;
    PartMender mender_{kept_, keys_};
    ContactCache contacts_;
};

}  // namespace anvil
