#pragma once

#include "core/shape/shapes.h"

namespace anvil {

/// The outlines of text in a plane, as it is read: shaped by HarfBuzz, put in order by the Unicode bidirectional
/// algorithm (UAX 9, by FriBidi), each letter filled by itself. Fails: out_of_range, see text_shape.
Result<Drawing> lettering(const TextMeasures& measures);

}  // namespace anvil
