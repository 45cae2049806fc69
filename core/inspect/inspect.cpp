#include "core/inspect/inspect.h"

#include <algorithm>
#include <chrono>

#include "core/base/memory.h"
#include "core/exact/predicates.h"
#include "core/inspect/checks.h"

namespace anvil {

std::string_view word(FindingKind kind) {
    constexpr std::string_view words[finding_kinds] = {"open_edges",         "holes",
                                                       "nonmanifold_edges",  "nonmanifold_vertices",
                                                       "misoriented_edges",  "zero_length_edges",
                                                       "degenerate_faces",   "duplicate_faces",
                                                       "self_intersections", "t_junctions",
                                                       "interior_faces",     "inverted_shells",
                                                       "thin_skins"};
    return words[static_cast<int>(kind)];
}

InspectOptions usual_options(const Mesh& mesh) { return {std::min(0.2, bounds(mesh).diagonal() / 500)}; }

static Result<Inspection> inspect_all(const Mesh& mesh, Progress& progress, const InspectOptions& options) {
    using namespace inspect_detail;
    const auto start = std::chrono::steady_clock::now();
    Inspection out;
    out.mesh = welded(mesh);
    if (progress.cancelled()) return cancelled_error();
    out.measures = measure(out.mesh);
    if (progress.cancelled()) return cancelled_error();
    const EdgeTable edges(out.mesh.faces.raw(), out.mesh.points.size());
    if (progress.cancelled()) return cancelled_error();
    const BoxTree tree(out.mesh.points.raw(), out.mesh.faces.raw());
    CheckContext context{out.mesh, edges, tree, {}, out.findings, progress, options.thin_below};
    out.thin_below = options.thin_below;

    struct Step {
        const char* name;
        void (*check)(CheckContext&);
        double until;
    };
    double from = 0;
    for (const Step& step : {Step{"checking faces", check_faces, 0.1},
                             {"checking edges", check_edges, 0.2},
                             {"checking points", check_vertices, 0.3},
                             {"looking for T-junctions", check_t_junctions, 0.35},
                             {"looking for crossing faces", check_crossings, 0.9},
                             {"checking shells", check_shells, 0.95},
                             {"looking for thin skins", check_thin_skins, 1.0}}) {
        progress.stage(step.name, from, step.until);
        step.check(context);
        if (progress.cancelled()) return cancelled_error();
        from = step.until;
    }
    std::stable_sort(out.findings.begin(), out.findings.end(),
                     [](const Finding& a, const Finding& b) { return a.kind < b.kind; });
    for (const Finding& f : out.findings) ++out.counts[static_cast<std::size_t>(f.kind)];
    out.closed = !out.mesh.empty() && out.count(FindingKind::open_edges) == 0;
    out.print_ready =
        !out.mesh.empty() && std::ranges::all_of(out.findings, [](const Finding& f) { return is_caution(f.kind); });
    out.seconds = std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
    return out;
}

Result<Inspection> inspect(const Mesh& mesh, Progress& progress, const InspectOptions& options) {
    return with_memory_checked([&] { return inspect_all(mesh, progress, options); });
}

Inspection joined(std::vector<Inspection> pieces) {
    if (pieces.size() == 1) return std::move(pieces.front());
    Inspection out;
    out.closed = out.print_ready = !pieces.empty();
    for (Inspection& piece : pieces) {
        const std::size_t points = out.mesh.points.size(), faces = out.mesh.faces.size();
        append(out.mesh, piece.mesh);
        for (Finding& f : piece.findings) {
            for (VertexId& v : f.vertices) v = VertexId(v.value() + points);
            for (FaceId& id : f.faces) id = FaceId(id.value() + faces);
            out.findings.push_back(std::move(f));
        }
        for (std::size_t k = 0; k < out.counts.size(); ++k) out.counts[k] += piece.counts[k];
        Measures& m = out.measures;
        m.vertices += piece.measures.vertices;
        m.triangles += piece.measures.triangles;
        m.shells += piece.measures.shells;
        m.volume += piece.measures.volume;
        m.area += piece.measures.area;
        m.bounds.add(piece.measures.bounds);
        out.closed = out.closed && piece.closed;
        out.print_ready = out.print_ready && piece.print_ready;
        out.thin_below = piece.thin_below;
        out.seconds += piece.seconds;
    }
    std::stable_sort(out.findings.begin(), out.findings.end(),
                     [](const Finding& a, const Finding& b) { return a.kind < b.kind; });
    return out;
}

}  // namespace anvil
