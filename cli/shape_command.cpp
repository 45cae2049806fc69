// Shapes, meshes put elsewhere, and meshes in another format.
#include <charconv>
#include <cmath>
#include <cstdio>
#include <nlohmann/json.hpp>

#include "cli/commands.h"
#include "cli/settings.h"
#include "cli/shared.h"
#include "core/base/number_text.h"
#include "core/base/plain_text.h"
#include "core/io/mesh_file.h"
#include "core/job/quantity.h"
#include "core/mesh/placing.h"

namespace anvil::cli {
namespace {

/// Writes bodies as they are, with what they were found to be: shells of one where the format holds one. `json`: what
/// is known of the run so far.
Status written(std::vector<NamedMesh> bodies, double seconds, Json json, const std::string& output,
               const std::string& json_file, Progress& progress) {
    const bool several = is_of_several(output);
    if (!several) {
        NamedMesh one{bodies.front().name, {}};
        one.mesh = welded(as_one(std::move(bodies)));
        bodies = {std::move(one)};
    }
    const auto found = inspected(bodies, progress, output);
    if (!found) return fail(found.error());
    const bool empty = found->whole.mesh.empty();
    json["seconds"] = seconds;
    json["empty"] = empty;
    json["messages"] = Json::array();
    json["result"] = facts_of(*found, output);
    Outputs outputs;
    if (auto added = several && !empty ? outputs.meshes(bodies, output) : outputs.mesh(bodies.front().mesh, output);
        !added)
        return fail(added.error());
    if (auto added = outputs.report(json_text(json), json_file); !added) return fail(added.error());
    if (auto done = outputs.write(); !done) return fail(done.error());
    if (json_file != "-") std::fputs(summary(*found).c_str(), stdout);
    return empty || found->whole.print_ready ? Status::done : Status::has_findings;
}

/// A number, or with a unit a length in mm or an angle in degrees.
std::optional<double> number_from(std::string_view text, std::optional<Unit> unit) {
    if (unit) {
        const auto v = parse_quantity(text, *unit);
        return v ? std::optional(*v) : std::nullopt;
    }
    double v = 0;
    const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), v);
    const bool whole = error == std::errc() && end == text.data() + text.size() && std::isfinite(v);
    return whole ? std::optional(v) : std::nullopt;
}

/// "X,Y,Z", each a number, a length with a unit, or an angle.
Result<Vec3> three_from(const std::string& option, std::string_view text, std::optional<Unit> unit) {
    const Error wrong{ErrorCode::bad_number, option + " takes X,Y,Z, not " + in_quotes(text), ""};
    Vec3 out;
    for (int k = 0; k < 3; ++k) {
        const std::size_t comma = text.find(',');
        if ((comma == std::string_view::npos) != (k == 2)) return wrong;
        const auto v = number_from(text.substr(0, comma), unit);
        if (!v) return wrong;
        out[k] = *v;
        if (k < 2) text.remove_prefix(comma + 1);
    }
    return out;
}

/// Reads the options of `place`.
Result<Placing> placing_from(const PlaceOptions& options) {
    Placing out;
    out.centre = options.centre;
    out.drop = options.drop;
    if (!options.mirror.empty()) out.mirror = options.mirror == "x" ? 0 : options.mirror == "y" ? 1 : 2;
    const std::tuple<const char*, const std::string&, Vec3&, std::optional<Unit>> fields[] = {
        {"--move", options.move, out.move, Unit::millimetre},
        {"--rotate", options.rotate, out.angles, Unit::degree},
        {"--size", options.size, out.size, Unit::millimetre}};
    for (const auto& [name, text, value, unit] : fields) {
        if (text.empty()) continue;
        const auto three = three_from(name, text, unit);
        if (!three) return three.error();
        value = *three;
    }
    if (options.scale.empty()) return out;
    if (options.scale.find(',') == std::string::npos) {
        const auto factor = number_from(options.scale, std::nullopt);
        if (!factor)
            return Error{ErrorCode::bad_number, "--scale takes a factor, or X,Y,Z, not " + in_quotes(options.scale),
                         ""};
        out.scale = {*factor, *factor, *factor};
        return out;
    }
    const auto three = three_from("--scale", options.scale, std::nullopt);
    if (!three) return three.error();
    out.scale = *three;
    return out;
}

}  // namespace

Status run_shape(const ShapeOptions& options, Progress& progress) {
    Status status = Status::done;
    if (!check_output(options.output, status)) return status;
    if (!check_names({}, std::vector{options.output, options.json}, status)) return status;
    const Kind* kind = find_shape(options.kind);
    if (!kind) {
        std::vector<std::string_view> words;
        for (const Kind* known : all_shapes()) words.push_back(known->word);
        return fail_usage("there is no shape " + in_quotes(options.kind) +
                          did_you_mean(options.kind, words, "clean-anvil-cli shape --help"));
    }
    Values values;
    if (const auto wrong = read_settings(*kind, options.settings, values)) return *wrong;
    Job job;
    job.results = {"part-1"};
    job.parts.push_back(std::make_shared<const Part>(
        Part{.id = "part-1", .name = kind->word, .source = Shape{.kind = kind->word, .values = std::move(values)}}));
    return evaluated(job, {.precision = precision_of(options.output)}, kind->word,
                     {{"operation", "shape"}, {"kind", kind->word}}, options.output, options.json, progress);
}

std::string list_of_shapes() { return "Shapes and their measures:\n" + settings_of(all_shapes()); }

Status run_place(const PlaceOptions& options, Progress& progress) {
    Status status = Status::done;
    if (!check_output(options.output, status)) return status;
    if (!check_names(std::vector{options.input}, std::vector{options.output, options.json}, status)) return status;
    const auto placing = placing_from(options);
    if (!placing) return fail_usage(placing.error().text);
    auto bodies = read_bodies(options.input, options.unit);
    if (!bodies) return fail(bodies.error());
    const Stopwatch watch;
    std::vector<Mesh> meshes;
    for (NamedMesh& body : *bodies) meshes.push_back(std::move(body.mesh));
    auto moved = placed(std::move(meshes), *placing);
    if (!moved) return fail({moved.error().code, moved.error().text, options.input});
    for (std::size_t k = 0; k < bodies->size(); ++k) (*bodies)[k].mesh = std::move((*moved)[k]);
    return written(std::move(*bodies), watch.seconds(), {{"operation", "place"}}, options.output, options.json,
                   progress);
}

Status run_convert(const ConvertOptions& options, Progress& progress) {
    Status status = Status::done;
    if (!check_output(options.output, status)) return status;
    if (!check_names(options.inputs, std::vector{options.output, options.json}, status)) return status;
    std::vector<NamedMesh> all;
    for (const std::string& input : options.inputs) {
        auto bodies = read_bodies(input, options.unit);
        if (!bodies) return fail(bodies.error());
        for (NamedMesh& body : *bodies) all.push_back({std::move(body.name), welded(body.mesh)});
    }
    const Stopwatch watch;
    return written(std::move(all), watch.seconds(), {{"operation", "convert"}}, options.output, options.json, progress);
}

}  // namespace anvil::cli
