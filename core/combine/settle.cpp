#include "core/combine/settle.h"

#include "core/combine/contacts.h"
#include "core/combine/prove.h"

namespace anvil {

Result<Settled> settle(const Arrangement& arrangement, const Extraction& extraction, const SettleOptions& options,
                       Effort effort, Progress& progress) {
    auto proven = round_and_prove(arrangement, extraction, options.precision, effort, progress);
    if (!proven) return proven.error();
    Settled& settled = proven->settled;
    const Pinches& pinches = proven->pinches;
    if (pinches.empty()) return std::move(settled);
    settled.pinched_edges = pinches.edges.size();
    settled.pinched_points = pinches.points;
    const auto resolve = options.contact == ContactRule::separate ? separate_contacts : join_contacts;
    const auto done = resolve(settled, pinches, options.precision, progress);
    if (!done) return done.error();
    settled.touching = !*done;
    if (settled.touching)
        for (const Pinches::Corner& c : find_pinches(settled.mesh, PinchCandidates::all(settled.mesh)).corners)
            settled.faulty.push_back(settled.source[c.face.value()]);
    return std::move(settled);
}

}  // namespace anvil
