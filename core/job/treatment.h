#pragma once

#include "core/job/copies.h"

namespace anvil {

/// What values hold on to, as it is in the body now. Fails: lost.
Result<Held> held_of(const Values& values, const Body& body);

/// What a step makes of a body, worked out anew, with its time. Fails as the kind does, or where its values do not go
/// together.
Result<Treated> treated_anew(const Step& step, const Kind& kind, const std::shared_ptr<const Mesh>& mesh,
                             const TreatSettings& settings, Progress& progress);

/// Looks at a treated body where the one before was sound, and notes that it stayed so. `key`: of the treated mesh.
/// Fails: would_break, with what would be wrong with it.
Result<void> check_stays_sound(const Body& before, Treated& done, const ContentKey& key, KeptResults& kept,
                               Progress& progress);

}  // namespace anvil
