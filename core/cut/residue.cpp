// What cuts leave over: loose faces go first, then bodies that are residue, then skins, and what those have cut free.
#include "core/cut/residue.h"

#include <algorithm>
#include <cmath>

#include "core/combine/combine.h"
#include "core/cut/skins.h"
#include "core/inspect/inspect.h"
#include "core/mesh/keep_faces.h"
#include "core/mesh/measures.h"
#include "core/mesh/weld.h"

namespace anvil {
namespace {

Result<void> drop_loose(Cleared& out, Progress& progress) {
    auto found = inspect(out.mesh, progress);
    if (!found) return found.error();
    if (found->print_ready) return {};
    std::vector<char> goes(found->mesh.faces.size(), 0);
    for (const Finding& f : found->findings) {
        if (f.kind != FindingKind::fins && f.kind != FindingKind::stray_sheets) continue;
        for (const FaceId face : f.faces) goes[face.value()] = 1;
        out.places.push_back(f.place);
    }
    Mesh mesh = found->mesh;
    out.loose += keep_faces_of(mesh, [&](FaceId f) { return !goes[f.value()]; });
    out.mesh = welded(mesh);
    return {};
}

struct ShellFacts {
    double volume = 0, area = 0;
    Box box;
    Vec3 place;
};

std::vector<ShellFacts> facts_of(const Mesh& mesh, const Shells& shells) {
    std::vector<ShellFacts> out(shells.count);
    const Vec3 origin = bounds(mesh).center();
    for (const FaceId f : ids<FaceId>(mesh.faces.size())) {
        const Vec3 &a = mesh.corner(f, 0), &b = mesh.corner(f, 1), &c = mesh.corner(f, 2);
        ShellFacts& shell = out[shells.shell_of[f]];
        shell.volume += dot(a - origin, cross(b - a, c - a)) / 6;
        shell.area += triangle_area(a, b, c);
        for (int k = 0; k < 3; ++k) shell.box.add(mesh.corner(f, k));
        shell.place = a;
    }
    return out;
}

/// Separate bodies, and hollows, that are small or thin.
void drop_bodies(Cleared& out, const ResidueLimits& limits) {
    const Shells shells = find_shells(out.mesh);
    if (shells.count < 2) return;
    const std::vector<ShellFacts> facts = facts_of(out.mesh, shells);
    const auto largest = static_cast<std::size_t>(
        std::ranges::max_element(facts, {}, [](const ShellFacts& s) { return std::fabs(s.volume); }) - facts.begin());
    std::vector<char> goes(facts.size(), 0);
    for (std::size_t k = 0; k < facts.size(); ++k) {
        const ShellFacts& shell = facts[k];
        const Vec3 size = shell.box.size();
        const bool island = std::max({size.x, size.y, size.z}) < limits.island;
        const bool sliver = 2 * std::fabs(shell.volume) < limits.sliver * shell.area;
        if (k == largest || !(island || sliver)) continue;
        goes[k] = 1;
        ++(island ? out.islands : out.slivers);
        out.places.push_back(shell.place);
    }
    if (keep_faces_of(out.mesh, [&](FaceId f) { return !goes[shells.shell_of[f]]; }) > 0) out.mesh = welded(out.mesh);
}

Result<void> cut_skins(Cleared& out, double below, const SettleOptions& settle, Progress& progress) {
    const auto skins = thin_skins(out.mesh, below, progress);
    if (!skins) return skins.error();
    std::vector<Mesh> cutters;
    for (const ThinPlace& skin : *skins) {
        const Selection wall = wall_of(out.mesh, skin, smaller_wall(out.mesh, skin));
        auto cut = broached(out.mesh, wall, push_through(out.mesh, wall, skin, over_travel_of_skins), bounds(out.mesh));
        if (!cut) {
            ++out.skins_left;
            continue;
        }
        cutters.push_back(std::move(cut->cutters.front().solid.mesh));
        out.places.push_back(skin.place);
    }
    if (cutters.empty()) return {};
    std::vector<const Mesh*> operands{&out.mesh};
    for (const Mesh& cutter : cutters) operands.push_back(&cutter);
    auto left = combine(Operation::difference, operands, progress, settle);
    if (!left) return left.error();
    left->take_materials(operands);
    out.skins += cutters.size();
    out.mesh = welded(left->mesh);
    return {};
}

double volume_of(const Mesh& mesh) { return mesh.empty() ? 0 : signed_volume(mesh); }

}  // namespace

Result<Cleared> cleared_of_residue(const Mesh& body, const ResidueLimits& limits, const SettleOptions& settle,
                                   Progress& progress) {
    Cleared out;
    out.mesh = body;
    if (limits.loose)
        if (auto done = drop_loose(out, progress); !done) return done.error();
    const double before = volume_of(out.mesh);
    drop_bodies(out, limits);
    if (limits.skin > 0) {
        if (auto done = cut_skins(out, limits.skin, settle, progress); !done) return done.error();
        drop_bodies(out, limits);
    }
    if (progress.cancelled()) return cancelled_error();
    out.volume = before - volume_of(out.mesh);
    return out;
}

}  // namespace anvil
