#include "core/job/job_file.h"
#include "core/job/job_json.h"
#include "core/job/job_text.h"

namespace anvil {
namespace {

using namespace job_json;

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
    out["settings"] = job_json::to_json(job.settings);
    out["parts"] = json::array();
    for (const Part& p : job.parts) out["parts"].push_back(to_json(p));
    out["steps"] = json::array();
    for (const Step& s : job.steps) out["steps"].push_back(to_json(s));
    return as_text(out);
}

}  // namespace anvil
