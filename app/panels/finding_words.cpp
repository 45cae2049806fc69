#include "app/panels/finding_words.h"

#include <QCoreApplication>
#include <cmath>

#include "app/panels/measures_table.h"
#include "app/words.h"
#include "core/job/quantity.h"

namespace anvil::app {

FindingWords words_of(FindingKind kind) {
    using K = FindingKind;
    auto tr = [](const char* text) { return QCoreApplication::translate("findings", text); };
    auto named = [&](const QString& meaning) {
        return FindingWords{tr(plain_name(kind, 1).data()), tr(plain_name(kind, 2).data()), meaning};
    };
    switch (kind) {
        case K::open_edges: return named(tr("An edge with a face on one side only: the skin ends there."));
        case K::holes: return named(tr("A closed loop of open edges."));
        case K::nonmanifold_edges:
            return named(tr("More than two faces share the edge: inside and outside cannot be told apart."));
        case K::nonmanifold_vertices: return named(tr("Fans of faces that meet in a single point only."));
        case K::misoriented_edges: return named(tr("The two faces look to different sides."));
        case K::zero_length_edges: return named(tr("Both ends are the same point."));
        case K::degenerate_faces: return named(tr("Three corners in one line."));
        case K::duplicate_faces: return named(tr("A face that is there twice."));
        case K::self_intersections: return named(tr("Two faces that run through or lie on each other."));
        case K::t_junctions: return named(tr("A point lies on an open edge without being joined to it."));
        case K::interior_faces: return named(tr("Material on both sides."));
        case K::inverted_shells: return named(tr("Its faces look inward."));
        case K::thin_skins:
            return named(tr("Two walls nearer to each other than a print can show. Sound, but worth a look."));
        case K::doubled_faces:
            return named(tr("Two faces on the same corners that look apart, as an extrusion of no depth leaves them."));
        case K::fins: return named(tr("Faces that hang on the surface by one side only, and enclose nothing."));
        case K::cracks: return named(tr("Open edges that lie beside others without being joined to them."));
        case K::stray_sheets: return named(tr("A surface that encloses nothing, beside a solid."));
        case K::touching_bodies: return named(tr("Closed bodies that share points or edges, and nothing else."));
        case K::tiny_shells: return named(tr("Closed bodies too small to matter; often dust of a scan."));
        case K::narrow_gaps:
            return named(tr("Two walls with less air between them than a print keeps open. Sound, but worth a look."));
        case K::short_edges: return named(tr("Shorter than a print can show."));
        case K::needle_faces: return named(tr("Many times as long as high. Sound, but it shades badly."));
        case K::loose_points: return named(tr("No face uses it."));
    }
    return {};
}

static const std::vector<Threshold>& thresholds() {
    using K = FindingKind;
    using O = InspectOptions;
    auto tr = [](const char* text) { return QCoreApplication::translate("findings", text); };
    static const std::vector<Threshold> all = {
        {K::thin_skins, "thin_below", &O::thin_below, tr("Listed: walls under")},
        {K::narrow_gaps, "gap_below", &O::gap_below, tr("Listed: gaps under")},
        {K::short_edges, "short_below", &O::short_below, tr("Listed: edges under")},
        {K::needle_faces, "needle_above", &O::needle_above, tr("Listed: length by height over"), false},
        {K::tiny_shells, "tiny_below", &O::tiny_below, tr("Listed: smaller than a cube of"), true, true},
        {K::cracks, "crack_below", &O::crack_below, tr("Listed: borders within")}};
    return all;
}
const Threshold* threshold_of(std::optional<FindingKind> kind) {
    for (const Threshold& t : thresholds())
        if (kind == t.kind) return &t;
    return nullptr;
}
QString threshold_text(const Threshold& t, const InspectOptions& options) {
    const double value = t.is_cube ? std::cbrt(options.*t.field) : options.*t.field;
    return t.is_length ? QString::fromStdString(format_quantity(value, Unit::millimetre)) : QString::number(value);
}

QString about(const Inspection& inspection, const Finding& at) {
    const InspectOptions& o = inspection.options;
    const Mesh& mesh = inspection.mesh;
    auto tr = [](const char* text) { return QCoreApplication::translate("findings", text); };
    auto mm = [](double v) { return QString::number(v, 'g', 3); };
    switch (at.kind) {
        case FindingKind::thin_skins:
            return tr("A skin of %1 mm at its thinnest, over %2. Walls under %3 mm are listed.")
                .arg(mm(at.thickness), area_text(at.area), mm(o.thin_below));
        case FindingKind::narrow_gaps:
            return tr("A gap of %1 mm at its narrowest, over %2. Gaps under %3 mm are listed.")
                .arg(mm(at.thickness), area_text(at.area), mm(o.gap_below));
        case FindingKind::holes: {
            const Rim rim = measure_rim(mesh, at.vertices);
            return (at.of_sheet ? tr("The border of a sheet: ") : QString()) +
                   tr("%1 edges, %2 mm round the rim, %3.")
                       .arg(at.vertices.size())
                       .arg(mm(rim.length), rim.flatness < 1e-6 * rim.length
                                                ? tr("flat")
                                                : tr("out of flat by %1 mm").arg(mm(rim.flatness)));
        }
        case FindingKind::short_edges:
            return tr("%1 mm long. Edges under %2 mm are listed.")
                .arg(mm(norm(mesh.points[at.vertices[1]] - mesh.points[at.vertices[0]])), mm(o.short_below));
        case FindingKind::needle_faces:
            return words_of(at.kind).meaning + " " + tr("Faces over %1 times are listed.").arg(mm(o.needle_above));
        case FindingKind::tiny_shells:
            return tr("%1. Shells under %2 mm³ are listed.")
                .arg(counted(at.faces.size(), tr("face"), tr("faces")), mm(o.tiny_below));
        case FindingKind::cracks:
            return words_of(at.kind).meaning + " " + tr("Those within %1 mm are listed.").arg(mm(o.crack_below));
        case FindingKind::fins:
        case FindingKind::stray_sheets:
            return words_of(at.kind).meaning + " " + counted(at.faces.size(), tr("face"), tr("faces")) + ".";
        default: return words_of(at.kind).meaning;
    }
}

}  // namespace anvil::app
