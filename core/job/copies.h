#pragma once

#include <span>

#include "core/base/progress.h"
#include "core/job/segment.h"

namespace anvil {

/// A mesh many times, one behind the other. Fails: out_of_range, where that would be more than 20 million faces.
Result<Mesh> copied(const Mesh& one, std::span<const Transform> places);

/// Elements of a body, by the field that holds on to them, and the key of all of them.
struct Held {
    std::map<std::string, Selection, std::less<>> elements{};
    ContentKey key{};
};

/// All copies of a body as one mesh, made once for what they are made of; of a kind that the program knows. `foot`:
/// where the body's own origin lies. `on`: what is acted on, where the kind goes by that; else null; `held`: what of
/// it. Fails: out_of_range, out_of_memory, cancelled; lost.
Result<std::shared_ptr<const Mesh>> all_copies(const Copies& copies, const Body& body, const Vec3& foot, const Body* on,
                                               const Held& held, KeptResults& kept, Progress& progress);

}  // namespace anvil
