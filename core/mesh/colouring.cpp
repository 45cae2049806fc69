#include "core/mesh/colouring.h"

#include <numbers>

#include "core/mesh/measures.h"
#include "core/mesh/regions.h"

namespace anvil {
namespace {

/// Hues a golden section of the circle apart, in three lightnesses: any few in a row can be told apart.
std::array<std::uint8_t, 3> colour_of(std::uint32_t n) {
    const double hue = 6 * std::fmod(0.55 + n * (std::numbers::phi - 1), 1.0);
    const double light = 0.82 - 0.13 * (n % 3), chroma = 0.42;
    std::array<std::uint8_t, 3> out{};
    for (int k = 0; k < 3; ++k) {
        const double way = std::fabs(std::fmod(hue + 6 - 2 * k, 6.0) - 3) - 1;
        out[static_cast<std::size_t>(k)] =
            static_cast<std::uint8_t>(255 * (light - chroma * (1 - std::clamp(way, 0.0, 1.0))));
    }
    return out;
}

template <class Number>
Mesh coloured(const Mesh& mesh, const Number& number) {
    constexpr std::uint32_t colours = 48;
    Mesh out = mesh;
    out.materials.clear();
    out.material = {};
    for (std::uint32_t n = 0; n < colours; ++n) out.materials.push_back({std::to_string(n), colour_of(n)});
    for (const FaceId f : ids<FaceId>(mesh.faces.size())) out.material.push_back(number(f) % colours);
    return out;
}

}  // namespace

Mesh coloured_by_shell(const Mesh& given) {
    const Mesh mesh = welded(given);
    const Shells shells = find_shells(mesh);
    return coloured(mesh, [&](FaceId f) { return shells.shell_of[f]; });
}

Mesh coloured_by_piece(const Mesh& mesh, std::span<const std::size_t> start) {
    constexpr std::array<std::uint8_t, 3> shades[] = {
        {147, 164, 172}, {190, 172, 144}, {148, 172, 148}, {170, 154, 178}, {198, 192, 168}};
    constexpr std::uint32_t count = std::size(shades);
    Mesh out = mesh;
    out.materials.clear();
    out.material = {};
    for (const auto& shade : shades) out.materials.push_back({std::to_string(out.materials.size()), shade});
    for (std::uint32_t k = 0; k + 1 < start.size(); ++k)
        for (std::size_t f = start[k]; f < start[k + 1]; ++f) out.material.push_back(k % count);
    return out;
}

Mesh coloured_by_region(const Mesh& given, double crease_angle) {
    const Mesh mesh = welded(given);
    std::vector<std::uint32_t> region;
    regions_between_creases(mesh, crease_angle).number(region);
    return coloured(mesh, [&](FaceId f) { return region[f.value()]; });
}

}  // namespace anvil
