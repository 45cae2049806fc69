#include "core/job/mended_parts.h"

#include <algorithm>

namespace anvil {

// Enough to switch mendings of some parts off and on again without waiting.
static constexpr std::size_t most_kept = 12;

Result<MendedPart> PartMender::mended(const Part& part, const SettleOptions& settle, Progress& progress) {
    MendedPart out{part.mesh, {}};
    for (const Mending& mending : part.mendings) {
        if (!mending.on) {
            out.done.push_back(nullptr);
            continue;
        }
        MendOptions options = mending.options;
        options.precision = settle.precision;
        options.contact = settle.contact;
        const auto known = std::ranges::find_if(kept_, [&](const Kept& k) {
            return k.from == out.mesh && k.repairs == mending.repairs && k.edits == mending.edits &&
                   k.options == options;
        });
        if (known != kept_.end()) {
            kept_.splice(kept_.begin(), kept_, known);
        } else {
            auto done = mending.edits.empty() ? mend(*out.mesh, mending.repairs, options, progress)
                                              : mend_by_hand(*out.mesh, mending.edits, options, progress);
            if (!done) {
                Error error = done.error();
                error.place = part.name + (error.place.empty() ? "" : " (" + error.place + ")");
                error.operand = -1;
                return error;
            }
            kept_.push_front(
                {out.mesh, mending.repairs, mending.edits, options, std::make_shared<const Mended>(std::move(*done))});
            if (kept_.size() > most_kept) kept_.pop_back();
        }
        out.done.push_back(kept_.front().done);
        out.mesh = {kept_.front().done, &kept_.front().done->mesh};
    }
    return out;
}

}  // namespace anvil
