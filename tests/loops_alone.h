#pragma once

// For the thread sanitizer: parallel loops with one thread each.
#ifdef ANVIL_LOOPS_ALONE
#include <tbb/global_control.h>
static const tbb::global_control loops_alone(tbb::global_control::max_allowed_parallelism, 1);
#endif
