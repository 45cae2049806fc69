#include "core/combine/near_points.h"

#include <tbb/parallel_for.h>

#include <algorithm>
#include <limits>

namespace anvil {

std::optional<VertexId> nearest_point(const Operand& operand, const Vec3& p, double& distance) {
    std::optional<VertexId> found;
    const Vec3 around = Vec3{1, 1, 1} * distance;
    operand.tree.overlapping(Box{p - around, p + around}, [&](std::uint32_t f) {
        for (const VertexId v : operand.mesh.faces[FaceId(f)]) {
            const double d = norm(operand.mesh.points[v] - p);
            if (d > distance || (d == distance && found && *found <= v)) continue;
            distance = d;
            found = v;
        }
    });
    return found;
}

NearPoints::NearPoints(const Soup& soup) : soup_(soup) {
    for (const auto& operand : soup.operands()) {
        const Mesh& mesh = operand->mesh;
        std::vector<double>& room = room_.emplace_back(mesh.points.size(), std::numeric_limits<double>::infinity());
        for (const Triangle& t : mesh.faces)
            for (std::size_t k = 0; k < 3; ++k) {
                const VertexId a = t[k], b = t[(k + 1) % 3];
                const double eighth = norm(mesh.points[b] - mesh.points[a]) / 8;
                for (const VertexId v : {a, b}) room[v.value()] = std::min(room[v.value()], eighth);
            }
    }
}

double NearPoints::distance_at(std::span<const std::vector<FaceId>> faces, double most) const {
    double out = 0;
    for (std::uint32_t o = 0; o < soup_.size(); ++o)
        for (const FaceId f : faces[o])
            for (const VertexId v : soup_.operand(o).mesh.faces[f])
                for (std::uint32_t other = 0; other < soup_.size(); ++other) {
                    double d = std::min(most, room_[o][v.value()]);
                    if (other != o && nearest_point(soup_.operand(other), soup_.operand(o).mesh.points[v], d))
                        out = std::max(out, d);
                }
    return out;
}

std::vector<std::vector<Vec3>> NearPoints::merged(double distance, Precision precision,
                                                  const Progress& progress) const {
    std::vector<std::vector<Vec3>> out;
    for (std::uint32_t o = 0; o < soup_.size(); ++o) {
        std::vector<Vec3> points = soup_.operand(o).mesh.points.raw();
        tbb::parallel_for(std::size_t{0}, points.size(), [&](std::size_t v) {
            if (progress.cancelled()) return;
            const Vec3 given = points[v];
            if (precision == Precision::single_precision) points[v] = in_single_precision(given);
            double d = std::min(distance, room_[o][v]);
            for (std::uint32_t other = 0; other < o; ++other)
                if (const auto found = nearest_point(soup_.operand(other), given, d))
                    points[v] = out[other][found->value()];
        });
        out.push_back(std::move(points));
    }
    return out;
}

}  // namespace anvil
