#include "cli/report.h"

#include <cstdio>

#include "core/io/mesh_file.h"

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
    std::snprintf(line, sizeof line, "%zu points, %zu faces, %u shells; volume %.6g mm3, area %.6g mm2\n", m.vertices,
                  m.triangles, m.shells, m.volume, m.area);
    std::string out = line;
    if (!inspection.mesh.empty()) out += form_sentence(inspection) + "\n";
    for (int k = 0; k < finding_kinds; ++k)
        if (const std::size_t n = inspection.counts[static_cast<std::size_t>(k)]) {
            std::snprintf(line, sizeof line, "  %8zu %s", n, std::string(word(static_cast<FindingKind>(k))).c_str());
            out += line;
            out += threshold_text(inspection, static_cast<FindingKind>(k)) + "\n";
        }
    out += inspection.print_ready    ? "print-ready\n"
           : inspection.mesh.empty() ? "empty: there are no faces\n"
                                     : "not print-ready\n";
    return out;
}

Result<void> write_json(const Json& json, const std::string& file) {
    const std::string text = json.dump(2) + "\n";
    if (file == "-") {
        std::fputs(text.c_str(), stdout);
        return {};
    }
    return write_file(text, file);
}

}  // namespace anvil::cli
