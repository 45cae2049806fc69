#pragma once

#include <list>
#include <memory>

#include "core/job/job.h"
#include "core/mend/hand_tools.h"
#include "core/mend/questions.h"

namespace anvil {

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

/// Runs the mendings of parts, keeping what it worked out last: the same mesh and the same repairs give the same mesh,
/// at the same address. A whole plan that needs a decision stops before it.
/// Not thread-safe.
class PartMender {
  public:
    /// Each mending that is on, on what the one before left. `settle`: what points are rounded to, and the contact
    /// rule. One that cannot be done is left out, with an error. Fails: out_of_memory, cancelled.
    Result<MendedPart> mended(const Part& part, const SettleOptions& settle, Progress& progress);
    void forget() { kept_.clear(), bytes_ = 0; }
    /// What is used from here on is kept whatever it takes; of what was used before, the latest up to a budget.
    void begin_round() { ++round_; }
    /// Bytes, about, of what is kept.
    std::size_t kept_bytes() const { return bytes_; }
    void set_budget(std::size_t bytes) { budget_ = bytes; }

  private:
    Result<std::shared_ptr<const Mended>> mend_once(const Part& part, const Mending& mending,
                                                    const SettleOptions& settle, MendedPart& so_far,
                                                    Progress& progress);
    /// Runs repairs or edits, or takes what is kept of them.
    Result<std::shared_ptr<const Mended>> run(const std::shared_ptr<const Mesh>& from,
                                              const std::vector<Repair>& repairs, const std::vector<HandEdit>& edits,
                                              const MendOptions& options, Progress& progress);
    struct Kept {
        std::shared_ptr<const Mesh> from;
        std::vector<Repair> repairs;
        std::vector<HandEdit> edits;
        MendOptions options;
        std::shared_ptr<const Mended> done;
        std::size_t bytes = 0;
        std::uint64_t round = 0;  // in which it was used last
    };
    void drop_over_budget();
    std::list<Kept> kept_;  // what was used last comes first
    std::size_t bytes_ = 0, budget_ = std::size_t{512} << 20;
    std::uint64_t round_ = 0;
};

}  // namespace anvil
