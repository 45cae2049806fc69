#include "core/combine/settle.h"

#include "core/combine/contacts.h"
#include "core/combine/flakes.h"
#include "core/combine/prove.h"

namespace anvil {
namespace {

std::vector<FaceSource> sources_at(const Pinches& pinches, const Settled& settled) {
    std::vector<FaceSource> out;
    for (const Pinches::Corner& c : pinches.corners) out.push_back(settled.source[c.face.value()]);
    return out;
}

/// What hung on by the places that were moved apart alone, and is thinner than rounding can tell.
void drop_flakes_set_free(Settled& settled, Precision precision, const Progress& progress) {
    RoundedFaces faces = unmoved(std::move(settled.mesh), std::move(settled.source));
    drop_flakes(faces, precision, progress);
    settled.largest_move = std::max(settled.largest_move, faces.largest_move);
    settled.thickness = faces.thickness;
    settled.mesh = as_mesh(faces);
    settled.source = std::move(faces.source);
}

}  // namespace

Result<Settled> settle(const Arrangement& arrangement, const Extraction& extraction, const SettleOptions& options,
                       const Attempt& attempt, Progress& progress) {
    auto proven = round_and_prove(arrangement, extraction, options.precision, attempt, progress);
    if (!proven) return proven.error();
    Settled& settled = proven->settled;
    const Pinches& pinches = proven->pinches;
    if (pinches.empty()) return std::move(settled);
    settled.pinched_edges = pinches.edges.size();
    settled.pinched_points = pinches.points;
    settled.faulty = sources_at(pinches, settled);
    settled.touching = true;
    if (attempt.gives_up && attempt.gives_up(settled.faulty, settled.faulty.size())) {
        settled.given_up = true;
        return std::move(settled);
    }
    const auto resolve = options.contact == ContactRule::separate ? separate_contacts : join_contacts;
    const auto done = resolve(settled, pinches, options.precision, attempt, progress);
    if (!done) return done.error();
    settled.touching = !*done;
    settled.faulty.clear();
    if (*done) drop_flakes_set_free(settled, options.precision, progress);
    if (settled.touching) settled.faulty = sources_at(find_pinches(settled.mesh, progress), settled);
    if (progress.cancelled()) return cancelled_error();
    return std::move(settled);
}

}  // namespace anvil
