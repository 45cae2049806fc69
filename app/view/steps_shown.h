#pragma once

#include <cmath>

namespace anvil::app {

/// Hundredths, tenths or whole millimetres, as finely as the screen shows them.
inline double step_shown(double mm_per_pixel) { return mm_per_pixel < 0.05 ? 0.01 : mm_per_pixel < 0.5 ? 0.1 : 1; }
inline double rounded_mm(double mm, double mm_per_pixel) {
    // Multiplied by what is whole, so that 0.3 is not 0.30000000000000004.
    const double steps = std::round(1 / step_shown(mm_per_pixel));
    return std::round(mm * steps) / steps;
}

}  // namespace anvil::app
