#include "cli/commands.h"

#include <cstdio>
#include <nlohmann/json.hpp>
#include <optional>

#include "cli/report.h"
#include "cli/shared.h"
#include "core/base/plain_text.h"
#include "core/io/mesh_file.h"
#include "core/job/export_files.h"
#include "core/report/page.h"

namespace anvil::cli {
namespace {

/// A name with a place for a number: "part-%d.stl", or "part-%02d.stl" with leading zeros.
class Numbered {
  public:
    /// Nothing for a name without one; false where it has something else behind a %.
    static bool parse(const std::string& name, std::optional<Numbered>& out) {
        const std::size_t from = name.find('%');
        if (from == std::string::npos) return true;
        std::size_t to = from + 1;
        int digits = 0;
        if (to + 1 < name.size() && name[to] == '0' && name[to + 1] >= '1' && name[to + 1] <= '9') {
            digits = name[to + 1] - '0';
            to += 2;
        }
        if (to >= name.size() || name[to] != 'd' || name.find('%', to) != std::string::npos) return false;
        out = Numbered(name.substr(0, from), name.substr(to + 1), digits);
        return true;
    }
    std::string file(std::size_t number) const {
        std::string text = std::to_string(number);
        if (text.size() < digits_) text.insert(0, digits_ - text.size(), '0');
        return before_ + text + after_;
    }

  private:
    Numbered(std::string before, std::string after, int digits)
        : before_(std::move(before)), after_(std::move(after)), digits_(static_cast<std::size_t>(digits)) {}
    std::string before_, after_;
    std::size_t digits_;
};

/// What is written of a result: the whole in one file, or each piece in one of its own, with what it was found to be.
struct Written {
    std::vector<std::string> files;
    std::vector<Mesh> meshes;
    std::vector<Inspection> inspections;
    Inspection whole;  ///< of all that is written
};
Result<Written> judge(const Combined& combined, const std::string& output, const std::optional<Numbered>& numbered,
                      Progress& progress) {
    Written out;
    const std::string format = output.empty() ? "result.ply" : output;
    auto add = [&](Mesh mesh, std::string file) -> Result<void> {
        auto inspection = inspect_written(mesh, format, progress);
        if (!inspection) return inspection.error();
        out.files.push_back(std::move(file));
        out.meshes.push_back(std::move(mesh));
        out.inspections.push_back(std::move(*inspection));
        return {};
    };
    const bool apart = combined.pieces() > 1 && is_of_several(output);
    if (!numbered && !apart) {
        if (auto added = add(combined.mesh, output); !added) return added.error();
        out.whole = out.inspections.front();
        return out;
    }
    for (std::size_t k = 0; k < combined.pieces(); ++k)
        if (auto added = add(combined.piece(k), numbered ? numbered->file(k + 1) : output); !added)
            return added.error();
    out.whole = joined(out.inspections);
    return out;
}

/// Several files: a line each, those that cannot be read, too.
Status run_inspect_all(const InspectOptions& options, Progress& progress) {
    Status status = Status::done;
    if (!options.page.empty()) return fail_usage("--html makes the page of one file; name one, or leave it out");
    if (!check_names(options.inputs, std::vector<std::string>{"", options.json}, status)) return status;
    const Stopwatch watch;
    Json files = Json::array();
    std::string table = table_heading();
    std::vector<std::string> unread;
    for (const std::string& input : options.inputs) {
        auto bodies = read_bodies(input, options.unit);
        if (!bodies) {
            if (bodies.error().is_cancel()) return fail(bodies.error());
            unread.push_back(bodies.error().sentence());
            files.push_back({{"file", input}, {"error", bodies.error().text}});
            table += table_line(input, nullptr);
            continue;
        }
        const auto found = inspected(*bodies, progress);
        if (!found) return fail(found.error());
        files.push_back(facts_of(*found, input));
        table += table_line(input, &found->whole);
        if (!found->whole.print_ready) status = Status::has_findings;
    }
    Json json{
        {"operation", "inspect"}, {"seconds", watch.seconds()}, {"messages", unread}, {"files", std::move(files)}};
    Outputs outputs;
    if (auto added = outputs.report(json_text(json), options.json); !added) return fail(added.error());
    if (auto written = outputs.write(); !written) return fail(written.error());
    if (options.json != "-") std::fputs(table.c_str(), stdout);
    for (const std::string& sentence : unread)
        std::fprintf(stderr, "clean-anvil-cli: %s\n", on_one_line(sentence).c_str());
    return unread.empty() ? status : Status::unreadable;
}

}  // namespace

bool check_pieces_output(const std::string& output, Status& status) {
    if (!check_output(output, status)) return false;
    std::optional<Numbered> numbered;
    if (Numbered::parse(output, numbered)) return true;
    status = fail_usage(in_quotes(output) + " has a % that stands for no number; %d does, or %02d with leading zeros");
    return false;
}

Status finish(const Combined& combined, Json json, const std::string& output, const std::string& json_file,
              Progress& progress, const Others& others) {
    std::optional<Numbered> numbered;
    static_cast<void>(Numbered::parse(output, numbered));
    auto written = judge(combined, output, numbered, progress);
    if (!written) return fail(written.error());
    bool sound = written->whole.print_ready;
    Json pieces = Json::array();
    if (numbered || written->files.size() > 1) {
        for (std::size_t k = 0; k < written->files.size(); ++k)
            pieces.push_back(facts(written->inspections[k], written->files[k]));
    } else if (combined.pieces() > 1) {
        for (std::size_t k = 0; k < combined.pieces(); ++k) {
            auto one = inspect_written(combined.piece(k), output.empty() ? "result.ply" : output, progress);
            if (!one) return fail(one.error());
            pieces.push_back(facts(*one, output));
        }
    }
    json["seconds"] = combined.seconds;
    json["empty"] = combined.empty;
    if (combined.empty) json["reason"] = combined.reason;
    json["messages"] = combined.messages;
    json["largest_move"] = combined.largest_move;
    json["pinched_edges"] = combined.pinched_edges;
    json["pinched_points"] = combined.pinched_points;
    json["contact_step"] = combined.contact_step;
    json["curves"] = curve_facts(combined.curves);
    json["flush"] = flush_facts(combined.flush);
    json["closed_holes"] = hole_facts(combined.closed_holes);
    json["result"] = facts(written->whole, output);
    if (!pieces.empty()) json["pieces"] = std::move(pieces);

    Outputs outputs;
    std::vector<NamedMesh> together;  // in one file
    for (std::size_t k = 0; k < written->files.size() && !output.empty(); ++k) {
        if (is_of_several(written->files[k]) && !numbered)
            together.push_back({others.name + (written->files.size() > 1 ? " " + std::to_string(k + 1) : ""),
                                std::move(written->meshes[k])});
        else if (auto added = outputs.mesh(written->meshes[k], written->files[k]); !added)
            return fail(added.error());
    }
    std::vector<std::string> files;
    for (const NamedMesh& other : others.bodies) {
        const std::string file = is_of_several(output) && !numbered ? output : file_beside(output, other.name);
        auto found = inspect_written(other.mesh, output.empty() ? "result.ply" : output, progress);
        if (!found) return fail(found.error());
        json["others"].push_back(facts(*found, file));
        json["others"].back()["name"] = other.name;
        sound = sound && found->print_ready;
        if (output.empty()) continue;
        if (file == output)
            together.push_back(other);
        else if (auto added = outputs.mesh(other.mesh, file); !added)
            return fail(added.error());
        files.push_back(file);
    }
    if (!together.empty())
        if (auto added = outputs.meshes(together, output); !added) return fail(added.error());
    if (auto added = outputs.report(json_text(json), json_file); !added) return fail(added.error());
    if (auto done = outputs.write(); !done) return fail(done.error());

    print_messages(combined.messages);
    if (combined.empty)
        std::fprintf(stderr, "clean-anvil-cli: note: the result is empty. %s\n", combined.reason.c_str());
    if (json_file != "-") {
        if (combined.pieces() > 1) std::printf("%zu pieces\n", combined.pieces());
        for (std::size_t k = 0; k < written->files.size(); ++k) {
            if (numbered) std::printf("%s: ", on_one_line(written->files[k]).c_str());
            std::fputs(summary(written->inspections[k]).c_str(), stdout);
        }
    }
    for (std::size_t k = 0; k < files.size() && json_file != "-"; ++k)
        std::printf("%s: \"%s\"\n", on_one_line(files[k]).c_str(), on_one_line(others.bodies[k].name).c_str());
    return combined.empty || sound ? Status::done : Status::has_findings;
}

Status run_combine(const CombineOptions& options, Progress& progress) {
    const auto operation = operation_from(options.operation);
    if (!operation) {
        std::vector<std::string_view> words;
        for (const Operation known : all_operations) words.push_back(word(known));
        return fail_usage("unknown operation " + in_quotes(options.operation) +
                          did_you_mean(options.operation, words, "clean-anvil-cli combine --help"));
    }
    Status status = Status::done;
    if (!check_pieces_output(options.output, status)) return status;
    if (!check_names(options.inputs, std::vector{options.output, options.json}, status)) return status;
    std::vector<Mesh> meshes;
    for (const std::string& input : options.inputs) {
        auto mesh = read_input(input, options.unit);
        if (!mesh) return fail(mesh.error());
        meshes.push_back(std::move(*mesh));
    }
    std::vector<const Mesh*> operands;
    for (const Mesh& m : meshes) operands.push_back(&m);
    auto combined = combine(*operation, operands, progress,
                            {precision_of(options.output), *contact_rule_from(options.contact), options.merge_flush},
                            options.sheets == "close" ? Taken::closed : Taken::repaired);
    if (!combined) {
        Error error = combined.error();
        // Say the file, where the engine only knows a number.
        if (error.operand >= 0)
            error.place = options.inputs[static_cast<std::size_t>(error.operand)] +
                          (error.place.empty() ? "" : " (" + error.place + ")");
        return fail(error);
    }
    return finish(*combined, {{"operation", options.operation}}, options.output, options.json, progress);
}

Status run_inspect(const InspectOptions& options, Progress& progress) {
    if (options.inputs.size() > 1) return run_inspect_all(options, progress);
    const std::string& input = options.inputs.front();
    Status status = Status::done;
    // Both are reports: neither may take the input's place.
    if (!check_names(options.inputs, std::vector<std::string>{"", options.json, options.page}, status)) return status;
    auto bodies = read_bodies(input, options.unit);
    if (!bodies) return fail(bodies.error());
    const auto found = inspected(*bodies, progress);
    if (!found) return fail(found.error());
    const Inspection& whole = found->whole;
    Json json{{"operation", "inspect"},
              {"seconds", whole.seconds},
              {"empty", whole.mesh.empty()},
              {"messages", Json::array()}};
    json.update(facts_of(*found, input));
    Outputs outputs;
    if (auto added = outputs.report(json_text(json), options.json); !added) return fail(added.error());
    if (!options.page.empty())
        if (auto added = outputs.report(report_page({input, whole}), options.page); !added) return fail(added.error());
    if (auto written = outputs.write(); !written) return fail(written.error());
    if (options.json != "-") std::fputs(summary(*found).c_str(), stdout);
    return whole.print_ready ? Status::done : Status::has_findings;
}

Status run_compare(const CompareOptions& options, Progress& progress) {
    Status status = Status::done;
    if (!check_names(std::vector{options.a, options.b}, std::vector<std::string>{"", options.json}, status))
        return status;
    auto a = read_input(options.a, options.unit);
    if (!a) return fail(a.error());
    auto b = read_input(options.b, options.unit);
    if (!b) return fail(b.error());
    auto c = compare(*a, *b, options.spacing, progress);
    if (!c) return fail(c.error());
    // JSON has no infinity: a distance to nothing is null.
    auto distance = [](double d) { return std::isfinite(d) ? Json(d) : Json(); };
    Json json{{"operation", "compare"},
              {"seconds", c->seconds},
              {"empty", a->empty() && b->empty()},
              {"messages", Json::array()},
              {"result",
               {{"a", facts(c->a, options.a)},
                {"b", facts(c->b, options.b)},
                {"volume_difference", c->b.volume - c->a.volume},
                {"area_difference", c->b.area - c->a.area},
                {"spacing", c->spacing},
                {"a_to_b", distance(c->a_to_b)},
                {"b_to_a", distance(c->b_to_a)},
                {"mean_a_to_b", distance(c->mean_a_to_b)},
                {"mean_b_to_a", distance(c->mean_b_to_a)},
                {"hausdorff", distance(c->hausdorff())}}}};
    Outputs outputs;
    if (auto added = outputs.report(json_text(json), options.json); !added) return fail(added.error());
    if (auto written = outputs.write(); !written) return fail(written.error());
    if (options.json != "-") {
        std::printf("volume  %.9g -> %.9g mm³ (%+.6g)\n", c->a.volume, c->b.volume, c->b.volume - c->a.volume);
        std::printf("area    %.9g -> %.9g mm² (%+.6g)\n", c->a.area, c->b.area, c->b.area - c->a.area);
        std::printf("distance, sampled every %.4g mm: A to B %.6g, B to A %.6g, Hausdorff %.6g mm\n", c->spacing,
                    c->a_to_b, c->b_to_a, c->hausdorff());
    }
    return Status::done;
}

}  // namespace anvil::cli
