#include "core/job/copies.h"

#include "core/base/memory.h"
#include "core/base/number_text.h"
#include "core/job/kept_bytes.h"
#include "core/job/value_key.h"
#include "core/mesh/weld.h"

namespace anvil {

Result<Mesh> copied(const Mesh& one, std::span<const Transform> places) {
    constexpr double most = 20e6;
    if (const double faces = static_cast<double>(one.faces.size()) * static_cast<double>(places.size()); faces > most)
        return Error{ErrorCode::out_of_range,
                     "all copies together would have " + short_text(faces / 1e6) +
                         " million faces; at most 20 million are made: make fewer, or the operand simpler",
                     ""};
    Mesh out;
    out.points.reserve(one.points.size() * places.size());
    out.faces.reserve(one.faces.size() * places.size());
    for (const Transform& place : places) append(out, transformed(one, place));
    return out;
}

Result<std::shared_ptr<const Mesh>> all_copies(const Copies& copies, const Body& body, const Vec3& foot, const Body* on,
                                               const Held& held, KeptResults& kept, Progress& progress) {
    const Kind& kind = *find_copies(copies.kind);
    const bool framed = !on && !copies.frame.is_identity();
    const Transform frame = framed ? copies.frame.transform() : Transform::Identity();
    const Transform back(frame.inverse());
    KeyMaker key("copies 3");
    key.add(kind.word).add(kind.revision).add(body.key);
    add_transform(key, body.stands);
    if (on) key.add(on->key).add(held.key);
    if (framed) add_transform(key, frame);
    add_values(key, copies.values);
    if (auto known = kept.find<Mesh>(key.key())) return known;
    auto made = with_memory_checked([&]() -> Result<Mesh> {
        std::optional<Mesh> one;  // whose points the held elements are of
        if (on && kind.held_field()) one = welded(*on->mesh);
        const Mesh* acted_on = one ? &*one : on ? on->mesh.get() : nullptr;
        auto places =
            kind.places(copies.values, {acted_on, framed ? apply(back, foot) : foot, held.elements}, progress);
        if (!places) return places.error();
        if (framed)
            for (Transform& place : *places) place = frame * place * back;
        return copied(body.placed(), *places);
    });
    if (!made) return made.error();
    const std::size_t bytes = bytes_of(*made);
    return kept.keep(key.key(), std::make_shared<const Mesh>(std::move(*made)), bytes);
}

}  // namespace anvil
