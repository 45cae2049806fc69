#pragma once

#include <memory>
#include <set>

#include "core/combine/combine.h"
#include "core/job/job.h"
#include "core/job/list_evaluator.h"

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

/// A decision that a mending of a part waits for: what comes before `first_waiting` in its plan is done, the rest is
/// not.
struct OpenQuestion {
    std::string part, mending;
    std::shared_ptr<const Mesh> from;  ///< what is mended
    Question question;
};

/// A part after its mendings.
struct MendedPart {
    std::shared_ptr<const Mesh> mesh;                 ///< what the steps see
    std::vector<std::shared_ptr<const Mended>> done;  ///< per mending; null for those that are off or cannot be done
    std::vector<std::optional<Error>> errors;         ///< per mending: why it was left out
    std::optional<OpenQuestion> question;             ///< the first one
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

/// Evaluates jobs: each is translated to parts that own lists (translate.h), and what comes of those is told by the
/// job's own rows. All that is worked out is kept by its content, up to a budget of bytes.
/// Not thread-safe; one evaluation at a time.
class Evaluator {
  public:
    /// `stop_after`: how many steps are taken, from the top. `settle`: by default in double precision and as the
    /// job's settings say.
    /// Parts are taken as their mendings leave them. What cannot be done is left out, with an error in its row: the
    /// body goes on as it was before. Fails: out_of_memory, cancelled, out_of_range where the result cannot be settled.
    Result<Evaluation> evaluate(const Job& job, Progress& progress, std::size_t stop_after = ~std::size_t{0},
                                std::optional<SettleOptions> settle = std::nullopt);

    KeptResults& kept() { return kept_; }

  private:
    KeptResults kept_;
    sheet::ListEvaluator lists_{kept_};
};

}  // namespace anvil
