// The shell that encloses most stays, with the hollows within it or without; all others go.
#include <algorithm>
#include <cmath>

#include "core/base/number_text.h"
#include "core/job/kinds/kind.h"
#include "core/mesh/keep_faces.h"
#include "core/mesh/measures.h"
#include "core/mesh/weld.h"
#include "core/spatial/fast_winding.h"

namespace anvil {
namespace {

/// What is known of each shell.
struct ShellFacts {
    double volume = 0;  ///< mm3, below 0 where it looks inward
    Vec3 point;         ///< on it
    Box box;
};

std::vector<ShellFacts> facts_of(const Mesh& mesh, const Shells& shells) {
    std::vector<ShellFacts> out(shells.count);
    const Vec3 origin = bounds(mesh).center();
    for (const FaceId f : ids<FaceId>(mesh.faces.size())) {
        ShellFacts& shell = out[shells.shell_of[f]];
        const Vec3 &a = mesh.corner(f, 0), &b = mesh.corner(f, 1), &c = mesh.corner(f, 2);
        shell.volume += dot(a - origin, cross(b - a, c - a)) / 6;
        shell.point = a;
        for (const Vec3& p : {a, b, c}) shell.box.add(p);
    }
    return out;
}

Mesh shell_alone(const Mesh& mesh, const Shells& shells, std::size_t s) {
    Mesh out;
    out.points = mesh.points;
    for (const FaceId f : ids<FaceId>(mesh.faces.size()))
        if (shells.shell_of[f] == s) out.faces.push_back(mesh.faces[f]);
    return out;
}

/// Hollows of the largest: shells that look the other way and lie within it, but not within another of them.
std::vector<std::size_t> hollows_of(std::size_t largest, const Mesh& mesh, const Shells& shells,
                                    std::span<const ShellFacts> facts, const Progress& progress) {
    auto holds = [](const FastWinding& winding, const Vec3& p) { return std::fabs(winding.at(p)) > 0.5; };
    const Mesh body = shell_alone(mesh, shells, largest);
    const FastWinding winding(body);
    std::vector<std::size_t> within;
    for (std::size_t s = 0; s < facts.size() && !progress.cancelled(); ++s)
        if (facts[s].volume * facts[largest].volume < 0 && holds(winding, facts[s].point)) within.push_back(s);
    std::vector<char> inner(facts.size(), 0);
    for (const std::size_t outer : within) {
        std::vector<std::size_t> near;
        for (const std::size_t s : within) {
            Box of_point;
            of_point.add(facts[s].point);
            if (s != outer && facts[outer].box.meets(of_point)) near.push_back(s);
        }
        if (near.empty() || progress.cancelled()) continue;
        const Mesh alone = shell_alone(mesh, shells, outer);
        const FastWinding of_outer(alone);
        for (const std::size_t s : near) inner[s] = inner[s] || holds(of_outer, facts[s].point);
    }
    std::erase_if(within, [&](std::size_t s) { return inner[s] != 0; });
    return within;
}

Result<Treated> largest_kept(const std::shared_ptr<const Mesh>& body, const Values& values, const TreatSettings&,
                             Progress& progress) {
    const Kind& kind = *find_kind("keep-largest");
    auto out = std::make_shared<Mesh>(welded(*body));
    const Shells shells = find_shells(*out);
    if (shells.count < 2) return Treated{.mesh = body, .said = "There is one shell only."};
    const std::vector<ShellFacts> facts = facts_of(*out, shells);
    const auto largest = static_cast<std::size_t>(
        std::ranges::max_element(facts, {}, [](const ShellFacts& s) { return std::fabs(s.volume); }) - facts.begin());
    std::vector<char> stays(facts.size(), 0);
    stays[largest] = 1;
    if (value_of<bool>(kind, values, "hollows"))
        for (const std::size_t s : hollows_of(largest, *out, shells, facts, progress)) stays[s] = 1;
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
