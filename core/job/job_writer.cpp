#include <cmath>
#include <nlohmann/json.hpp>

#include "core/job/job_file.h"
#include "core/job/job_text.h"

namespace anvil {
namespace {

using nlohmann::json;

json vec(const Vec3& v) { return {v.x, v.y, v.z}; }
json list(std::span<const Vec3> points) {
    json out = json::array();
    for (const Vec3& p : points) out.push_back(vec(p));
    return out;
}
/// What an earlier reader did not know, to begin with.
json begin_with(const Extra& extra) { return extra.empty() ? json::object() : json::parse(extra); }

json to_json(const HandEdit& e) {
    json out{{"tool", word(e.tool)}, {"points", list(e.points)}};
    if (e.tool == HandTool::fill_border) out["fill"] = word(e.fill);
    if (e.cell > 0) out["cell"] = e.cell;
    return out;
}

json to_json(const Mending& m) {
    json out = begin_with(m.extra);
    out["id"] = m.id;
    out["on"] = m.on;
    out["repairs"] = json::array();
    for (const Repair r : m.repairs) out["repairs"].push_back(word(r));
    const MendOptions& o = m.options;
    out["weld"] = o.weld_distance;
    out["min_shell"] = o.smallest_shell;
    out["sheets"] = word(o.sheets);
    out["thickness"] = o.thickness;
    out["fill"] = word(o.fill);
    out["bridge"] = o.bridge_within;
    for (const HandEdit& e : m.edits) out["edits"].push_back(to_json(e));
    for (const Question::About about : m.answered) out["answered"].push_back(word(about));
    for (const std::string& about : m.answered_elsewhere) out["answered"].push_back(about);
    // JSON has no infinity: what is not limited is left out.
    if (o.border_reach >= 0) out["border_reach"] = o.border_reach;
    if (std::isfinite(o.longest_hole)) out["max_hole"] = o.longest_hole;
    if (!o.places.empty()) out["places"] = list(o.places);
    return out;
}

json to_json(const JobSettings& s) {
    json out = begin_with(s.extra);
    if (s.import_unit) out["import_unit"] = word(*s.import_unit);
    // The usual is left out, unless a value that is not known here stands in its place.
    if (s.contact != ContactRule::separate) out["contact_rule"] = word(s.contact);
    if (s.merge_flush) out["merge_flush"] = true;
    if (!s.told_from.empty()) out["told_from"] = s.told_from;
    for (const auto& [part, findings] : s.accepted)
        for (const AcceptedFinding& f : findings)
            out["accepted"][part].push_back({{"kind", word(f.kind)}, {"place", vec(f.place)}});
    for (const auto& [part, extra] : s.accepted_extra)
        for (const json& f : json::parse(extra)) out["accepted"][part].push_back(f);
    return out;
}

json to_json(const Part& p) {
    json out = begin_with(p.extra);
    out["id"] = p.id;
    out["name"] = p.name;
    out["mesh"] = "parts/" + p.id + ".ply";
    out["position"] = vec(p.placement.position);
    out["rotation"] = vec(p.placement.angles);
    if (p.closes_sheets) out["sheets"] = word(SheetRule::close);
    for (const Mending& m : p.mendings) out["mendings"].push_back(to_json(m));
    return out;
}

json to_json(const Step& s) {
    json out = begin_with(s.extra);
    out["id"] = s.id;
    out["operation"] = word(s.operation);
    out["part"] = s.part;
    out["on"] = s.on;
    out["depth"] = s.depth;
    return out;
}

}  // namespace

std::string job_text(const Job& job) {
    json out = begin_with(job.extra);
    out["format"] = {{"major", job_format_major}, {"minor", job_format_minor}};
    out["units"] = "mm";
    out["base"] = job.base;
    out["settings"] = to_json(job.settings);
    out["parts"] = json::array();
    for (const Part& p : job.parts) out["parts"].push_back(to_json(p));
    out["steps"] = json::array();
    for (const Step& s : job.steps) out["steps"].push_back(to_json(s));
    // A name that is no UTF-8, as a file's name may be, loses those bytes, and nothing else.
    return out.dump(2, ' ', false, json::error_handler_t::replace) + "\n";
}

}  // namespace anvil
