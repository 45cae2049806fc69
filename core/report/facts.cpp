#include "core/report/facts.h"

#include <algorithm>
#include <nlohmann/json.hpp>

#include "core/base/number_text.h"

namespace anvil {
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

Measures measures_at(const Inspection& inspection, const Transform& stands) {
    Measures out = inspection.measures;
    if (!stands.isApprox(Transform::Identity(), 0)) out.bounds = bounds(transformed(inspection.mesh, stands));
    return out;
}

Json facts(const Inspection& inspection, const std::string& file, const Transform& stands) {
    Json json = facts(measures_at(inspection, stands), file);
    json["print_ready"] = inspection.print_ready;
    Json findings = Json::object();
    for (int k = 0; k < finding_kinds; ++k)
        findings[std::string(word(static_cast<FindingKind>(k)))] = inspection.counts[static_cast<std::size_t>(k)];
    json["findings"] = std::move(findings);
    json["closed"] = inspection.closed;
    json["sheet_borders"] = std::ranges::count_if(inspection.findings, &Finding::of_sheet);
    json["form"] = word(inspection.form);
    const InspectOptions& o = inspection.options;
    json["thin_below"] = o.thin_below;
    json["gap_below"] = o.gap_below;
    json["short_below"] = o.short_below;
    json["needle_above"] = o.needle_above;
    json["tiny_below"] = o.tiny_below;
    json["crack_below"] = o.crack_below;
    for (const auto& [kind, name] :
         {std::pair{FindingKind::thin_skins, "thin_skins"}, {FindingKind::narrow_gaps, "narrow_gaps"}}) {
        Json places = Json::array();
        for (const Finding& f : inspection.findings)
            if (f.kind == kind)
                places.push_back(
                    {{"place", array(apply(stands, f.place))}, {"thickness", f.thickness}, {"area", f.area}});
        json[name] = std::move(places);
    }
    return json;
}

Json facts(const Acceptance& acceptance) {
    Json json = Json::object();
    for (int k = 0; k < finding_kinds; ++k)
        if (const auto kind = static_cast<FindingKind>(k); acceptance.count(kind) > 0)
            json[std::string(word(kind))] = acceptance.count(kind);
    return json;
}

Json facts(std::span<const Repaired> repairs, const Transform& stands) {
    Json list = Json::array();
    for (const Repaired& r : repairs) {
        Json places = Json::array();
        for (const Vec3& p : r.places) places.push_back(array(apply(stands, p)));
        list.push_back({{"repair", word(r.repair)},
                        {"changed", r.changed},
                        {"largest_move", r.largest_move},
                        {"said", r.said},
                        {"places", std::move(places)}});
    }
    return list;
}

std::string threshold_text(const Inspection& inspection, FindingKind kind) {
    const InspectOptions& o = inspection.options;
    double least = HUGE_VAL;
    for (const Finding& f : inspection.findings)
        if (f.kind == kind) least = std::min(least, f.thickness);
    using K = FindingKind;
    switch (kind) {
        case K::thin_skins:
            return " under " + short_text(o.thin_below) + " mm, the thinnest " + short_text(least) + " mm";
        case K::narrow_gaps:
            return " under " + short_text(o.gap_below) + " mm, the narrowest " + short_text(least) + " mm";
        case K::short_edges: return " under " + short_text(o.short_below) + " mm";
        case K::needle_faces: return " over " + short_text(o.needle_above) + " times as long as high";
        case K::tiny_shells: return " under " + short_text(o.tiny_below) + " mm³";
        case K::cracks: return " within " + short_text(o.crack_below) + " mm of another border";
        default: return "";
    }
}

}  // namespace anvil
