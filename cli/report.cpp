#include "cli/report.h"

#include <algorithm>
#include <cmath>
#include <cstdio>

#include "core/io/mesh_file.h"

namespace anvil::cli {
namespace {
Json array(const Vec3& p) { return {p.x, p.y, p.z}; }
}  // namespace

Json facts(const Measures& m, const std::string& file) {
    const Box box = m.bounds.empty() ? Box{{}, {}} : m.bounds;
    return {{"file", file},
            {"vertices", m.vertices},
            {"triangles", m.triangles},
            {"shells", m.shells},
            {"volume", m.volume},
            {"area", m.area},
            {"bounds", {array(box.low), array(box.high)}}};
}

Json facts(const Inspection& inspection, const std::string& file) {
    Json json = facts(inspection.measures, file);
    json["print_ready"] = inspection.print_ready;
    Json findings = Json::object();
    for (int k = 0; k < finding_kinds; ++k)
        findings[std::string(word(static_cast<FindingKind>(k)))] = inspection.counts[static_cast<std::size_t>(k)];
    json["findings"] = std::move(findings);
    json["thin_below"] = inspection.thin_below;
    Json skins = Json::array();
    for (const Finding& f : inspection.findings)
        if (f.kind == FindingKind::thin_skins)
            skins.push_back({{"place", array(f.place)}, {"thickness", f.thickness}, {"area", f.area}});
    json["thin_skins"] = std::move(skins);
    return json;
}

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
    for (int k = 0; k < finding_kinds; ++k)
        if (const std::size_t n = inspection.counts[static_cast<std::size_t>(k)]) {
            std::snprintf(line, sizeof line, "  %8zu %s", n, std::string(word(static_cast<FindingKind>(k))).c_str());
            out += line;
            if (static_cast<FindingKind>(k) == FindingKind::thin_skins) {
                double thinnest = HUGE_VAL;
                for (const Finding& f : inspection.findings)
                    if (f.kind == FindingKind::thin_skins) thinnest = std::min(thinnest, f.thickness);
                std::snprintf(line, sizeof line, " under %.3g mm, the thinnest %.3g mm", inspection.thin_below,
                              thinnest);
                out += line;
            }
            out += "\n";
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
