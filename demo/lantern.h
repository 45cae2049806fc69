#pragma once

#include "core/job/edits.h"

namespace anvil::demo {

/// The demonstration: a signal lantern's housing for a harbour buoy, printed in PETG, made of shapes with copies, a link,
/// a bundle and a group. Everything is invented and generated here.
Job signal_lantern();

/// The same lantern as it was demonstrated first, of meshes. Steps: the flush mounting ears, the inside, the lens seat, the cable-gland bores, the vent slots.
Job lantern_job();

/// A chipped old bracket as a bad scan gives it: holes, doubled faces, a stray fin, crossing faces, a needle-thin
/// degenerate face. For inspection.
Mesh scanned_bracket();

/// The lantern's dome as a scan from outside gives it: sound, and open all round its foot.
Mesh scanned_dome();

}  // namespace anvil::demo
