#include "core/arrange/operand.h"

#include <tbb/blocked_range.h>
#include <tbb/parallel_for.h>

#include <algorithm>

#include "core/arrange/half_edges.h"
#include "core/arrange/repair_operand.h"
#include "core/arrange/self_contacts.h"
#include "core/arrange/stars.h"
#include "core/exact/predicates.h"
#include "core/mesh/measures.h"

namespace anvil {
namespace {

/// Returns whether it was not stopped.
bool weld_and_drop_pointless(Operand& operand, const Mesh& given, const Progress& progress) {
    // In the order of space: everything that follows then walks through memory instead of jumping about in it.
    Mesh ordered;
    ordered.points = given.points;
    ordered.faces.reserve(given.faces.size());
    operand.origin.reserve(given.faces.size());
    std::vector<std::uint32_t> order;
    operand.tree = BoxTree(given.points.raw(), given.faces.raw(), order, progress);
    if (progress.cancelled()) return false;
    for (std::uint32_t f : order) {
        ordered.faces.push_back(given.faces[FaceId(f)]);
        operand.origin.push_back(FaceId(f));
    }
    if (progress.cancelled()) return false;
    operand.mesh = welded(ordered);
    if (std::ranges::any_of(operand.mesh.faces, repeats_corner))
        keep_faces(operand, [&](std::size_t f) { return !repeats_corner(operand.mesh.faces[FaceId(f)]); });
    return !progress.cancelled();
}

/// Takes out faces without area. What they cover are edges, which their neighbours cover too.
bool set_degenerate_aside(Operand& operand) {
    const Mesh& mesh = operand.mesh;
    std::vector<char> flat(mesh.faces.size());
    tbb::parallel_for(tbb::blocked_range<std::size_t>(0, flat.size(), 4096), [&](const auto& range) {
        for (std::size_t f = range.begin(); f != range.end(); ++f)
            flat[f] = collinear(mesh.corner(FaceId(f), 0), mesh.corner(FaceId(f), 1), mesh.corner(FaceId(f), 2));
    });
    operand.set_aside = static_cast<std::size_t>(std::count(flat.begin(), flat.end(), 1));
    if (operand.set_aside > 0) keep_faces(operand, [&](std::size_t f) { return !flat[f]; });
    return operand.set_aside > 0;
}

/// Of faces with the same three corners the first one stays; the others become copies of it. Only faces at irregular
/// edges are looked at: two lone faces back to back are told by their contact.
bool set_copies_aside(Operand& operand, const HalfEdges& edges) {
    struct Entry {
        Triangle corners;
        std::uint32_t face;
        bool reversed;
    };
    std::vector<Entry> entries;
    const auto& faces = operand.mesh.faces.raw();
    for (std::uint32_t f = 0; f < faces.size(); ++f) {
        if (edges.twin[3 * f] != HalfEdges::none && edges.twin[3 * f + 1] != HalfEdges::none &&
            edges.twin[3 * f + 2] != HalfEdges::none)
            continue;
        Entry e{faces[f], f, false};
        for (const auto& [i, j] : {std::pair{0, 1}, {1, 2}, {0, 1}})
            if (e.corners[j] < e.corners[i]) {
                std::swap(e.corners[i], e.corners[j]);
                e.reversed = !e.reversed;
            }
        entries.push_back(e);
    }
    std::sort(entries.begin(), entries.end(), [](const Entry& a, const Entry& b) {
        return a.corners != b.corners ? a.corners < b.corners : a.face < b.face;
    });
    std::vector<char> dropped(faces.size(), 0);
    std::vector<Operand::Copy> copies;
    const Entry* first = nullptr;
    for (const Entry& e : entries) {
        if (first && first->corners == e.corners) {
            dropped[e.face] = 1;
            copies.push_back({FaceId(first->face), operand.origin[e.face], e.reversed != first->reversed});
        } else {
            first = &e;
        }
    }
    if (copies.empty()) return false;
    std::vector<std::uint32_t> number(faces.size(), 0);
    for (std::uint32_t f = 0, kept = 0; f < faces.size(); ++f)
        if (!dropped[f]) number[f] = kept++;
    for (Operand::Copy& c : copies) c.of = FaceId(number[c.of.value()]);
    std::stable_sort(copies.begin(), copies.end(), [](const auto& a, const auto& b) { return a.of < b.of; });
    operand.copies = std::move(copies);
    keep_faces(operand, [&](std::size_t f) { return !dropped[f]; });
    return true;
}

void find_irregular(Operand& operand) {
    operand.irregular.clear();
    for (FaceId f : ids<FaceId>(operand.mesh.faces.size())) {
        const std::uint32_t h = 3 * f.value();
        if (operand.twin[h] == HalfEdges::none || operand.twin[h + 1] == HalfEdges::none ||
            operand.twin[h + 2] == HalfEdges::none)
            operand.irregular.push_back(f);
    }
    if (operand.copies.empty()) return;
    for (const Operand::Copy& c : operand.copies) operand.irregular.push_back(c.of);
    std::sort(operand.irregular.begin(), operand.irregular.end());
    operand.irregular.erase(std::unique(operand.irregular.begin(), operand.irregular.end()), operand.irregular.end());
}

/// Points at which a walk round them does not come by all their faces.
void find_pinched(Operand& operand, const HalfEdges& edges, const std::vector<char>& sound) {
    for (std::uint32_t v = 0; v < sound.size(); ++v) {
        const auto leaving = edges.leaving(v);
        if (sound[v] || leaving.empty()) continue;
        const std::uint32_t start = leaving.front().half;
        std::size_t met = 0;
        std::uint32_t h = start;
        do {
            ++met;
            h = edges.twin[before_in_face(h)];
        } while (h != start && h != HalfEdges::none && met <= leaving.size());
        if (met != leaving.size()) operand.pinched.push_back(VertexId(v));
    }
}

void find_loose(Operand& operand) {
    std::vector<char> used(operand.mesh.points.size(), 0);
    for (const Triangle& t : operand.mesh.faces)
        for (const VertexId v : t) used[v.value()] = 1;
    for (const VertexId v : ids<VertexId>(used.size()))
        if (!used[v.value()]) operand.loose.push_back(v);
}

/// Faces connected across regular edges; shells are numbered by their first faces.
void find_shells(Operand& operand) {
    const auto n = static_cast<std::uint32_t>(operand.mesh.faces.size());
    constexpr std::uint32_t unknown = 0xffffffffu;
    operand.shell.assign(n, unknown);
    operand.shell_start.clear();
    operand.shell_size.clear();
    operand.shell_moments.clear();
    const Vec3 origin = operand.bounds.center();
    std::vector<std::uint32_t> stack;
    for (std::uint32_t seed = 0; seed < n; ++seed) {
        if (operand.shell[seed] != unknown) continue;
        const auto number = static_cast<std::uint32_t>(operand.shell_start.size());
        operand.shell_start.push_back(FaceId(seed));
        operand.shell_size.push_back(0);
        Moments moments;
        operand.shell[seed] = number;
        stack.push_back(seed);
        while (!stack.empty()) {
            const std::uint32_t f = stack.back();
            stack.pop_back();
            ++operand.shell_size[number];
            moments.add(operand.mesh.corner(FaceId(f), 0), operand.mesh.corner(FaceId(f), 1),
                        operand.mesh.corner(FaceId(f), 2), origin);
            for (std::uint32_t h = 3 * f; h < 3 * f + 3; ++h) {
                if (operand.twin[h] == HalfEdges::none) continue;
                const std::uint32_t g = operand.twin[h] / 3;
                if (operand.shell[g] != unknown) continue;
                operand.shell[g] = number;
                stack.push_back(g);
            }
        }
        operand.shell_moments.push_back(moments);
    }
}

Error does_not_close(std::span<const UnbalancedEdge> open) {
    return {ErrorCode::open_operand,
            "it is not closed: " + std::to_string(open.size()) + (open.size() == 1 ? " edge is" : " edges are") +
                " open or run twice the same way; inspect shows where",
            ""};
}

}  // namespace

Operand::Whole Operand::whole() const {
    Whole out{mesh, origin};
    for (const Copy& copy : copies) {
        Triangle t = mesh.faces[copy.of];
        if (copy.reversed) std::swap(t[1], t[2]);
        out.mesh.faces.push_back(t);
        out.origin.push_back(copy.origin);
    }
    if (material.empty()) return out;
    out.mesh.materials = materials;
    for (const FaceId given : out.origin) out.mesh.material.push_back(given.valid() ? material[given] : no_material);
    return out;
}

Result<std::shared_ptr<const Operand>> make_operand(const Mesh& given, Taken taken, Progress& progress) {
    auto operand = std::make_shared<Operand>();
    if (given.empty()) return Error{ErrorCode::open_operand, "it has no faces", ""};
    if (std::ranges::any_of(given.points, [](const Vec3& p) { return !(largest_component(p) < largest_coordinate); }))
        return Error{ErrorCode::out_of_range,
                     "its coordinates go beyond 1e300 mm, where numbers of double precision end; scale it down", ""};
    if (!weld_and_drop_pointless(*operand, given, progress)) return cancelled_error();
    operand->materials = given.materials;
    operand->material = given.material;
    Mesh& mesh = operand->mesh;

    HalfEdges edges = find_half_edges(mesh.faces.raw(), mesh.points.size());
    if (progress.cancelled()) return cancelled_error();
    const std::size_t in_tree = given.faces.size();
    const bool repair = taken == Taken::repaired || taken == Taken::closed;
    if (repair && std::ranges::find(edges.twin, HalfEdges::none) != edges.twin.end())
        close_operand(*operand, edges, taken == Taken::closed ? SheetRule::close : SheetRule::leave, progress);
    operand->flat = operand->sheet && is_flat(mesh);
    operand->sheet = operand->sheet || taken == Taken::as_surface;
    if (!operand->sheet)
        if (const auto open = find_unbalanced(mesh.faces.raw(), edges); !open.empty()) return does_not_close(open);
    if (progress.cancelled()) return cancelled_error();

    if (set_degenerate_aside(*operand)) edges = find_half_edges(mesh.faces.raw(), mesh.points.size());
    if (set_copies_aside(*operand, edges)) edges = find_half_edges(mesh.faces.raw(), mesh.points.size());
    if (progress.cancelled()) return cancelled_error();

    auto changed = [&] {
        return mesh.faces.size() != in_tree || !operand->closed_holes.empty() || !operand->notes.empty();
    };
    if (changed()) {
        operand->bounds = bounds(mesh);
        find_loose(*operand);
    } else {
        for (const Vec3& p : mesh.points) operand->bounds.add(p);  // all are used
    }
    operand->twin = edges.twin;
    find_shells(*operand);
    if (repair && !operand->sheet &&
        std::ranges::any_of(operand->shell_moments, [](const Moments& m) { return m.volume < 0; }) &&
        turn_operand_outward(*operand, edges)) {
        operand->twin = edges.twin;
        find_shells(*operand);
    }
    find_irregular(*operand);
    if (progress.cancelled()) return cancelled_error();
    if (changed()) operand->tree = BoxTree(mesh.points.raw(), mesh.faces.raw());
    const std::vector<char> sound = find_sound_stars(mesh.points.raw(), mesh.faces.raw(), edges, Fans::closed);
    find_pinched(*operand, edges, sound);
    operand->single_precision =
        std::ranges::all_of(mesh.points, [](const Vec3& p) { return in_single_precision(p) == p; });
    if (progress.cancelled()) return cancelled_error();
    if (taken == Taken::as_proven) return std::shared_ptr<const Operand>(std::move(operand));
    auto contacts = find_self_contacts(mesh, sound, operand->tree, progress);
    if (!contacts) return cancelled_error();
    operand->contacts = std::move(*contacts);
    return std::shared_ptr<const Operand>(std::move(operand));
}

}  // namespace anvil
