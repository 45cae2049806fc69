#pragma once

#include <QString>

#include "core/inspect/inspect.h"

namespace anvil::app {

/// "1.23 mm²", in cm² where it is large.
QString area_text(double mm2);

/// "1.23 mm³", in cm³ where it is large.
QString volume_text(double mm3);

/// Size, volume, area and counts as rows of name and value; as before -> now where that differs. `before` may be null.
QString measures_table(const Inspection& inspection, const Measures* before);

}  // namespace anvil::app
