#pragma once

#include <list>
#include <memory>

#include "core/job/job.h"
#include "core/mend/hand_tools.h"

namespace anvil {

/// A part after its mendings.
struct MendedPart {
    std::shared_ptr<const Mesh> mesh;                 ///< what the steps see
    std::vector<std::shared_ptr<const Mended>> done;  ///< per mending; null for those that are off
};

/// Runs the mendings of parts, keeping what it worked out last: the same mesh and the same repairs give the same mesh,
/// at the same address.
/// Not thread-safe.
class PartMender {
  public:
    /// Each mending that is on, on what the one before left. `settle`: what points are rounded to, and the contact
    /// rule. Fails: where mending does, with the part's name as the place.
    Result<MendedPart> mended(const Part& part, const SettleOptions& settle, Progress& progress);
    void forget() { kept_.clear(); }

  private:
    struct Kept {
        std::shared_ptr<const Mesh> from;
        std::vector<Repair> repairs;
        std::vector<HandEdit> edits;
        MendOptions options;
        std::shared_ptr<const Mended> done;
    };
    std::list<Kept> kept_;  // what was used last comes first
};

}  // namespace anvil
