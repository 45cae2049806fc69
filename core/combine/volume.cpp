#include "core/combine/volume.h"

namespace anvil {
namespace {

/// Of each patch, seen from `origin`. The one with the rest of a shell has what the shell has less everything else.
std::vector<Moments> moments_of_patches(const Arrangement& a, const Vec3& origin) {
    std::vector<Moments> of_patch(a.patches.size());
    for (std::uint32_t o = 0; o < a.soup.size(); ++o) {
        const Operand& operand = a.soup.operand(o);
        const Patches::OperandPart& part = a.patches.parts[o];
        auto rest_of = [&](std::uint32_t own) -> Moments* {
            const std::uint32_t patch = part.rest_of_shell[operand.shell[own]];
            return patch == Patches::none ? nullptr : &of_patch[patch];
        };
        for (std::size_t s = 0; s < operand.shell_moments.size(); ++s)
            if (part.rest_of_shell[s] != Patches::none)
                of_patch[part.rest_of_shell[s]].add(
                    operand.shell_moments[s].seen_from(operand.bounds.center(), origin));
        auto of_own = [&](std::uint32_t own) {
            Moments m;
            m.add(operand.mesh.corner(FaceId(own), 0), operand.mesh.corner(FaceId(own), 1),
                  operand.mesh.corner(FaceId(own), 2), origin);
            return m;
        };
        for (std::uint32_t own = 0; own < part.label.size(); ++own) {
            const std::uint32_t patch = part.label[own];
            if (patch == Patches::none || patch == part.rest_of_shell[operand.shell[own]]) continue;
            const Moments m = of_own(own);
            of_patch[patch].add(m);
            if (Moments* rest = rest_of(own)) rest->add(m, -1);
        }
    }
    for (const FaceId f : a.active.faces) {
        const std::uint32_t o = a.soup.operand_of(f), own = a.soup.own(o, f).value();
        const Operand& operand = a.soup.operand(o);
        const std::uint32_t patch = a.patches.parts[o].rest_of_shell[operand.shell[own]];
        if (patch == Patches::none) continue;
        Moments m;
        m.add(operand.mesh.corner(FaceId(own), 0), operand.mesh.corner(FaceId(own), 1),
              operand.mesh.corner(FaceId(own), 2), origin);
        of_patch[patch].add(m, -1);
    }
    return of_patch;
}

}  // namespace

VolumeTeller::VolumeTeller(const Arrangement& a) : of_cell_(a.cells.count, 0) {
    Box box;
    for (const auto& operand : a.soup.operands()) box.add(operand->bounds);
    const Vec3 origin = box.center();
    auto add = [&](const Cells::Sides& sides, double volume) {
        of_cell_[sides[0]] -= volume;
        of_cell_[sides[1]] += volume;
    };
    for (std::size_t f = 0; f < a.faces.size(); ++f) {
        const Triangle& t = a.faces.corners[f];
        Moments m;
        m.add(a.points.approx(t[0]), a.points.approx(t[1]), a.points.approx(t[2]), origin);
        add(a.cells.of_face[f], m.volume);
    }
    const std::vector<Moments> of_patch = moments_of_patches(a, origin);
    for (std::size_t p = 0; p < of_patch.size(); ++p) add(a.cells.of_patch[p], of_patch[p].volume);
}

double VolumeTeller::volume(const CellPieces& pieces) const {
    double sum = 0;
    for (std::size_t c = 0; c < of_cell_.size(); ++c)
        if (pieces.of_cell[c] > 0) sum += of_cell_[c];
    return sum;
}

}  // namespace anvil
