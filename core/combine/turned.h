#pragma once

#include "core/combine/extract.h"
#include "core/combine/pinches.h"

namespace anvil {

/// Sub-faces that rounding their corners turns over, the first so many of them at most: where there is one, there are
/// faults, as good as surely.
std::vector<FaceSource> turned_over(const Arrangement& arrangement, const Extraction& extraction, Precision precision,
                                    std::size_t most);

/// Whether rounding turns over no sub-face of the arrangement, whichever piece it is in.
bool none_turned_over(const Arrangement& arrangement, Precision precision);

/// So many of them are looked for: with more, there are many faults in any case (see SnappedSettler).
inline constexpr std::size_t most_turned = 300;

/// How many sub-faces are faulty, at least, where so many are turned over. Each lies on others: there were 1.5 to 2
/// faulty ones for each where thousands of faces slid along each other, and 3 to 30 in a skin between them, whose sides
/// look both ways.
std::size_t faults_at_turned(const Extraction& extraction, std::size_t turned);

}  // namespace anvil
