#include "core/mend/hand_tools.h"

#include <algorithm>
#include <chrono>
#include <map>

#include "core/base/memory.h"
#include "core/mend/edit_faces.h"
#include "core/mend/hand_edits.h"
#include "core/mend/written.h"

namespace anvil {
namespace {

struct ToolFacts {
    std::string_view word;
    ElementKind elements;
};
constexpr ToolFacts facts[hand_tools] = {{"merge-points", ElementKind::points}, {"join-points", ElementKind::points},
                                         {"delete-faces", ElementKind::faces},  {"flip-faces", ElementKind::faces},
                                         {"fill-border", ElementKind::edges},   {"bridge-borders", ElementKind::edges},
                                         {"split-edge", ElementKind::edges},    {"collapse-edge", ElementKind::edges},
                                         {"rotate-edge", ElementKind::edges},   {"rebuild-region", ElementKind::faces}};

/// The points of the mesh that an edit names, in its order; as many as are still there from the front on.
std::vector<VertexId> find_points(const Mesh& mesh, const HandEdit& edit) {
    std::map<Vec3, VertexId, ByCoordinates> at;
    for (const Vec3& p : edit.points) at[p] = VertexId();
    for (const VertexId v : ids<VertexId>(mesh.points.size()))
        if (const auto known = at.find(mesh.points[v]); known != at.end()) known->second = v;
    std::vector<VertexId> out;
    for (const Vec3& p : edit.points) out.push_back(at[p]);
    return out;
}

Triangle sorted(Triangle t) {
    std::ranges::sort(t);
    return t;
}

std::string of_faces(Mesh& mesh, HandTool tool, std::span<const VertexId> points, HandDone& done) {
    std::vector<Triangle> named;
    for (std::size_t i = 0; i + 2 < points.size(); i += 3)
        if (points[i].valid() && points[i + 1].valid() && points[i + 2].valid())
            named.push_back(sorted({points[i], points[i + 1], points[i + 2]}));
    std::ranges::sort(named);
    auto is_named = [&](FaceId f) { return std::ranges::binary_search(named, sorted(mesh.faces[f])); };
    if (tool == HandTool::delete_faces) {
        done.changed = keep_faces_of(mesh, [&](FaceId f) { return !is_named(f); });
    } else {
        for (const FaceId f : ids<FaceId>(mesh.faces.size()))
            if (is_named(f)) {
                std::swap(mesh.faces[f][1], mesh.faces[f][2]);
                ++done.changed;
            }
    }
    return done.changed == 0 ? "These faces are not there any more." : "";
}

std::string of_edges(Mesh& mesh, const HandEdit& edit, std::span<const VertexId> points, HandDone& done) {
    std::vector<hand::Edge> edges;
    for (std::size_t i = 0; i + 1 < points.size(); i += 2)
        if (points[i].valid() && points[i + 1].valid()) edges.push_back({points[i], points[i + 1]});
    if (edges.empty()) return "These edges are not there any more.";
    if (edit.tool == HandTool::bridge_borders) {
        if (edges.size() < 2) return "Bridging takes an edge of a border at each end.";
        const std::string trouble = hand::bridge_borders(mesh, edges[0], edges[1]);
        done.changed = trouble.empty() ? 2 : 0;
        return trouble;
    }
    std::string trouble;
    for (const hand::Edge& edge : edges) {
        const std::string own = edit.tool == HandTool::fill_border  ? hand::fill_border(mesh, edge, edit.fill)
                                : edit.tool == HandTool::split_edge ? hand::split_edge(mesh, edge)
                                : edit.tool == HandTool::collapse_edge
                                    ? hand::collapse_edge(mesh, edge, done.largest_move)
                                    : hand::rotate_edge(mesh, edge);
        done.changed += own.empty();
        if (trouble.empty()) trouble = own;
    }
    return done.changed > 0 ? "" : trouble;
}

std::string of_points(Mesh& mesh, HandTool tool, std::vector<VertexId> points, HandDone& done) {
    std::erase_if(points, [](VertexId v) { return !v.valid(); });
    std::string trouble;
    if (tool == HandTool::merge_points)
        trouble = hand::merge_points(mesh, points, done.largest_move);
    else if (points.size() != 2)
        trouble = "Joining takes two points.";
    else
        trouble = hand::join_points(mesh, points[0], points[1]);
    done.changed = trouble.empty() ? points.size() : 0;
    return trouble;
}

std::string sentence_of(const HandDone& done) {
    const std::size_t n = done.changed;
    switch (done.tool) {
        case HandTool::merge_points: return count_text(n, "point was", "points were") + " made one.";
        case HandTool::join_points: return "Two points were joined by an edge.";
        case HandTool::delete_faces: return count_text(n, "face was", "faces were") + " deleted.";
        case HandTool::flip_faces: return count_text(n, "face was", "faces were") + " flipped.";
        case HandTool::fill_border: return count_text(n, "border was", "borders were") + " filled.";
        case HandTool::bridge_borders: return "Two borders were bridged.";
        case HandTool::split_edge: return count_text(n, "edge was", "edges were") + " split.";
        case HandTool::collapse_edge: return count_text(n, "edge was", "edges were") + " collapsed.";
        case HandTool::rotate_edge: return count_text(n, "edge was", "edges were") + " rotated.";
        case HandTool::rebuild_region: break;
    }
    return {};
}

Result<Mended> run_edits(const Mesh& mesh, std::span<const HandEdit> edits, const MendOptions& options,
                         Progress& progress) {
    Mesh edited = welded(mesh);
    std::vector<HandDone> all;
    for (const HandEdit& edit : edits) {
        auto done = edit_by_hand(edited, edit, options, progress);
        if (!done) return done.error();
        if (progress.cancelled()) return cancelled_error();
        all.push_back(std::move(*done));
    }
    return told_of_edits(mesh, edited, std::move(all), options, progress);
}

}  // namespace

std::string_view word(HandTool tool) { return facts[static_cast<int>(tool)].word; }
std::optional<HandTool> hand_tool_from(std::string_view w) {
    for (int k = 0; k < hand_tools; ++k)
        if (facts[k].word == w) return static_cast<HandTool>(k);
    return std::nullopt;
}
ElementKind elements_of(HandTool tool) { return facts[static_cast<int>(tool)].elements; }

Result<HandDone> edit_by_hand(Mesh& mesh, const HandEdit& edit, const MendOptions& options, Progress& progress) {
    if (edit.tool == HandTool::rebuild_region) return hand::rebuild_region(mesh, edit, options, progress);
    HandDone done{.tool = edit.tool};
    const std::vector<VertexId> points = find_points(mesh, edit);
    const ElementKind kind = elements_of(edit.tool);
    done.said = kind == ElementKind::faces   ? of_faces(mesh, edit.tool, points, done)
                : kind == ElementKind::edges ? of_edges(mesh, edit, points, done)
                                             : of_points(mesh, edit.tool, points, done);
    done.refused = done.changed == 0;
    if (!done.refused) {
        done.said = sentence_of(done);
        mesh = welded(mesh);
    }
    return done;
}

Result<Mended> told_of_edits(const Mesh& before, const Mesh& after, std::vector<HandDone> edits,
                             const MendOptions& options, Progress& progress) {
    const auto start = std::chrono::steady_clock::now();
    Mended out;
    progress.stage("inspecting", 0, 0.5);
    auto inspected = inspect(as_written(before, options.precision), progress);
    if (!inspected) return inspected.error();
    out.before = std::move(*inspected);
    progress.stage("inspecting", 0.5, 1);
    inspected = inspect(as_written(after, options.precision), progress);
    if (!inspected) return inspected.error();
    out.after = std::move(*inspected);
    out.mesh = after;
    for (const HandDone& done : edits) out.largest_move += done.largest_move;
    out.by_hand = std::move(edits);
    out.seconds = std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
    return out;
}

Result<Mended> mend_by_hand(const Mesh& mesh, std::span<const HandEdit> edits, const MendOptions& options,
                            Progress& progress) {
    return with_memory_checked([&] { return run_edits(mesh, edits, options, progress); });
}

}  // namespace anvil
