#include <cmath>
#include <nlohmann/json.hpp>
#include <set>

#include "core/arrange/operand.h"
#include "core/base/plain_text.h"
#include "core/job/bundles.h"
#include "core/job/job_file.h"
#include "core/job/job_text.h"

namespace anvil {
namespace {

using nlohmann::json;

/// How deep objects and lists may lie in each other: what copies them goes down as deep.
constexpr int deepest = 64;

/// Thrown and caught within this file.
struct Bad {
    Error error;
};
[[noreturn]] void refuse(std::string text, ErrorCode code = ErrorCode::bad_syntax) {
    throw Bad{{code, std::move(text), ""}};
}

/// A value of the file, with the way to it for sentences: "parts[2].position".
class JsonValue {
  public:
    JsonValue(const json& value, std::string where) : value_(&value), where_(std::move(where)) {}

    const std::string& where() const { return where_; }
    std::optional<JsonValue> find(const char* key) const {
        if (!value_->is_object()) refuse(where_ + " should be an object");
        const auto at = value_->find(key);
        if (at == value_->end()) return std::nullopt;
        return JsonValue(*at, where_ == top ? key : where_ + "." + key);
    }
    JsonValue at(const char* key) const {
        const auto found = find(key);
        if (!found) refuse(where_ + " has no " + in_quotes(key));
        return *found;
    }
    std::vector<JsonValue> list() const {
        if (!value_->is_array()) refuse(where_ + " should be a list");
        std::vector<JsonValue> out;
        for (const json& element : *value_) out.emplace_back(element, where_ + "[" + std::to_string(out.size()) + "]");
        return out;
    }
    std::vector<JsonValue> list_or_none(const char* key) const {
        const auto found = find(key);
        return found ? found->list() : std::vector<JsonValue>();
    }
    /// The members of an object, each by its name.
    std::vector<std::pair<std::string, JsonValue>> members() const {
        if (!value_->is_object()) refuse(where_ + " should be an object");
        std::vector<std::pair<std::string, JsonValue>> out;
        for (const auto& [key, element] : value_->items())
            out.emplace_back(key, JsonValue(element, where_ + "." + on_one_line(key)));
        return out;
    }
    std::string text() const {
        if (!value_->is_string()) refuse(where_ + " should be a text");
        return value_->get<std::string>();
    }
    bool truth() const {
        if (!value_->is_boolean()) refuse(where_ + " should be true or false");
        return value_->get<bool>();
    }
    /// Finite, and no larger than coordinates may be.
    double number() const {
        if (!value_->is_number()) refuse(where_ + " should be a number");
        const double v = value_->get<double>();
        if (!(std::fabs(v) < largest_coordinate)) refuse(where_ + " is beyond 1e300, where numbers end");
        return v;
    }
    double size() const {
        const double v = number();
        if (v < 0) refuse(where_ + " is a size below zero");
        return v;
    }
    int whole_number() const {
        if (!value_->is_number_integer()) refuse(where_ + " should be a whole number");
        const auto v = value_->get<std::int64_t>();
        if (value_->is_number_unsigned() && value_->get<std::uint64_t>() > 1'000'000'000u)
            refuse(where_ + " is too large a number");
        if (v < -1'000'000'000 || v > 1'000'000'000) refuse(where_ + " is too large a number");
        return static_cast<int>(v);
    }
    Vec3 point() const {
        const auto xyz = list();
        if (xyz.size() != 3) refuse(where_ + " should hold three numbers");
        return {xyz[0].number(), xyz[1].number(), xyz[2].number()};
    }
    std::vector<Vec3> points() const {
        std::vector<Vec3> out;
        for (const JsonValue& p : list()) out.push_back(p.point());
        return out;
    }
    /// The object without what is known of it.
    Extra without(std::initializer_list<const char*> known) const { return without(std::vector<const char*>(known)); }
    Extra without(const std::vector<const char*>& known) const {
        if (!value_->is_object()) refuse(where_ + " should be an object");
        json rest = *value_;
        for (const char* key : known) rest.erase(key);
        return rest.empty() ? Extra() : rest.dump();
    }
    std::string as_text() const { return value_->dump(); }

    static constexpr const char* top = "job.json";

  private:
    const json* value_;
    std::string where_;
};

void read_if(const JsonValue& in, const char* key, double& to) {
    if (const auto v = in.find(key)) to = v->size();
}
void read_if(const JsonValue& in, const char* key, bool& to) {
    if (const auto v = in.find(key)) to = v->truth();
}

/// A word of a list that this version knows, or a sentence.
template <class Parse>
auto known_word(const JsonValue& in, const Parse& parse, const char* what) {
    const std::string text = in.text();
    const auto known = parse(text);
    if (!known) refuse(in.where() + ": " + what + " unknown here: " + in_quotes(text), ErrorCode::newer_version);
    return *known;
}

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
    read_if(in, "weld", o.weld_distance);
    if (const auto reach = in.find("border_reach")) o.border_reach = reach->number();
    read_if(in, "max_hole", o.longest_hole);
    read_if(in, "min_shell", o.smallest_shell);
    read_if(in, "thickness", o.thickness);
    if (const auto sheets = in.find("sheets"))
        o.sheets = known_word(*sheets, sheet_rule_from, "a way to take sheets");
    else if (o.thickness > 0)  // before format 1.4 a thickness said so by itself
        o.sheets = SheetRule::thicken;
    read_if(in, "bridge", o.bridge_within);
    if (const auto fill = in.find("fill")) o.fill = known_word(*fill, fill_style_from, "a way to fill holes");
    if (const auto places = in.find("places")) o.places = places->points();
    for (const JsonValue& e : in.list_or_none("edits")) m.edits.push_back(edit_from(e));
    for (const JsonValue& about : in.list_or_none("answered")) {
        if (const auto known = about_from(about.text()))
            m.answered.push_back(*known);
        else
            m.answered_elsewhere.push_back(about.text());
    }
    m.extra = in.without({"id", "on", "answered", "edits", "repairs", "weld", "border_reach", "max_hole", "min_shell",
                          "sheets", "thickness", "bridge", "fill", "places"});
    return m;
}

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

Part part_from(const JsonValue& in, const MeshOfEntry& mesh) {
    Part part;
    part.id = in.at("id").text();
    part.name = in.at("name").text();
    if (part.id.empty() || part.id.find_first_of("/\\") != std::string::npos)
        refuse(in.where() + ": the id " + in_quotes(part.id) + " is empty, or holds a slash");
    part.placement = {in.at("position").point(), in.at("rotation").point()};
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

Step step_from(const JsonValue& in, const Job& job) {
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

/// Ids are names of things: each stands for one.
class Ids {
  public:
    explicit Ids(const char* what) : what_(what) {}
    void add(const std::string& id) {
        if (id.empty() || !known_.insert(id).second)
            refuse(std::string("the id ") + in_quotes(id) + " of a " + what_ + " is empty or used twice");
    }

  private:
    const char* what_;
    std::set<std::string> known_;
};

Job job_from(const JsonValue& in, const MeshOfEntry& mesh) {
    const int major = in.at("format").at("major").whole_number();
    if (major < 1) refuse("format.major is " + std::to_string(major) + "; there is no such format");
    if (major > job_format_major)
        refuse("this job was saved by a newer version (format " + std::to_string(major) + ", known is " +
                   std::to_string(job_format_major) + "); update to open it",
               ErrorCode::newer_version);
    Job job;
    job.base = in.at("base").text();
    if (const auto settings = in.find("settings")) job.settings = settings_from(*settings);
    Ids part_ids("part"), step_ids("step"), mending_ids("mending");
    for (const JsonValue& p : in.at("parts").list()) {
        job.parts.push_back(part_from(p, mesh));
        part_ids.add(job.parts.back().id);
        for (const Mending& m : job.parts.back().mendings) mending_ids.add(m.id);
    }
    for (const JsonValue& s : in.at("steps").list()) {
        job.steps.push_back(step_from(s, job));
        step_ids.add(job.steps.back().id);
    }
    if (!job.parts.empty() && !job.find_part(job.base))
        refuse("the base is a part that is not there: " + in_quotes(job.base), ErrorCode::bad_index);
    job.extra = in.without({"format", "units", "base", "settings", "parts", "steps"});
    return job;
}

/// The line of a byte, from 1.
std::size_t line_of(std::string_view text, std::size_t byte) {
    return 1 + static_cast<std::size_t>(std::ranges::count(text.substr(0, byte), '\n'));
}

}  // namespace

Result<Job> job_from_text(std::string_view text, const MeshOfEntry& mesh) {
    try {
        const json parsed = json::parse(text, [](int depth, json::parse_event_t, json&) {
            if (depth > deepest)
                refuse("job.json holds objects or lists more than " + std::to_string(deepest) + " deep in each other");
            return true;
        });
        return job_from(JsonValue(parsed, JsonValue::top), mesh);
    } catch (const Bad& bad) {
        return bad.error;
    } catch (const json::parse_error& e) {
        return Error{ErrorCode::bad_syntax, "job.json is no JSON, or damaged",
                     "line " + std::to_string(line_of(text, e.byte))};
    } catch (const json::exception&) {  // a number beyond all range, say
        return Error{ErrorCode::bad_syntax, "job.json holds a value that cannot be read", ""};
    }
}

}  // namespace anvil
