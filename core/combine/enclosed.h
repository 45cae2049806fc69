#pragma once

#include <optional>

#include "core/combine/rounding.h"

namespace anvil {

/// The boundary of what closed faces are wound around more than 0 times. Nothing where they do not close. Sources are
/// those of the faces. Preconditions: they are proven to cross nowhere; before points were moved, by up to
/// `largest_move`, they were the boundary of a solid. Fails only where it was stopped.
Result<std::optional<RoundedFaces>> enclosed_by(const RoundedFaces& faces, Precision precision, Progress& progress);

}  // namespace anvil
