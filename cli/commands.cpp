#include "cli/commands.h"

#include <cstdio>

#include "cli/report.h"
#include "cli/shared.h"
#include "core/io/mesh_file.h"
#include "core/job/evaluate.h"
#include "core/job/job_file.h"
#include "core/report/page.h"

namespace anvil::cli {
namespace {

/// "part-%d.stl" for the second piece: "part-2.stl". Without %d, the name as it is.
std::string piece_file(std::string name, std::size_t number) {
    if (const std::size_t at = name.rfind("%d"); at != std::string::npos) name.replace(at, 2, std::to_string(number));
    return name;
}

/// Inspects what is written and writes it: first everything is judged, so that a stop leaves nothing behind.
Status finish(const Combined& combined, Json json, const std::string& output, const std::string& json_file,
              Progress& progress) {
    const std::string where = output.empty() ? "result.ply" : output;
    const bool numbered = output.find("%d") != std::string::npos;
    auto inspection = inspect_written(combined.mesh, where, progress);
    if (!inspection) return fail(inspection.error());
    bool ready = inspection->print_ready;
    Json pieces = Json::array();
    std::vector<Mesh> parts;
    if (combined.pieces() > 1 || numbered) {
        bool each_ready = true;
        for (std::size_t k = 0; k < combined.pieces(); ++k) {
            parts.push_back(combined.piece(k));
            auto one = combined.pieces() == 1 ? inspection : inspect_written(parts.back(), where, progress);
            if (!one) return fail(one.error());
            each_ready = each_ready && one->print_ready;
            pieces.push_back(facts(*one, numbered ? piece_file(output, k + 1) : output));
        }
        if (numbered) ready = each_ready;
    }
    for (std::size_t k = 0; numbered && k < parts.size(); ++k)
        if (auto written = write_mesh(parts[k], piece_file(output, k + 1)); !written) return fail(written.error());
    if (!output.empty() && !numbered)
        if (auto written = write_mesh(combined.mesh, output); !written) return fail(written.error());
    print_messages(combined.messages);
    if (combined.empty)
        std::fprintf(stderr, "clean-anvil-cli: note: the result is empty. %s\n", combined.reason.c_str());
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
    json["result"] = facts(*inspection, output);
    if (!pieces.empty()) json["pieces"] = std::move(pieces);
    if (!json_file.empty())
        if (auto written = write_json(json, json_file); !written) return fail(written.error());
    if (json_file != "-") {
        if (combined.pieces() > 1) std::printf("%zu pieces\n", combined.pieces());
        std::fputs(summary(*inspection).c_str(), stdout);
    }
    return combined.empty || ready ? Status::done : Status::has_findings;
}

}  // namespace

Status run_combine(const CombineOptions& options, Progress& progress) {
    const auto operation = operation_from(options.operation);
    if (!operation)
        return fail_usage("unknown operation \"" + options.operation + "\"; clean-anvil-cli combine --help lists them");
    Status status = Status::done;
    if (!check_output(options.output, status)) return status;
    std::vector<Mesh> meshes;
    for (const std::string& input : options.inputs) {
        auto mesh = read_mesh(input);
        if (!mesh) return fail(mesh.error());
        meshes.push_back(std::move(*mesh));
    }
    std::vector<const Mesh*> operands;
    for (const Mesh& m : meshes) operands.push_back(&m);
    auto combined = combine(*operation, operands, progress,
                            {precision_of(options.output), *contact_rule_from(options.contact), options.merge_flush});
    if (!combined) {
        Error error = combined.error();
        // Say the file, where the engine only knows a number.
        if (error.operand >= 0)
            error.place = options.inputs[static_cast<std::size_t>(error.operand)] + " (" + error.place + ")";
        return fail(error);
    }
    return finish(*combined, {{"operation", options.operation}}, options.output, options.json, progress);
}

Status run_inspect(const InspectOptions& options, Progress& progress) {
    auto mesh = read_mesh(options.input);
    if (!mesh) return fail(mesh.error());
    auto inspection = inspect(*mesh, progress, usual_options(*mesh));
    if (!inspection) return fail(inspection.error());
    Json json{{"operation", "inspect"},
              {"seconds", inspection->seconds},
              {"empty", inspection->mesh.empty()},
              {"messages", Json::array()}};
    json.update(facts(*inspection, options.input));
    if (!options.json.empty())
        if (auto written = write_json(json, options.json); !written) return fail(written.error());
    if (!options.page.empty())
        if (auto written = write_file(report_page({options.input, *inspection}), options.page); !written)
            return fail(written.error());
    if (options.json != "-") std::fputs(summary(*inspection).c_str(), stdout);
    return inspection->print_ready ? Status::done : Status::has_findings;
}

Status run_compare(const CompareOptions& options, Progress& progress) {
    auto a = read_mesh(options.a);
    if (!a) return fail(a.error());
    auto b = read_mesh(options.b);
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
    if (!options.json.empty())
        if (auto written = write_json(json, options.json); !written) return fail(written.error());
    if (options.json != "-") {
        std::printf("volume  %.9g -> %.9g mm3 (%+.6g)\n", c->a.volume, c->b.volume, c->b.volume - c->a.volume);
        std::printf("area    %.9g -> %.9g mm2 (%+.6g)\n", c->a.area, c->b.area, c->b.area - c->a.area);
        std::printf("distance, sampled every %.4g mm: A to B %.6g, B to A %.6g, Hausdorff %.6g mm\n", c->spacing,
                    c->a_to_b, c->b_to_a, c->hausdorff());
    }
    return Status::done;
}

Status run_job(const RunOptions& options, Progress& progress) {
    Status status = Status::done;
    if (!options.output.empty() && !check_output(options.output, status)) return status;
    auto job = read_job(options.job);
    if (!job) return fail(job.error());
    Evaluator evaluator;
    SettleOptions settle = settle_options(*job, precision_of(options.output));
    if (!options.contact.empty()) settle.contact = *contact_rule_from(options.contact);
    auto evaluation = evaluator.evaluate(*job, progress, ~std::size_t{0}, settle);
    if (!evaluation) return fail(evaluation.error());
    for (const auto& [id, part] : evaluation->mended) {
        const std::string name = job->find_part(id)->name + ": ";
        for (const auto& done : part.done)
            for (const Repaired& r : done ? done->repairs : std::vector<Repaired>{})
                if (!r.said.empty()) evaluation->combined.messages.push_back(name + r.said);
        if (part.question)
            evaluation->combined.messages.push_back(name + part.question->question.asked +
                                                    " Its mending waits for an answer, which the window asks for.");
    }
    return finish(evaluation->combined, {{"operation", "run"}, {"job", options.job}}, options.output, options.json,
                  progress);
}

}  // namespace anvil::cli
