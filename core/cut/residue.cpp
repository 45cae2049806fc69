// What cuts leave over: loose faces go first, then bodies that are residue, then skins, and what those have cut free.
#include "core/cut/residue.h"

#include <algorithm>
#include <cmath>
#include <map>

#include "core/base/number_text.h"
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

/// The faces of a wall by themselves: what is made of them then costs no look at all others.
Mesh alone(const Mesh& mesh, const std::vector<FaceId>& faces) {
    Mesh out;
    std::map<VertexId, VertexId> number;
    for (const FaceId f : faces) {
        Triangle t = mesh.faces[f];
        for (VertexId& v : t) {
            const auto [at, is_new] = number.try_emplace(v, VertexId(static_cast<std::uint32_t>(out.points.size())));
            if (is_new) out.points.push_back(mesh.points[v]);
            v = at->second;
        }
        out.faces.push_back(t);
    }
    return out;
}

Selection all_of(const Mesh& mesh) {
    Selection out{ElementKind::faces, all_elements(mesh, ElementKind::faces)};
    std::ranges::sort(out.elements);
    return out;
}

/// Where the skins are no residue: they are what the body is made of.
Result<void> check_is_residue(const Mesh& mesh, std::span<const ThinPlace> skins, double below) {
    double area = 0;
    for (const ThinPlace& skin : skins) area += skin.area;
    const double whole = surface_area(mesh);
    if (2 * area <= whole / 4) return {};  // both of its sides count
    return Error{ErrorCode::out_of_range,
                 short_text(std::min(100.0, std::round(200 * area / whole))) +
                     " % of the surface lies on walls under " + short_text(below) +
                     " mm: they are no residue; take a smaller limit for skins",
                 ""};
}

Result<void> cut_skins(Cleared& out, double below, const SettleOptions& settle, Progress& progress) {
    auto skins = thin_skins(out.mesh, below, progress);
    if (!skins) return skins.error();
    // What is as thick as wide is no skin, and pushed through would meet itself.
    std::erase_if(*skins, [](const ThinPlace& skin) { return std::sqrt(skin.area) < 10 * skin.most; });
    if (auto checked = check_is_residue(out.mesh, *skins, below); !checked) return checked.error();
    std::vector<Mesh> cutters;
    const Box box = bounds(out.mesh);
    for (const ThinPlace& skin : *skins) {
        if (progress.cancelled()) return cancelled_error();
        const std::vector<FaceId> faces = wall_of(out.mesh, skin, smaller_wall(out.mesh, skin));
        const Broach push = push_through(out.mesh, faces, skin, over_travel_of_skins);
        const Mesh wall = alone(out.mesh, faces);
        auto cut = broached(wall, all_of(wall), push, box);
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
        // More than that would have all faces look at all others.
        const double below = std::min(limits.skin, bounds(out.mesh).diagonal() / 50);
        if (auto done = cut_skins(out, below, settle, progress); !done) return done.error();
        drop_bodies(out, limits);
    }
    if (progress.cancelled()) return cancelled_error();
    out.volume = before - volume_of(out.mesh);
    return out;
}

}  // namespace anvil
