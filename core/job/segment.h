#pragma once

#include "core/arrange/contact_cache.h"
#include "core/combine/combine.h"
#include "core/job/kept_results.h"
#include "core/job/model.h"
#include "core/job/tags.h"

namespace anvil {

struct Arrangement;
struct Operand;

/// Whether an error ends the whole evaluation, and does not only leave a row out: stopped, or out of memory.
inline bool ends_evaluation(const Error& error) { return error.is_cancel() || error.code == ErrorCode::out_of_memory; }

/// A body between steps: a mesh, and where it stands, which is applied when something needs it there.
struct Body {
    std::shared_ptr<const Mesh> mesh;
    ContentKey key;  ///< of the mesh
    Transform stands = Transform::Identity();
    bool closes_sheets = false;
    std::string part;                    ///< id of the part that it is
    std::shared_ptr<Lineage> lineage{};  ///< how it came about

    Mesh placed() const { return transformed(*mesh, stands); }
};

/// Whether an operation does something in a bundle, which only makes solids.
inline bool counts_in_bundle(Operation op) {
    return !is_trim(op) && op != Operation::scribe && op != Operation::gather;
}

/// A combining step with its operand, and the steps that act on that operand before: its bundle.
struct CombineRow {
    const Step* step = nullptr;
    Operation operation{};
    Body operand;
    std::vector<CombineRow> bundle{};
    bool counted = false;          ///< it is on, above the stop line, and so are the heads of its bundles
    std::optional<Error> error{};  ///< why it was left out
    std::string note{};
    double volume_before = 0, volume_after = 0;  ///< mm3, of the body that it acts on: in a bundle, of the operand
    std::size_t pieces_before = 1, pieces_after = 1;
    bool is_cut = false;       ///< the operand was made by the step: it may not take away all that there is
    bool ends = true;          ///< false: the operand stands for something that has no end
    std::uint32_t number = 0;  ///< of the operand in the arrangement
    double seconds = 0;        ///< that the whole run of steps took when it was worked out
};

/// What a run of combining steps makes of a body.
struct SegmentResult {
    std::shared_ptr<const Combined> combined;  ///< never null
    std::vector<std::string> operand_parts;    ///< per operand number in combined->source: the part's id
    std::vector<Lineage::Operand> operands{};  ///< the same, how they came about
    std::vector<std::string> sheets;           ///< parts that were taken as sheets and could be closed
    std::string note;                          ///< what was assumed about the body
    std::optional<Error> error;                ///< why no step could act on it; it goes on as it was
    bool reused_arrangement = false;           ///< only cells were chosen, or not even that
    ContentKey key{};                          ///< of all that `combined` is made of
    std::size_t settled_pieces = 0;            ///< how many of its pieces, the first ones, are proven; the rest came so
};

/// Runs of combining steps, each one arrangement: of the body and of the operands of all its rows, those that do not
/// count, too, in the order of the steps' ids. All that is worked out is kept by its content.
/// Not thread-safe.
class SegmentEvaluator {
  public:
    SegmentEvaluator(KeptResults& kept, MeshKeys& keys) : kept_(kept), keys_(keys) {}
    /// What cannot be done is left out, with an error in its row. The rows are told what they do. Fails: out_of_memory,
    /// cancelled, out_of_range where the result cannot be settled.
    Result<SegmentResult> run(const Body& body, std::vector<CombineRow>& rows, const SettleOptions& settle,
                              Progress& progress);
    void forget() {
        contacts_ = {};
        recent_.clear();
    }

  private:
    struct Wanted;
    struct Ready;
    struct Operands;
    struct Extracted;

    static bool leave_out_what_takes_all(const Extracted& done, std::vector<CombineRow>& rows);
    Operands operands_of(const Body& body, std::vector<CombineRow>& rows);
    Result<void> make_ready(Operands& operands, Progress& progress);
    Result<std::shared_ptr<const Arrangement>> arranged(const Operands& operands, bool& reused, Progress& progress);
    std::shared_ptr<const Arrangement> most_alike(std::span<const std::shared_ptr<const Operand>> operands) const;
    Result<std::shared_ptr<const Extracted>> extracted(const Operands& operands, std::vector<CombineRow>& rows,
                                                       const SettleOptions& settle, bool& reused, Progress& progress);

    KeptResults& kept_;
    MeshKeys& keys_;
    ContactCache contacts_;
    std::vector<std::weak_ptr<const Arrangement>> recent_;  // the newest last; as long as they are kept
};

}  // namespace anvil
