// The shell that encloses most stays, with the hollows within it or without; all others go.
#include <algorithm>
#include <cmath>

#include "core/base/number_text.h"
#include "core/job/kinds/kind.h"
#include "core/mesh/keep_faces.h"
#include "core/mesh/weld.h"
#include "core/spatial/pieces.h"

namespace anvil {
namespace {

/// mm3 that each shell encloses, below 0 where it looks inward.
std::vector<double> volumes_of(const Mesh& mesh, const Shells& shells) {
    std::vector<double> out(shells.count, 0);
    const Vec3 origin = bounds(mesh).center();
    for (const FaceId f : ids<FaceId>(mesh.faces.size())) {
        const Vec3 &a = mesh.corner(f, 0), &b = mesh.corner(f, 1), &c = mesh.corner(f, 2);
        out[shells.shell_of[f]] += dot(a - origin, cross(b - a, c - a)) / 6;
    }
    return out;
}

Result<Treated> largest_kept(const std::shared_ptr<const Mesh>& body, const Values& values, const TreatSettings&,
                             Progress& progress) {
    const Kind& kind = *find_kind("keep-largest");
    auto out = std::make_shared<Mesh>(welded(*body));
    const Shells shells = find_shells(*out);
    if (shells.count < 2) return Treated{.mesh = body, .said = "There is one shell only."};
    const std::vector<double> volumes = volumes_of(*out, shells);
    const auto largest = static_cast<std::uint32_t>(
        std::ranges::max_element(volumes, {}, [](double v) { return std::fabs(v); }) - volumes.begin());
    std::vector<char> stays(shells.count, 0);
    stays[largest] = 1;
    if (value_of<bool>(kind, values, "hollows")) {
        const Pieces pieces = find_pieces(*out, progress);
        std::uint32_t piece = 0;
        for (const FaceId f : ids<FaceId>(out->faces.size()))
            if (shells.shell_of[f] == largest) piece = pieces.of[f];
        for (const FaceId f : ids<FaceId>(out->faces.size()))
            if (pieces.of[f] == piece) stays[shells.shell_of[f]] = 1;
    }
    if (progress.cancelled()) return cancelled_error();
    const auto gone = static_cast<std::size_t>(std::ranges::count(stays, 0));
    if (gone == 0) return Treated{.mesh = body, .said = "There is nothing beside it."};
    keep_faces_of(*out, [&](FaceId f) { return stays[shells.shell_of[f]] != 0; });
    *out = welded(*out);
    return Treated{.mesh = std::move(out),
                   .said = count_text(gone, "shell", "shells") + (gone == 1 ? " was" : " were") + " dropped."};
}

const RegisterKind keep_largest_registered({
    .word = "keep-largest",
    .of = KindClass::treat,
    .name = "keep the largest shell",
    .says = "All other shells go",
    .fields = {{.name = "hollows",
                .type = Field::Type::yes_no,
                .usual = true,
                .label = "with its hollows",
                .says = "whether the hollows within it stay"}},
    .treat = largest_kept,
});

}  // namespace
}  // namespace anvil
