// Steps that change a body by themselves: what they hold on to, what they make of it, and whether that is as sound.
#include "core/job/treatment.h"

#include <algorithm>
#include <chrono>

#include "core/base/memory.h"
#include "core/job/anchors.h"
#include "core/job/kept_bytes.h"
#include "core/mesh/weld.h"

namespace anvil {
namespace {

Result<std::shared_ptr<const Inspection>> kept_inspection(const std::shared_ptr<const Mesh>& mesh, const ContentKey& of,
                                                          KeptResults& kept, Progress& progress) {
    const ContentKey key = KeyMaker("inspected 1").add(of).key();
    if (auto known = kept.find<Inspection>(key)) return known;
    auto done = inspect(*mesh, progress, usual_options(*mesh));
    if (!done) return done.error();
    const std::size_t bytes = bytes_of(*done);
    return kept.keep(key, std::make_shared<const Inspection>(std::move(*done)), bytes);
}

}  // namespace

Result<Held> held_of(const Values& values, const Body& body) {
    Held out;
    KeyMaker key("held 1");
    for (const auto& [name, value] : values) {
        const auto* anchors = std::get_if<std::vector<Anchor>>(&value);
        if (!anchors || anchors->empty()) continue;
        auto held = held_by(*anchors, welded(*body.mesh), *tags_of(*body.lineage));
        if (!held) return held.error();
        key.add(name).add(held->kind).add(held->elements.size());
        for (const Element& e : held->elements)
            for (int k = 0; k < points_of(held->kind); ++k) key.add(e[static_cast<std::size_t>(k)].value());
        out.elements.emplace(name, std::move(*held));
    }
    out.key = key.key();
    return out;
}

Result<Treated> treated_anew(const Step& step, const Kind& kind, const std::shared_ptr<const Mesh>& mesh,
                             const TreatSettings& settings, Progress& progress) {
    if (auto checked = check_values(kind, step.values); !checked) return checked.error();
    const auto start = std::chrono::steady_clock::now();
    auto done = with_memory_checked([&] { return kind.treat(mesh, step.values, settings, progress); });
    if (done) done->seconds = std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
    return done;
}

Result<void> check_stays_sound(const Body& body, Treated& done, const ContentKey& key, KeptResults& kept,
                               Progress& progress) {
    const auto before = kept_inspection(body.mesh, body.key, kept, progress);
    if (!before) return before.error();
    if (!(*before)->print_ready) return {};
    const auto after = kept_inspection(done.mesh, key, kept, progress);
    if (!after) return after.error();
    if ((*after)->print_ready) {
        done.stays_sound = true;
        return {};
    }
    std::string faults;
    for (int k = 0; k < finding_kinds; ++k)
        if (const auto found = static_cast<FindingKind>(k); is_fault(found) && (*after)->count(found) > 0) {
            std::string name(word(found));
            std::ranges::replace(name, '_', ' ');
            faults += (faults.empty() ? "" : ", ") + std::to_string((*after)->count(found)) + " " + name;
        }
    return Error{ErrorCode::would_break, "it would leave faults in a body that is sound: " + faults, ""};
}

}  // namespace anvil
