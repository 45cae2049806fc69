#include "cli/report.h"

#include <cstdio>
#include <nlohmann/json.hpp>

#include "cli/shared.h"
#include "core/base/number_text.h"
#include "core/base/plain_text.h"

namespace anvil::cli {
namespace {
Json array(const Vec3& p) { return {p.x, p.y, p.z}; }
}  // namespace

Json curve_facts(std::span<const CrossingCurve> curves) {
    Json out = Json::array();
    for (const CrossingCurve& c : curves)
        out.push_back({{"operands", {c.a + 1, c.b + 1}},
                       {"closed", c.closed},
                       {"points", c.points.size()},
                       {"length", c.length()},
                       {"start", array(c.points.front())}});
    return out;
}

Json flush_facts(std::span<const FlushArea> areas) {
    Json out = Json::array();
    for (const FlushArea& f : areas)
        out.push_back(
            {{"operands", {f.a + 1, f.b + 1}}, {"facing", f.facing}, {"area", f.area}, {"place", array(f.place)}});
    return out;
}

Json hole_facts(std::span<const ClosedHole> holes) {
    Json out = Json::array();
    for (const ClosedHole& h : holes)
        out.push_back({{"operand", h.operand + 1}, {"edges", h.rim.size()}, {"place", array(h.rim.front())}});
    return out;
}

std::string summary(const Inspection& inspection) {
    const Measures& m = inspection.measures;
    char line[256];
    std::string out = count_text(m.vertices, "point", "points") + ", " + count_text(m.triangles, "face", "faces") +
                      ", " + count_text(m.shells, "shell", "shells") + "; ";
    // What is open encloses no volume.
    if (inspection.closed) {
        std::snprintf(line, sizeof line, "volume %.6g mm³, ", m.volume);
        out += line;
    }
    std::snprintf(line, sizeof line, "area %.6g mm²\n", m.area);
    out += line;
    if (!inspection.mesh.empty()) out += form_sentence(inspection) + "\n";
    for (int k = 0; k < finding_kinds; ++k)
        if (const std::size_t n = inspection.counts[static_cast<std::size_t>(k)]) {
            std::snprintf(line, sizeof line, "  %8zu %s", n,
                          std::string(plain_name(static_cast<FindingKind>(k), n)).c_str());
            out += line;
            out += threshold_text(inspection, static_cast<FindingKind>(k)) + "\n";
        }
    out += inspection.print_ready    ? "print-ready\n"
           : inspection.mesh.empty() ? "empty: there are no faces\n"
                                     : "not print-ready\n";
    return out;
}

Result<FoundBodies> inspected(std::span<const NamedMesh> bodies, Progress& progress, const std::string& file) {
    FoundBodies out;
    for (const NamedMesh& body : bodies) {
        auto found = file.empty() ? inspect(body.mesh, progress, usual_options(body.mesh))
                                  : inspect_written(body.mesh, file, progress);
        if (!found) return found.error();
        out.names.push_back(body.name);
        out.each.push_back(std::move(*found));
    }
    if (out.each.size() == 1)
        out.whole = std::move(out.each.front()), out.each.clear();
    else
        out.whole = joined(out.each);
    return out;
}

Json facts_of(const FoundBodies& found, const std::string& file) {
    Json out = facts(found.whole, file);
    if (found.each.empty()) return out;
    out["bodies"] = Json::array();
    for (std::size_t k = 0; k < found.each.size(); ++k) {
        out["bodies"].push_back(facts(found.each[k], file));
        out["bodies"].back()["name"] = found.names[k];
    }
    return out;
}

std::string summary(const FoundBodies& found) {
    if (found.each.empty()) return summary(found.whole);
    std::string out = std::to_string(found.each.size()) + " bodies, each judged by itself\n";
    for (std::size_t k = 0; k < found.each.size(); ++k)
        out += in_quotes(found.names[k]) + ": " + summary(found.each[k]);
    return out;
}

std::string table_heading() { return "     faces   shells        volume  findings  file\n"; }

std::string table_line(const std::string& file, const Inspection* inspection) {
    char line[96];
    if (!inspection) {
        std::snprintf(line, sizeof line, "%10s %8s %13s  %8s  ", "-", "-", "-", "-");
        return line + on_one_line(file) + "  (it cannot be read)\n";
    }
    const Measures& m = inspection->measures;
    std::size_t findings = 0;
    for (int k = 0; k < finding_kinds; ++k)
        if (is_fault(static_cast<FindingKind>(k))) findings += inspection->counts[static_cast<std::size_t>(k)];
    char volume[24] = "open";
    if (inspection->closed) std::snprintf(volume, sizeof volume, "%.6g", m.volume);
    std::snprintf(line, sizeof line, "%10zu %8u %13s  %8zu  ", m.triangles, m.shells, volume, findings);
    return line + on_one_line(file) +
           (inspection->print_ready ? "  print-ready\n"
            : m.triangles == 0      ? "  empty\n"
                                    : "\n");
}

std::string json_text(const Json& json) { return json.dump(2, ' ', false, Json::error_handler_t::replace) + "\n"; }

}  // namespace anvil::cli
