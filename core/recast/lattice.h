#pragma once

#include <array>

#include "core/base/vec3.h"

namespace anvil {

/// Points in rows, `size` of them along each axis, `cell` mm apart.
///
///     point (i, j, k) = origin + cell * (i, j, k), number i + size[0] * (j + size[1] * k)
///     cell (i, j, k) has the points (i..i+1, j..j+1, k..k+1) as corners; there is one less along each axis
struct Lattice {
    Vec3 origin;
    double cell = 1;
    std::array<int, 3> size{};

    std::size_t count() const {
        return static_cast<std::size_t>(size[0]) * static_cast<std::size_t>(size[1]) *
               static_cast<std::size_t>(size[2]);
    }
    std::size_t number(const std::array<int, 3>& at) const {
        return static_cast<std::size_t>(at[0]) +
               static_cast<std::size_t>(size[0]) *
                   (static_cast<std::size_t>(at[1]) +
                    static_cast<std::size_t>(size[1]) * static_cast<std::size_t>(at[2]));
    }
    std::array<int, 3> at(std::size_t number) const {
        const auto x = static_cast<std::size_t>(size[0]), y = static_cast<std::size_t>(size[1]);
        return {static_cast<int>(number % x), static_cast<int>(number / x % y), static_cast<int>(number / x / y)};
    }
    Vec3 point(const std::array<int, 3>& at) const {
        return origin + Vec3{double(at[0]), double(at[1]), double(at[2])} * cell;
    }
    /// Whether it is one of the outermost points.
    bool on_rim(const std::array<int, 3>& at) const {
        for (std::size_t k = 0; k < 3; ++k)
            if (at[k] == 0 || at[k] == size[k] - 1) return true;
        return false;
    }
};

}  // namespace anvil
