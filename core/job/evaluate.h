#pragma once

#include "core/combine/combine.h"
#include "core/io/mesh_file.h"
#include "core/job/list_evaluator.h"
#include "core/job/rows.h"

namespace anvil {

/// What was assumed or found out.
struct Remark {
    RowId row;         ///< that it is about; empty: the result
    std::string text;  ///< with the row's name
};

struct Evaluation {
    std::shared_ptr<const Combined> combined;             ///< where it was asked for; never null
    std::map<std::string, RowOutcome, std::less<>> rows;  ///< by step id
    std::map<std::string, std::shared_ptr<const Mesh>>
        given;  ///< by id: of a part with a body of its own, before its steps
    std::map<std::string, std::shared_ptr<const Mesh>> copies;  ///< by step id: all copies of its operand, in its list
    std::map<std::string, std::shared_ptr<const Mesh>> parts;   ///< by id: after all but their last combining steps
    std::map<std::string, std::shared_ptr<Lineage>> lineages;   ///< of those, how they came about; of the part in work
                                                                ///< its result. Not thread-safe
    std::map<std::string, Error> broken;                        ///< parts that have no body, and why
    std::map<std::string, std::shared_ptr<const Combined>> also;  ///< by id: the other parts to deliver
    std::vector<std::string> operand_parts;  ///< per operand number in combined->source: the part's id
    std::set<std::string> sheets;            ///< parts that were taken as sheets and could be closed
    std::vector<Remark> remarks;             ///< what was assumed or found out, of rows and then of the result
    double seconds = 0;
    bool reused_arrangement = false;  ///< of the last segment: only cells were chosen, or not even that
    bool has_base = false;
    std::string base_note;            ///< what is remarkable about the base
    std::optional<Error> base_error;  ///< why no step could act on it
    std::optional<Error>
        first_error;  ///< of what was left out since it could not be done, the first, with its row's name

    /// Null where it was not reached.
    const RowOutcome* row(std::string_view step) const {
        const auto at = rows.find(step);
        return at == rows.end() ? nullptr : &at->second;
    }
};

/// Evaluates jobs. All that is worked out is kept by its content, up to a budget of bytes.
/// Not thread-safe; one evaluation at a time.
class Evaluator {
  public:
    /// `stop_after`: how many rows of steps count, from the top. `settle`: by default in double precision and as the
    /// job's settings say.
    /// What cannot be done is left out, with an error in its row: the body goes on as it was before. Fails:
    /// out_of_memory, cancelled, out_of_range where the result cannot be settled.
    Result<Evaluation> evaluate(const Job& job, Progress& progress, std::size_t stop_after = ~std::size_t{0},
                                std::optional<SettleOptions> settle = std::nullopt, ResultAt at = ResultAt::its_place);

    KeptResults& kept() { return kept_; }

  private:
    KeptResults kept_;
    ListEvaluator lists_{kept_};
};

/// What is delivered: the pieces of the result, called by the base, and then of the other parts to deliver.
std::vector<NamedMesh> results_by_name(const Job& job, const Evaluation& evaluation);

/// What a treatment did, a sentence each.
std::vector<std::string> said_by(const Treated& treated);
/// What repairs and treatments did, a sentence each, in the order of the rows; with questions that are open.
std::vector<std::string> told_of_treatments(const Job& job, const Evaluation& evaluation);

}  // namespace anvil
