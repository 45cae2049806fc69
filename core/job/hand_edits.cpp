#include "core/job/hand_edits.h"

#include <algorithm>
#include <utility>

#include "core/job/kept_bytes.h"
#include "core/job/treatment.h"
#include "core/job/value_key.h"
#include "core/mend/hand_tools.h"

namespace anvil {
namespace {

using Told = Result<std::shared_ptr<const Treated>>;  // without its mesh

/// What is known of the edits, per edit.
struct Edited {
    std::vector<ContentKey> keys;  ///< of the body after it
    std::vector<std::shared_ptr<const Told>> told;
    std::vector<std::shared_ptr<const Mesh>> bodies;  ///< after it; null where it is not kept
    ContentKey told_key(std::size_t k) const { return KeyMaker("told of an edit 1").add(keys[k]).key(); }
};

Edited keyed(std::span<const Step* const> edits, const Body& body, const SettleOptions& settle) {
    KeyMaker content("edited by hand 2");
    content.add(body.key).add(settle.precision).add(settle.contact);
    Edited out;
    for (const Step* edit : edits) {
        content.add(edit->kind).add(find_kind(edit->kind)->revision);
        out.keys.push_back(add_values(content, edit->values).key());
    }
    out.told.resize(edits.size());
    out.bodies.resize(edits.size());
    return out;
}

/// How many of the first edits need not be done again: what they did is known, and the body after the last of them.
std::size_t find_known(Edited& edited, KeptResults& kept) {
    std::size_t known = 0;
    while (known < edited.keys.size() && (edited.told[known] = kept.find<Told>(edited.told_key(known)))) ++known;
    while (known > 0 && !(edited.bodies[known - 1] = kept.find<Mesh>(edited.keys[known - 1]))) --known;
    return known;
}

/// The bodies after the last edits, as many as there is room for in `bytes`.
void find_last_bodies(Edited& edited, std::size_t bytes, KeptResults& kept) {
    const std::size_t count = edited.keys.size();
    for (std::size_t k = count; k-- > 0;) {
        auto& body = edited.bodies[k];
        if (!body) body = kept.find<Mesh>(edited.keys[k]);
        if (!body) break;
        if (bytes_of(*body) > bytes && k + 1 < count) body = nullptr;
        if (!body) break;
        bytes -= std::min(bytes, bytes_of(*body));
    }
}

void tell(const Edited& edited, std::span<const Step* const> edits, const Body& body, RowOutcomes& rows) {
    for (std::size_t k = 0; k < edits.size(); ++k) {
        RowOutcome& row = rows[edits[k]->id];
        if (edited.bodies[k]) row.from = k == 0 ? body.mesh : edited.bodies[k - 1];
        if (!*edited.told[k]) {
            note_error(row, edits[k]->id, edited.told[k]->error());
            continue;
        }
        row.treated = **edited.told[k];
        row.seconds = row.treated->seconds;
        if (!row.from) continue;
        auto shown = std::make_shared<Treated>(*row.treated);
        shown->mesh = edited.bodies[k];
        row.treated = std::move(shown);
    }
}

}  // namespace

Result<std::shared_ptr<const Mesh>> edited_by_hand(std::span<const Step* const> edits, const Body& body,
                                                   const SettleOptions& settle, KeptResults& kept, RowOutcomes& rows,
                                                   Progress& progress) {
    const std::size_t count = edits.size(), room = kept.budget() / 4;
    Edited edited = keyed(edits, body, settle);
    const std::size_t known = find_known(edited, kept);
    std::shared_ptr<const Mesh> mesh = known > 0 ? edited.bodies[known - 1] : body.mesh;
    for (std::size_t k = known; k < count; ++k) {
        auto done =
            treated_anew(*edits[k], *find_kind(edits[k]->kind), mesh, {settle.precision, settle.contact}, progress);
        if (!done && ends_evaluation(done.error())) return done.error();
        if (done) mesh = std::exchange(done->mesh, nullptr);
        edited.told[k] = kept.keep(
            edited.told_key(k),
            std::make_shared<const Told>(done ? Told(std::make_shared<const Treated>(std::move(*done))) : done.error()),
            sizeof(Treated));
        const std::size_t bytes = bytes_of(*mesh);
        if (k + 1 == count || bytes * (count - k) <= room) edited.bodies[k] = kept.keep(edited.keys[k], mesh, bytes);
    }
    find_last_bodies(edited, room, kept);
    tell(edited, edits, body, rows);
    return mesh;
}

Result<std::shared_ptr<const Treated>> told_together(std::vector<HandDone> edits,
                                                     const std::shared_ptr<const Mesh>& from, const ContentKey& before,
                                                     const Body& now, Precision precision, KeptResults& kept,
                                                     Progress& progress) {
    KeyMaker key("edited 1");
    key.add(before).add(now.key).add(precision);
    for (const HandDone& e : edits) key.add(e.said);
    if (auto known = kept.find<Treated>(key.key())) return known;
    MendOptions options;
    options.precision = precision;
    auto told = told_of_edits(*from, *now.mesh, std::move(edits), options, progress);
    if (!told) return told.error();
    Treated done{.mesh = now.mesh, .largest_move = told->largest_move};
    done.mended = std::make_shared<const Mended>(std::move(*told));
    const std::size_t bytes = bytes_of(*done.mended);
    return kept.keep(key.key(), std::make_shared<const Treated>(std::move(done)), bytes);
}

}  // namespace anvil
