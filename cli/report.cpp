#include "cli/report.h"

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
    return json;
}

std::string summary(const Inspection& inspection) {
    const Measures& m = inspection.measures;
    char line[256];
    std::snprintf(line, sizeof line, "%zu points, %zu faces, %u shells; volume %.6g mm3, area %.6g mm2\n", m.vertices,
                  m.triangles, m.shells, m.volume, m.area);
    std::string out = line;
    for (int k = 0; k < finding_kinds; ++k)
        if (const std::size_t n = inspection.counts[static_cast<std::size_t>(k)]) {
            std::snprintf(line, sizeof line, "  %8zu %s\n", n, std::string(word(static_cast<FindingKind>(k))).c_str());
            out += line;
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
