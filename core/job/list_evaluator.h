#pragma once

#include <set>

#include "core/job/row_outcome.h"
#include "core/job/segment.h"

namespace anvil {

struct ListOutcome {
    SegmentResult result;                    ///< of the part in work, in its list
    std::shared_ptr<const Combined> placed;  ///< the same where it was asked for
    RowOutcomes rows;
    std::map<std::string, std::shared_ptr<const Mesh>>
        given;  ///< by id: of a part with a body of its own, before its steps
    std::map<std::string, std::shared_ptr<const Mesh>> copies;  ///< by step id: all copies of its operand, in its list
    std::map<std::string, std::shared_ptr<const Mesh>> parts;   ///< by id: after all but its last combining steps
    std::map<std::string, std::shared_ptr<Lineage>>
        lineages;                         ///< the same, how they came about; of the part in work the result
    std::map<std::string, Error> broken;  ///< parts that have no body, and why
    /// By id: of the other parts to deliver, as they lie on the bench.
    std::map<std::string, std::shared_ptr<const Combined>> also;
};

/// Where the result of the part in work is wanted: in the coordinates of its list, or where that stands, as it is
/// delivered.
enum class ResultAt { its_list, its_place };

/// Evaluates the lists of all parts. A list is a source, then treatments and segments (runs of combining steps) by
/// turns; the last segment of an operand is taken along as its bundle, which costs no arrangement.
/// Not thread-safe.
class ListEvaluator {
  public:
    explicit ListEvaluator(KeptResults& kept) : kept_(kept), segments_(kept, keys_) {}
    /// `below`: ids of steps below the stop line. What cannot be done is left out, with an error in its row: the body
    /// goes on as it was before. Fails: out_of_memory, cancelled, out_of_range where the result cannot be settled.
    Result<ListOutcome> run(const Job& job, const std::set<std::string>& below, const SettleOptions& settle,
                            ResultAt at, Progress& progress);
    void forget() { segments_.forget(); }

  private:
    class Run;
    KeptResults& kept_;
    MeshKeys keys_;
    SegmentEvaluator segments_;
};

}  // namespace anvil
