#include "core/combine/volume.h"

namespace anvil {

VolumeTeller::VolumeTeller(const Arrangement& a) : arrangement_(a) {
    Box box;
    for (const auto& operand : a.soup.operands()) box.add(operand->bounds);
    origin_ = box.center();
    for (const Triangle& t : a.faces.corners) {
        Moments& m = of_face_.emplace_back();
        m.add(a.points.approx(t[0]), a.points.approx(t[1]), a.points.approx(t[2]), origin_);
    }
    // The patch with the rest of a shell has what the shell has less everything else.
    of_patch_.resize(a.patches.size());
    for (std::uint32_t o = 0; o < a.soup.size(); ++o) {
        const Operand& operand = a.soup.operand(o);
        const Patches::OperandPart& part = a.patches.parts[o];
        auto rest_of = [&](std::uint32_t own) -> Moments* {
            const std::uint32_t patch = part.rest_of_shell[operand.shell[own]];
            return patch == Patches::none ? nullptr : &of_patch_[patch];
        };
        for (std::size_t s = 0; s < operand.shell_moments.size(); ++s)
            if (part.rest_of_shell[s] != Patches::none)
                of_patch_[part.rest_of_shell[s]].add(
                    operand.shell_moments[s].seen_from(operand.bounds.center(), origin_));
        auto of_own = [&](std::uint32_t own) {
            Moments m;
            m.add(operand.mesh.corner(FaceId(own), 0), operand.mesh.corner(FaceId(own), 1),
                  operand.mesh.corner(FaceId(own), 2), origin_);
            return m;
        };
        for (std::uint32_t own = 0; own < part.label.size(); ++own) {
            const std::uint32_t patch = part.label[own];
            if (patch == Patches::none || patch == part.rest_of_shell[operand.shell[own]]) continue;
            const Moments m = of_own(own);
            of_patch_[patch].add(m);
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
              operand.mesh.corner(FaceId(own), 2), origin_);
        of_patch_[patch].add(m, -1);
    }
}

double VolumeTeller::volume(std::span<const CombineStep> steps, std::uint32_t base) const {
    const Arrangement& a = arrangement_;
    const CellPieces pieces = pieces_of(a.cells, steps, base);
    double sum = 0;
    auto add = [&](const Cells::Sides& sides, const Moments& m) {
        const std::uint32_t before = pieces.of_cell[sides[0]], behind = pieces.of_cell[sides[1]];
        if (before == behind) return;
        if (behind > 0) sum += m.volume;
        if (before > 0) sum -= m.volume;
    };
    for (std::size_t f = 0; f < of_face_.size(); ++f) add(a.cells.of_face[f], of_face_[f]);
    for (std::size_t p = 0; p < of_patch_.size(); ++p) add(a.cells.of_patch[p], of_patch_[p]);
    return sum;
}

}  // namespace anvil
