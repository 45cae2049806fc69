#include "core/inspect/deviation.h"

#include <tbb/parallel_for.h>

#include <algorithm>

#include "core/mesh/measures.h"
#include "core/mesh/refine.h"
#include "core/spatial/nearest.h"

namespace anvil {

Result<DeviationMap> map_deviation(const Mesh& mesh, const Mesh& other, Progress& progress) {
    constexpr std::size_t enough_faces = 300'000;
    DeviationMap out;
    const Mesh whole = welded(mesh);
    out.mesh = refined(whole, bounds(whole).diagonal() / 150, std::max(enough_faces, whole.faces.size()));
    out.distance.raw().assign(out.mesh.points.size(), 0);
    const NearestFace nearest(other);
    tbb::parallel_for(tbb::blocked_range<std::size_t>(0, out.mesh.points.size(), 256), [&](const auto& range) {
        if (progress.cancelled()) return;
        for (std::size_t v = range.begin(); v != range.end(); ++v)
            out.distance[VertexId(v)] = nearest.distance(out.mesh.points[VertexId(v)]);
    });
    if (progress.cancelled()) return cancelled_error();
    for (const double d : out.distance) out.largest = std::max(out.largest, d);
    return out;
}

}  // namespace anvil
