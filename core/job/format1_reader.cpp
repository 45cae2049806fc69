#include "core/job/format1.h"
#include "core/job/job_json.h"
#include "core/mend/reaches.h"

namespace anvil::format1 {
namespace {

using namespace job_json;

HandEdit edit_from(const JsonValue& in) {
    HandEdit edit;
    edit.tool = known_word(in.at("tool"), hand_tool_from, "an edit by hand");
    if (const auto fill = in.find("fill")) edit.fill = known_word(*fill, fill_style_from, "a way to fill holes");
    read_if(in, "cell", edit.cell);
    edit.points = in.at("points").points();
    return edit;
}

Mending mending_from(const JsonValue& in) {
    Mending m;
    m.id = in.at("id").text();
    read_if(in, "on", m.on);
    for (const JsonValue& r : in.at("repairs").list()) m.repairs.push_back(known_word(r, repair_from, "a repair"));
    std::ranges::sort(m.repairs);
    MendOptions& o = m.options;
    std::vector<const char*> known{"id", "on", "answered", "edits", "repairs", "sheets", "fill", "places"};
    for (const Reach& reach : reaches()) {
        known.push_back(reach.name);
        if (const auto mm = in.find(reach.name))
            o.*reach.value = reach.may_be_less_than_none ? mm->number() : mm->size();
    }
    if (const auto sheets = in.find("sheets"))
        o.sheets = known_word(*sheets, sheet_rule_from, "a way to take sheets");
    else if (o.thickness > 0)  // before format 1.4 a thickness said so by itself
        o.sheets = SheetRule::thicken;
    if (const auto fill = in.find("fill")) o.fill = known_word(*fill, fill_style_from, "a way to fill holes");
    if (const auto places = in.find("places")) o.places = places->points();
    for (const JsonValue& e : in.list_or_none("edits")) m.edits.push_back(edit_from(e));
    for (const JsonValue& about : in.list_or_none("answered")) {
        if (const auto about_known = about_from(about.text()))
            m.answered.push_back(*about_known);
        else
            m.answered_elsewhere.push_back(about.text());
    }
    m.extra = in.without(known);
    return m;
}

Part part_of(const JsonValue& in, const MeshOfEntry& mesh) {
    Part part;
    part.id = in.at("id").text();
    part.name = in.at("name").text();
    if (part.id.empty() || part.id.find_first_of("/\\") != std::string::npos)
        refuse(in.where() + ": the id " + in_quotes(part.id) + " is empty, or holds a slash");
    part.placement = placement_from(in);
    auto read = mesh(in.at("mesh").text());
    if (!read) throw Bad{read.error()};
    part.mesh = std::move(*read);
    for (const JsonValue& m : in.list_or_none("mendings")) part.mendings.push_back(mending_from(m));
    if (const auto sheets = in.find("sheets")) {
        const SheetRule rule = known_word(*sheets, sheet_rule_from, "a way to take sheets");
        if (rule == SheetRule::thicken) refuse(sheets->where() + ": a part is thickened by a mending");
        part.closes_sheets = rule == SheetRule::close;
    }
    part.extra = in.without({"id", "name", "mesh", "position", "rotation", "sheets", "mendings"});
    return part;
}

Step step_of(const JsonValue& in, const Job& job) {
    Step step;
    step.id = in.at("id").text();
    step.part = in.at("part").text();
    read_if(in, "on", step.on);
    step.operation = known_word(in.at("operation"), operation_from, "a kind of step");
    if (!job.find_part(step.part))
        refuse("step " + in_quotes(step.id) + " uses a part that is not there: " + in_quotes(step.part),
               ErrorCode::bad_index);
    if (const auto depth = in.find("depth")) step.depth = depth->whole_number();
    const int possible = job.steps.empty() ? 0 : std::min(job.steps.back().depth + 1, deepest_bundle);
    if (step.depth < 0 || step.depth > possible)
        refuse("step " + in_quotes(step.id) + " lies in a bundle that is not there: its depth is " +
                   std::to_string(step.depth) + ", " + std::to_string(possible) + " is the deepest possible",
               ErrorCode::bad_index);
    step.extra = in.without({"id", "operation", "part", "on", "depth"});
    return step;
}

Job job_from(const JsonValue& in, const MeshOfEntry& mesh) {
    Job job;
    job.base = in.at("base").text();
    if (const auto settings = in.find("settings")) job.settings = settings_from(*settings);
    Ids part_ids("part"), step_ids("step"), mending_ids("mending");
    for (const JsonValue& p : in.at("parts").list()) {
        job.parts.push_back(part_of(p, mesh));
        part_ids.add(job.parts.back().id);
        for (const Mending& m : job.parts.back().mendings) mending_ids.add(m.id);
    }
    for (const JsonValue& s : in.at("steps").list()) {
        job.steps.push_back(step_of(s, job));
        step_ids.add(job.steps.back().id);
    }
    if (!job.parts.empty() && !job.find_part(job.base))
        refuse("the base is a part that is not there: " + in_quotes(job.base), ErrorCode::bad_index);
    job.extra = in.without({"format", "units", "base", "settings", "parts", "steps"});
    return job;
}

}  // namespace

Result<Job> read(std::string_view text, const MeshOfEntry& mesh) {
    return read_text<Job>(text, [&](const JsonValue& in) { return job_from(in, mesh); });
}

}  // namespace anvil::format1
