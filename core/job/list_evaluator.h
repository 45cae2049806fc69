#pragma once

#include <set>

#include "core/job/segment.h"

namespace anvil {

/// What became of a row.
struct RowOutcome {
    bool counted = false;        ///< it is on, above the stop line, so is what it lies in
    std::optional<Error> error;  ///< why it was left out
    std::string note;            ///< what is remarkable
    double seconds = 0;          ///< that it took when it was worked out; of combining steps, with those side by side
    // Of a combining step:
    double volume_before = 0, volume_after = 0;  ///< mm3, of the body that it acts on: in a bundle, of the operand
    std::size_t pieces_before = 1, pieces_after = 1;
    // Of a treatment that was done, or a group of them; of a combining step whose copies go by the body:
    std::shared_ptr<const Mesh> from;        ///< the body before it; null where that was too large to be kept
    std::shared_ptr<Lineage> lineage{};      ///< how that came about; of such copies and what holds on to elements
    std::shared_ptr<const Treated> treated;  ///< without a mesh where that was too large to be kept
};

struct ListOutcome {
    SegmentResult result;                                 ///< of the part in work, in its list
    std::shared_ptr<const Combined> placed;               ///< the same where it was asked for
    std::map<std::string, RowOutcome, std::less<>> rows;  ///< by step id
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
