#include "core/inspect/inspect.h"

#include <tbb/parallel_invoke.h>

#include <algorithm>
#include <chrono>

#include "core/arrange/join_borders.h"
#include "core/base/memory.h"
#include "core/base/number_text.h"
#include "core/inspect/checks.h"

namespace anvil {

namespace {

struct KindFacts {
    std::string_view word, one, many;
    Severity severity;
    bool cheap;
};
using S = Severity;
constexpr KindFacts kind_facts[finding_kinds] = {
    {"open_edges", "open edge", "open edges", S::fault, true},
    {"holes", "hole", "holes", S::fault, true},
    {"nonmanifold_edges", "non-manifold edge", "non-manifold edges", S::fault, true},
    {"nonmanifold_vertices", "non-manifold point", "non-manifold points", S::fault, true},
    {"misoriented_edges", "misoriented edge", "misoriented edges", S::fault, true},
    {"zero_length_edges", "edge of no length", "edges of no length", S::fault, true},
    {"degenerate_faces", "face without area", "faces without area", S::fault, true},
    {"duplicate_faces", "doubled face", "doubled faces", S::fault, true},
    {"self_intersections", "pair of crossing faces", "pairs of crossing faces", S::fault, false},
    {"t_junctions", "T-junction", "T-junctions", S::fault, true},
    {"interior_faces", "face inside the solid", "faces inside the solid", S::fault, false},
    {"inverted_shells", "shell inside out", "shells inside out", S::fault, false},
    {"thin_skins", "thin skin", "thin skins", S::caution, false},
    {"doubled_faces", "face back to back", "faces back to back", S::fault, true},
    {"fins", "fin", "fins", S::fault, true},
    {"cracks", "edge along a crack", "edges along cracks", S::fault, true},
    {"stray_sheets", "stray sheet", "stray sheets", S::fault, false},
    {"touching_bodies", "pair of touching bodies", "pairs of touching bodies", S::fault, true},
    {"tiny_shells", "tiny shell", "tiny shells", S::caution, true},
    {"narrow_gaps", "narrow gap", "narrow gaps", S::caution, false},
    {"short_edges", "short edge", "short edges", S::note, true},
    {"needle_faces", "needle face", "needle faces", S::note, true},
    {"loose_points", "loose point", "loose points", S::note, true}};
const KindFacts& facts(FindingKind kind) { return kind_facts[static_cast<int>(kind)]; }

/// Points that are in no face go when the mesh is welded: they are counted in the mesh as it came.
void find_loose_points(const Mesh& given, Inspection& out) {
    std::vector<char> used(given.points.size(), 0);
    for (const Triangle& t : given.faces)
        for (const VertexId v : t) used[v.value()] = 1;
    for (const VertexId v : ids<VertexId>(given.points.size()))
        if (!used[v.value()]) out.findings.push_back({FindingKind::loose_points, given.points[v], {}, {}});
}

/// Puts the findings in order and counts them.
void sum_up(Inspection& out) {
    std::stable_sort(out.findings.begin(), out.findings.end(),
                     [](const Finding& a, const Finding& b) { return a.kind < b.kind; });
    out.counts = {};
    for (const Finding& f : out.findings) out.counts[static_cast<std::size_t>(f.kind)] += f.count;
    out.closed = !out.mesh.empty() && out.count(FindingKind::open_edges) == 0;
    out.print_ready =
        !out.mesh.empty() && std::ranges::none_of(out.findings, [](const Finding& f) { return is_fault(f.kind); });
}

using Clock = std::chrono::steady_clock;
double since(Clock::time_point start) { return std::chrono::duration<double>(Clock::now() - start).count(); }

}  // namespace

std::string_view plain_name(FindingKind kind, std::size_t count) {
    return count == 1 ? facts(kind).one : facts(kind).many;
}
std::string_view word(FindingKind kind) { return facts(kind).word; }
std::optional<FindingKind> finding_kind_from(std::string_view w) {
    for (int k = 0; k < finding_kinds; ++k)
        if (word(static_cast<FindingKind>(k)) == w) return static_cast<FindingKind>(k);
    return std::nullopt;
}
Severity severity(FindingKind kind) { return facts(kind).severity; }
bool is_cheap(FindingKind kind) { return facts(kind).cheap; }

std::string_view word(Form form) {
    constexpr std::string_view words[] = {"empty", "solid", "sheet", "mixed"};
    return words[static_cast<int>(form)];
}

Form form_of(std::size_t solids, std::size_t sheets) {
    if (sheets == 0) return Form::solid;
    return solids == 0 ? Form::sheet : Form::mixed;
}

std::size_t Inspection::fault_kinds() const {
    std::size_t kinds = 0;
    for (int k = 0; k < finding_kinds; ++k) {
        const auto kind = static_cast<FindingKind>(k);
        kinds += count(kind) > 0 && is_fault(kind);
    }
    return kinds;
}

std::string form_sentence(const Inspection& i) {
    const std::size_t holes = i.count(FindingKind::holes);
    const std::string rims = count_text(holes, "hole", "holes");
    switch (i.form) {
        case Form::empty: return "Empty: there are no faces.";
        case Form::solid:
            return i.closed ? "A closed solid, in " + count_text(i.measures.shells, "shell", "shells") + "."
                            : "An open solid, with " + rims + ".";
        case Form::sheet:
            return i.sheets == 1 ? "An open sheet: it encloses nothing."
                                 : "Open sheets, " + std::to_string(i.sheets) + " of them: they enclose nothing.";
        case Form::mixed:
            return "Mixed: " + count_text(i.solids, "solid", "solids") + ", and " +
                   count_text(i.sheets, "open sheet", "open sheets") + " beside.";
    }
    return {};
}

InspectOptions usual_options(const Mesh& mesh) {
    const double diagonal = bounds(mesh).diagonal();
    const double thin = std::min(0.2, diagonal / 500);
    return {.thin_below = thin,
            .gap_below = thin,
            .short_below = std::min(0.01, diagonal / 10'000),
            .needle_above = 100,
            .tiny_below = std::pow(5 * thin, 3),
            .crack_below = usual_border_reach * diagonal};
}

static Result<Inspection> inspect_all(const Mesh& mesh, Progress& progress, const InspectOptions& options,
                                      const std::function<void(const Inspection&)>& quick) {
    using namespace inspect_detail;
    const auto start = Clock::now();
    Inspection out;
    out.options = options;
    out.mesh = welded(mesh);
    if (progress.cancelled()) return cancelled_error();
    const EdgeTable edges(out.mesh.faces.raw(), out.mesh.points.size());
    if (progress.cancelled()) return cancelled_error();
    CheckContext context{out.mesh, edges, nullptr, {}, out, out.findings, progress, options};

    struct Step {
        const char* name;
        void (*check)(CheckContext&);
        double until;
    };
    double from = 0;
    auto run = [&](std::initializer_list<Step> steps) {
        for (const Step& step : steps) {
            progress.stage(step.name, from, step.until);
            step.check(context);
            if (progress.cancelled()) return false;
            from = step.until;
        }
        return true;
    };
    bool complete = false;
    tbb::parallel_invoke([&] { out.measures = measure(out.mesh, edges); },
                         [&] {
                             find_loose_points(mesh, out);
                             complete = run({{"checking faces", check_faces, 0.1},
                                             {"checking edges", check_edges, 0.2},
                                             {"checking points", check_vertices, 0.25},
                                             {"checking sizes", check_sizes, 0.3},
                                             {"checking borders", check_borders, 0.33},
                                             {"looking for fins", check_fins, 0.34},
                                             {"looking for bodies that touch", check_touching, 0.35}});
                         });
    if (!complete) return cancelled_error();
    sum_up(out);
    out.seconds = since(start);
    if (quick) quick(out);
    const BoxTree tree(out.mesh.points.raw(), out.mesh.faces.raw());
    context.tree = &tree;
    if (!run({{"telling solids from sheets", check_form, 0.4},
              {"looking for crossing faces", check_crossings, 0.9},
              {"checking shells", check_shells, 0.95},
              {"looking for thin skins and gaps", check_thin_places, 1.0}}))
        return cancelled_error();
    sum_up(out);
    out.complete = true;
    out.seconds = since(start);
    return out;
}

Result<Inspection> inspect(const Mesh& mesh, Progress& progress, const InspectOptions& options,
                           const std::function<void(const Inspection&)>& quick) {
    return with_memory_checked([&] { return inspect_all(mesh, progress, options, quick); });
}

Rim measure_rim(const Mesh& mesh, std::span<const VertexId> rim) {
    Rim out;
    Vec3 middle;
    for (const VertexId v : rim) middle = middle + mesh.points[v] * (1.0 / static_cast<double>(rim.size()));
    for (std::size_t i = 0; i < rim.size(); ++i)
        out.length += norm(mesh.points[rim[(i + 1) % rim.size()]] - mesh.points[rim[i]]);
    const Vec3 normal = normalized(area_vector(mesh, rim));
    for (const VertexId v : rim) out.flatness = std::max(out.flatness, std::fabs(dot(mesh.points[v] - middle, normal)));
    return out;
}

std::vector<FaceId> faces_of(const Inspection& inspection, std::optional<FindingKind> kind) {
    std::vector<FaceId> faces;
    for (const Finding& f : inspection.findings)
        if (!kind || f.kind == *kind) faces.insert(faces.end(), f.faces.begin(), f.faces.end());
    std::ranges::sort(faces);
    faces.erase(std::unique(faces.begin(), faces.end()), faces.end());
    return faces;
}

Inspection joined(std::vector<Inspection> pieces) {
    if (pieces.size() == 1) return std::move(pieces.front());
    Inspection out;
    out.closed = out.print_ready = out.complete = !pieces.empty();
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
        out.complete = out.complete && piece.complete;
        out.options = piece.options;
        out.solids += piece.solids;
        out.sheets += piece.sheets;
        out.seconds += piece.seconds;
    }
    out.measures.closed = out.closed;
    out.form = out.mesh.empty() ? Form::empty : form_of(out.solids, out.sheets);
    std::stable_sort(out.findings.begin(), out.findings.end(),
                     [](const Finding& a, const Finding& b) { return a.kind < b.kind; });
    return out;
}

}  // namespace anvil
