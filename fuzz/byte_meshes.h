#pragma once

#include <array>
#include <cstdint>
#include <span>

#include "core/mesh/mesh.h"
#include "core/mesh/primitives.h"

namespace anvil::fuzz {

/// Reads numbers off the front; zeros behind the end.
class Bytes {
  public:
    explicit Bytes(std::span<const std::uint8_t> data) : data_(data) {}
    int below(int n) {
        if (data_.empty()) return 0;
        const int value = data_.front() % n;
        data_ = data_.subspan(1);
        return value;
    }
    bool empty() const { return data_.empty(); }

  private:
    std::span<const std::uint8_t> data_;
};

inline Vec3 grid_point(Bytes& bytes) {
    const double x = bytes.below(8), y = bytes.below(8), z = bytes.below(8);
    return {x, y, z};
}

/// Boxes, tetrahedra and loose triangles, at most a few, on a grid of 8 points a side.
inline Mesh mesh_from(Bytes& bytes) {
    Mesh mesh;
    for (int n = 1 + bytes.below(3); n > 0; --n) {
        const int kind = bytes.below(4);
        if (kind == 0) {
            const Vec3 low = grid_point(bytes);
            const double x = 1 + bytes.below(4), y = 1 + bytes.below(4), z = 1 + bytes.below(4);
            append(mesh, make_box(low, low + Vec3{x, y, z}));
        } else if (kind == 1) {
            Mesh part;
            for (int k = 0; k < 4; ++k) part.points.push_back(grid_point(bytes));
            for (const auto& [a, b, c] : {std::array{0, 1, 2}, {0, 3, 1}, {1, 3, 2}, {0, 2, 3}})
                part.faces.push_back({VertexId(a), VertexId(b), VertexId(c)});
            append(mesh, part);
        } else {  // loose faces on a few points, closed or not
            Mesh part;
            for (int k = 0; k < 6; ++k) part.points.push_back(grid_point(bytes));
            for (int f = 1 + bytes.below(8); f > 0; --f) {
                const int a = bytes.below(6), b = bytes.below(6), c = bytes.below(6);
                part.faces.push_back({VertexId(a), VertexId(b), VertexId(c)});
            }
            append(mesh, part);
        }
    }
    return mesh;
}

}  // namespace anvil::fuzz
