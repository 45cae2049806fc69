#pragma once

#include <string>

#include "core/inspect/accepted.h"
#include "core/mend/mend.h"
#include "core/mesh/transform.h"

namespace anvil {

/// What a page tells of one mesh.
struct PageSubject {
    std::string name;
    const Inspection& now;
    const Inspection* before = nullptr;  ///< of the mesh as it came, where it was mended
    std::span<const Repaired> repairs{};
    std::string remains{};                     ///< what mending left, in a sentence
    std::string picture{};                     ///< PNG bytes, shown at the top; or empty
    Acceptance acceptance{};                   ///< of findings of `now`
    Transform stands = Transform::Identity();  ///< of the mesh, without scale: places are told there
};

/// A page in HTML that needs no other file: the verdict, the measures as before and now, every kind of finding with its
/// count and first places, and each repair with what it did.
std::string report_page(const PageSubject& subject);

}  // namespace anvil
