#include <charconv>
#include <map>

#include "core/job/format1.h"
#include "core/job/job_json.h"
#include "core/job/job_text.h"

namespace anvil {
namespace {

using namespace job_json;

Anchor anchor_from(const JsonValue& in) {
    static const std::map<std::string, ElementKind, std::less<>> kinds{
        {"points", ElementKind::points}, {"edges", ElementKind::edges}, {"faces", ElementKind::faces}};
    Anchor out;
    const auto kind = kinds.find(in.at("of").text());
    if (kind == kinds.end()) refuse(in.where() + " holds neither points nor edges nor faces");
    out.kind = kind->second;
    for (const JsonValue& tag : in.at("tags").list()) {
        const auto parts = tag.list();
        if (parts.size() != 3) refuse(tag.where() + " should be a use, a maker and a key");
        const std::string key = parts[2].text();
        std::uint64_t local = 0;
        const auto [end, error] = std::from_chars(key.data(), key.data() + key.size(), local, 16);
        if (error != std::errc() || end != key.data() + key.size()) refuse(parts[2].where() + " should be a key");
        out.tags.push_back({parts[0].text(), parts[1].text(), local});
    }
    std::ranges::sort(out.tags);
    out.points = in.at("points").points();
    read_if(in, "whole", out.whole);
    read_if(in, "size", out.size);
    read_if(in, "apart", out.apart);
    if (const auto alike = in.find("alike")) {
        const int n = alike->whole_number();
        if (n < 1) refuse(alike->where() + " is below 1");
        out.alike = static_cast<std::uint32_t>(n);
    }
    if (out.points.empty() || (out.tags.empty() && out.whole)) refuse(in.where() + " holds on to nothing");
    if (!out.whole && out.points.size() % static_cast<std::size_t>(points_of(out.kind)) != 0)
        refuse(in.where() + ".points name no whole elements");
    if (out.kind == ElementKind::faces && out.tags.size() != 1) refuse(in.where() + " is of faces with one tag each");
    return out;
}

/// A value of the type that the field has.
Value value_from(const JsonValue& in, const Field& field) {
    return std::visit(
        [&](const auto& usual) -> Value {
            using T = std::remove_cvref_t<decltype(usual)>;
            if constexpr (std::is_same_v<T, bool>) return in.truth();
            if constexpr (std::is_same_v<T, std::int64_t>) return std::int64_t{in.whole_number()};
            if constexpr (std::is_same_v<T, double>) return in.number();
            if constexpr (std::is_same_v<T, std::string>) return in.text();
            if constexpr (std::is_same_v<T, std::vector<Vec3>>) return in.points();
            if constexpr (std::is_same_v<T, Vec3>) return in.point();
            if constexpr (std::is_same_v<T, std::vector<Anchor>>) {
                std::vector<Anchor> out;
                for (const JsonValue& anchor : in.list()) out.push_back(anchor_from(anchor));
                return out;
            }
            if constexpr (std::is_same_v<T, std::vector<std::string>>) {
                std::vector<std::string> out;
                for (const JsonValue& word : in.list()) out.push_back(word.text());
                return out;
            }
        },
        field.usual);
}

/// `kind`: null where it is not known here.
void read_values(const JsonValue& in, const Kind* kind, Values& values, Extra& not_known) {
    json unknown = json::object();
    for (const auto& [name, value] : in.members())
        if (const Field* field = kind ? kind->find_field(name) : nullptr)
            values[name] = value_from(value, *field);
        else
            unknown[name] = json::parse(value.as_text());
    if (!unknown.empty()) not_known = unknown.dump();
    if (kind)
        if (const auto checked = check_values(*kind, values); !checked)
            refuse(in.where() + ": " + checked.error().text);
}

/// A shape, or copies. `find`: its kind by the word.
template <class Made>
Made of_kind(const JsonValue& in, const Kind* (*find)(std::string_view)) {
    Made out{.kind = in.at("kind").text()};
    if (const auto values = in.find("values")) read_values(*values, find(out.kind), out.values, out.unknown);
    out.extra = in.without({"kind", "values"});
    return out;
}

Copies copies_from(const JsonValue& in) {
    auto out = of_kind<Copies>(in, find_copies);
    if (const auto frame = in.find("frame")) out.frame = placement_from(*frame);
    out.extra = in.without({"kind", "values", "frame"});
    return out;
}

Use use_from(const JsonValue& in) {
    Use out{.part = in.at("part").text(), .placement = placement_from(in)};
    if (const auto sheets = in.find("sheets")) {
        const SheetRule rule = known_word(*sheets, sheet_rule_from, "a way to take sheets");
        if (rule == SheetRule::thicken) refuse(sheets->where() + ": a part is thickened by a step of its own");
        out.closes_sheets = rule == SheetRule::close;
    }
    if (const auto copies = in.find("copies")) out.copies = copies_from(*copies);
    out.extra = in.without({"part", "position", "rotation", "sheets", "copies"});
    return out;
}

Link link_from(const JsonValue& in) {
    Link out{.part = in.at("part").text()};
    if (const auto as_of = in.find("as_of")) out.as_of = as_of->text();
    if (const auto piece = in.find("piece")) {
        const int number = piece->at("number").whole_number(), count = piece->at("count").whole_number();
        if (number < 0 || number >= count) refuse(piece->where() + " is no piece of so many");
        out.piece = PieceOf{static_cast<std::uint32_t>(number), static_cast<std::uint32_t>(count),
                            piece->at("middle").point(), piece->at("volume").number()};
    }
    out.extra = in.without({"part", "as_of", "piece"});
    return out;
}

Steps steps_from(const JsonValue& in, Ids& ids);

std::shared_ptr<const Step> step_from(const JsonValue& in, Ids& ids) {
    Step step{.id = in.at("id").text(), .kind = in.at("kind").text()};
    ids.add(step.id);
    read_if(in, "on", step.on);
    read_if(in, "unlinked", step.unlinked);
    if (const auto values = in.find("values")) read_values(*values, find_kind(step.kind), step.values, step.unknown);
    if (const auto operand = in.find("operand")) step.operand = use_from(*operand);
    if (const auto steps = in.find("steps")) step.steps = steps_from(*steps, ids);
    const Kind* kind = find_kind(step.kind);
    if (kind && kind->of == KindClass::combine && !step.operand)
        refuse(in.where() + ": " + in_quotes(step.kind) + " needs an operand");
    step.extra = in.without({"id", "kind", "on", "values", "operand", "steps", "unlinked"});
    return std::make_shared<const Step>(std::move(step));
}

Steps steps_from(const JsonValue& in, Ids& ids) {
    Steps out;
    for (const JsonValue& step : in.list()) out.push_back(step_from(step, ids));
    return out;
}

Part part_from(const JsonValue& in, const MeshOfEntry& mesh, Ids& ids) {
    Part part;
    part.id = in.at("id").text();
    part.name = in.at("name").text();
    if (part.id.empty() || part.id.find_first_of("/\\") != std::string::npos)
        refuse(in.where() + ": the id " + in_quotes(part.id) + " is empty, or holds a slash");
    const JsonValue source = in.at("source");
    if (const auto entry = source.find("mesh")) {
        auto read = mesh(entry->text());
        if (!read) throw Bad{read.error()};
        part.source = StoredMesh{std::move(*read), {}};
        if (const auto copy = source.find("copy_of")) std::get<StoredMesh>(part.source).copy_of = link_from(*copy);
    } else if (const auto use = source.find("use")) {
        part.source = use_from(*use);
    } else if (const auto shape = source.find("shape")) {
        part.source = of_kind<Shape>(*shape, find_shape);
    } else if (const auto link = source.find("link")) {
        part.source = link_from(*link);
    } else {
        refuse(source.where() + " is neither a mesh nor a shape nor a link to or a use of another part",
               ErrorCode::newer_version);
    }
    if (const auto bench = in.find("bench")) part.bench = placement_from(*bench);
    part.steps = steps_from(in.at("steps"), ids);
    read_if(in, "stays", part.stays);
    part.extra = in.without({"id", "name", "source", "bench", "stays", "steps"});
    return part;
}

/// The parts that a part is made of, one after the other, must not lead back to it. Links are not gone through: one to
/// nothing or to itself leaves its part without a body, which is told there.
class Circles {
  public:
    explicit Circles(const Job& job) : job_(job) {}
    void look_at(const std::string& id, const std::string& by) {
        const Part* part = job_.find_part(id);
        if (!part) refuse(by + " uses a part that is not there: " + in_quotes(id), ErrorCode::bad_index);
        if (std::ranges::find(open_, id) != open_.end()) {
            std::string way;
            for (auto at = std::ranges::find(open_, id); at != open_.end(); ++at)
                way += in_quotes(name(*at)) + " uses ";
            refuse("a part is made of itself: " + way + in_quotes(part->name), ErrorCode::bad_index);
        }
        if (!done_.insert(id).second) return;
        if (open_.size() >= most_deep) refuse("parts are made of each other more than 64 deep", ErrorCode::bad_count);
        open_.push_back(id);
        if (const auto* use = std::get_if<Use>(&part->source)) look_at(use->part, "part " + in_quotes(id));
        look_at(part->steps);
        open_.pop_back();
    }

  private:
    static constexpr std::size_t most_deep = 64;
    std::string name(const std::string& id) const { return job_.find_part(id)->name; }
    void look_at(const Steps& steps) {
        for (const auto& step : steps) {
            if (step->operand) look_at(step->operand->part, "step " + in_quotes(step->id));
            look_at(step->steps);
        }
    }
    const Job& job_;
    std::vector<std::string> open_;
    std::set<std::string> done_;  // looked at, or being so
};

Job job_from(const JsonValue& in, const MeshOfEntry& mesh) {
    Job job;
    if (const auto settings = in.find("settings")) job.settings = settings_from(*settings);
    Ids part_ids("part"), step_ids("step");
    for (const JsonValue& p : in.at("parts").list()) {
        auto part = std::make_shared<const Part>(part_from(p, mesh, step_ids));
        part_ids.add(part->id);
        job.parts.push_back(std::move(part));
    }
    for (const JsonValue& id : in.at("results").list()) {
        job.results.push_back(id.text());
        if (!job.find_part(job.results.back()))
            refuse(id.where() + " is a part that is not there: " + in_quotes(id.text()), ErrorCode::bad_index);
    }
    // Before 2.3 the list of the part in work stood nowhere else.
    const auto format = in.find("format");
    const auto minor = format ? format->find("minor") : std::nullopt;
    if (!minor || minor->whole_number() < 3)
        for (auto& part : job.parts)
            if (part->id == job.work() && !part->bench.is_identity()) {
                Part here = *part;
                here.bench = {};
                part = std::make_shared<const Part>(std::move(here));
            }
    if (!job.parts.empty() && job.results.empty()) refuse("results names no part to work on");
    if (const auto given = in.find("given")) {
        for (const auto& [name, to] : {std::pair{"parts", &job.parts_given}, {"steps", &job.steps_given}})
            if (const auto n = given->find(name); n && (*to = n->whole_number()) < 0)
                refuse(n->where() + " is below zero");
    }
    Circles circles(job);
    for (const auto& part : job.parts) circles.look_at(part->id, "");
    job.extra = in.without({"format", "units", "results", "given", "settings", "parts"});
    return job;
}

}  // namespace

Result<Job> job_from_text(std::string_view text, const MeshOfEntry& mesh) {
    bool earlier = false;
    auto job = read_text<Job>(text, [&](const JsonValue& in) {
        const int major = in.at("format").at("major").whole_number();
        if (major < 1) refuse("format.major is " + std::to_string(major) + "; there is no such format");
        if (major > job_format_major)
            refuse("this job was saved by a newer version (format " + std::to_string(major) + ", known is " +
                       std::to_string(job_format_major) + "); update to open it",
                   ErrorCode::newer_version);
        earlier = major < job_format_major;
        return earlier ? Job() : job_from(in, mesh);
    });
    if (!job || !earlier) return job;
    auto before = format1::read(text, mesh);
    if (!before) return before.error();
    return format1::upgraded(*before);
}

}  // namespace anvil
