#pragma once

#include "core/arrange/crossings.h"

namespace anvil {

/// A part of a gathered face (or of several coplanar ones) that nothing crosses any more.
struct SubFaces {
    std::vector<Triangle> corners;      ///< in the point table's numbers
    std::vector<FaceId> plane;          ///< per sub-face: a gathered face that lies in its plane and is wound alike
    std::vector<std::uint32_t> source;  ///< per sub-face: number of its list in `sources`
    SourceLists sources;
};

/// Step 4: splits every touched face along its crossings, coplanar faces together, so that any two sub-faces meet in
/// common corners and edges only. Adds the points in which crossings cross to the table. Untouched faces pass as they
/// are. Fails only where it was stopped.
Result<SubFaces> subdivide(const Soup& soup, const Crossings& crossings, PointTable& points, Progress& progress);

}  // namespace anvil
