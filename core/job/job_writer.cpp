#include <charconv>

#include "core/job/job_json.h"
#include "core/job/job_text.h"

namespace anvil {
namespace {

using namespace job_json;

json to_json(const Anchor& anchor) {
    static constexpr const char* kinds[] = {"points", "edges", "faces"};
    json out{{"of", kinds[static_cast<int>(anchor.kind)]}, {"points", list(anchor.points)}, {"size", anchor.size}};
    out["tags"] = json::array();
    for (const Tag& tag : anchor.tags) {
        char key[17];
        const auto [end, error] = std::to_chars(key, key + 16, tag.local, 16);
        out["tags"].push_back({tag.use, tag.maker, std::string(key, end)});
    }
    if (!anchor.whole) out["whole"] = false;
    if (anchor.alike > 1) out["alike"] = anchor.alike;
    if (anchor.alike > 1) out["apart"] = anchor.apart;
    return out;
}

json to_json(const Value& value) {
    return std::visit(
        [](const auto& v) -> json {
            if constexpr (std::is_same_v<std::remove_cvref_t<decltype(v)>, std::vector<Vec3>>) {
                return list(v);
            } else if constexpr (std::is_same_v<std::remove_cvref_t<decltype(v)>, Vec3>) {
                return vec(v);
            } else if constexpr (std::is_same_v<std::remove_cvref_t<decltype(v)>, std::vector<Anchor>>) {
                json out = json::array();
                for (const Anchor& anchor : v) out.push_back(to_json(anchor));
                return out;
            } else
                return v;
        },
        value);
}

json to_json(const Values& values, const Extra& unknown) {
    json out = begin_with(unknown);
    for (const auto& [name, value] : values) out[name] = to_json(value);
    return out;
}

json to_json(const Placement& at) { return {{"position", vec(at.position)}, {"rotation", vec(at.angles)}}; }

/// A shape, or copies.
template <class Made>
json to_json_of_kind(const Made& made) {
    json out = begin_with(made.extra);
    out["kind"] = made.kind;
    if (const json values = to_json(made.values, made.unknown); !values.empty()) out["values"] = values;
    return out;
}

json to_json(const Copies& copies) {
    json out = to_json_of_kind(copies);
    if (!copies.frame.is_identity()) out["frame"] = to_json(copies.frame);
    return out;
}

json to_json(const Use& use) {
    json out = begin_with(use.extra);
    out["part"] = use.part;
    out["position"] = vec(use.placement.position);
    out["rotation"] = vec(use.placement.angles);
    if (use.copies) out["copies"] = to_json(*use.copies);
    if (use.closes_sheets) out["sheets"] = word(SheetRule::close);
    return out;
}

json to_json(const Steps& steps);

json to_json(const Step& step) {
    json out = begin_with(step.extra);
    out["id"] = step.id;
    out["kind"] = step.kind;
    out["on"] = step.on;
    const json values = to_json(step.values, step.unknown);
    if (!values.empty()) out["values"] = values;
    if (step.operand) out["operand"] = to_json(*step.operand);
    if (step.unlinked) out["unlinked"] = true;
    if (!step.steps.empty()) out["steps"] = to_json(step.steps);
    return out;
}

json to_json(const Steps& steps) {
    json out = json::array();
    for (const auto& step : steps) out.push_back(to_json(*step));
    return out;
}

json to_json(const Link& link) {
    json out = begin_with(link.extra);
    out["part"] = link.part;
    if (link.as_of) out["as_of"] = *link.as_of;
    if (const auto& piece = link.piece)
        out["piece"] = {{"number", piece->number},
                        {"count", piece->count},
                        {"middle", vec(piece->middle)},
                        {"volume", piece->volume}};
    return out;
}

json to_json(const Part& part) {
    json out = begin_with(part.extra);
    out["id"] = part.id;
    out["name"] = part.name;
    if (const auto* use = std::get_if<Use>(&part.source))
        out["source"]["use"] = to_json(*use);
    else if (const auto* shape = std::get_if<Shape>(&part.source))
        out["source"]["shape"] = to_json_of_kind(*shape);
    else if (const auto* link = std::get_if<Link>(&part.source))
        out["source"]["link"] = to_json(*link);
    else
        out["source"]["mesh"] = "parts/" + part.id + ".ply";
    if (const auto* stored = std::get_if<StoredMesh>(&part.source); stored && stored->copy_of)
        out["source"]["copy_of"] = to_json(*stored->copy_of);
    if (!part.bench.is_identity()) out["bench"] = to_json(part.bench);
    if (part.stays) out["stays"] = true;
    out["steps"] = to_json(part.steps);
    return out;
}

}  // namespace

std::string job_text(const Job& job) {
    json out = begin_with(job.extra);
    out["format"] = {{"major", job_format_major}, {"minor", job_format_minor}};
    out["units"] = "mm";
    out["results"] = job.results;
    out["given"] = {{"parts", job.parts_given}, {"steps", job.steps_given}};
    out["settings"] = job_json::to_json(job.settings);
    out["parts"] = json::array();
    for (const auto& part : job.parts) out["parts"].push_back(to_json(*part));
    return as_text(out);
}

}  // namespace anvil
