#include "core/job/job_json.h"

namespace anvil::job_json {

JobSettings settings_from(const JsonValue& in) {
    JobSettings out;
    std::vector<const char*> known{"merge_flush", "told_from", "accepted"};
    // A word that is not known here is kept, and the usual holds.
    if (const auto unit = in.find("import_unit"))
        if ((out.import_unit = import_unit_from(unit->text()))) known.push_back("import_unit");
    if (const auto rule = in.find("contact_rule"))
        if (const auto contact = contact_rule_from(rule->text())) {
            out.contact = *contact;
            known.push_back("contact_rule");
        }
    read_if(in, "merge_flush", out.merge_flush);
    if (const auto told = in.find("told_from"))
        for (const auto& [name, value] : told->members()) out.told_from[name] = value.size();
    if (const auto accepted = in.find("accepted"))
        for (const auto& [part, findings] : accepted->members()) {
            json elsewhere = json::array();
            for (const JsonValue& f : findings.list()) {
                if (const auto kind = finding_kind_from(f.at("kind").text()))
                    out.accepted[part].push_back({*kind, f.at("place").point()});
                else
                    elsewhere.push_back(json::parse(f.as_text()));
            }
            if (!elsewhere.empty()) out.accepted_extra[part] = elsewhere.dump();
        }
    out.extra = in.without(known);
    return out;
}

Placement placement_from(const JsonValue& in) { return {in.at("position").point(), in.at("rotation").point()}; }

json list(std::span<const Vec3> points) {
    json out = json::array();
    for (const Vec3& p : points) out.push_back(vec(p));
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

}  // namespace anvil::job_json
