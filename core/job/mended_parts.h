#pragma once

#include <memory>

#include "core/job/job.h"
#include "core/job/kept_results.h"
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

/// Runs the mendings of parts; what each gives is kept by its content. A whole plan that needs a decision stops before
/// it. Not thread-safe.
class PartMender {
  public:
    PartMender(KeptResults& kept, MeshKeys& keys) : kept_(kept), keys_(keys) {}
    /// Each mending that is on, on what the one before left. `settle`: what points are rounded to, and the contact
    /// rule. One that cannot be done is left out, with an error. Fails: out_of_memory, cancelled.
    Result<MendedPart> mended(const Part& part, const SettleOptions& settle, Progress& progress);

  private:
    Result<std::shared_ptr<const Mended>> mend_once(const Part& part, const Mending& mending,
                                                    const SettleOptions& settle, MendedPart& so_far,
                                                    Progress& progress);
    /// Runs repairs or edits, or takes what is kept of them.
    Result<std::shared_ptr<const Mended>> run(const std::shared_ptr<const Mesh>& from,
                                              const std::vector<Repair>& repairs, const std::vector<HandEdit>& edits,
                                              const MendOptions& options, Progress& progress);
    KeptResults& kept_;
    MeshKeys& keys_;
};

}  // namespace anvil
