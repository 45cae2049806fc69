// Lists of steps on the command line: jobs, and one step by itself.
#include <nlohmann/json.hpp>

#include "cli/commands.h"
#include "cli/report.h"
#include "cli/shared.h"
#include "core/base/plain_text.h"
#include "core/io/mesh_file.h"
#include "core/job/evaluate.h"
#include "core/job/field_text.h"
#include "core/job/job_file.h"

namespace anvil::cli {
namespace {

/// Evaluates and writes it; `about`: the file that errors are about.
Status evaluated(const Job& job, const SettleOptions& settle, const std::string& about, Json json,
                 const std::string& output, const std::string& json_file, Progress& progress) {
    Evaluator evaluator;
    auto evaluation = evaluator.evaluate(job, progress, ~std::size_t{0}, settle);
    // Nothing is written of a job that cannot be done as it says.
    if (const Error* why = !evaluation               ? &evaluation.error()
                           : evaluation->first_error ? &*evaluation->first_error
                                                     : nullptr) {
        Error error = *why;
        error.place = about + (error.place.empty() ? "" : ", " + error.place);
        return fail(error);
    }
    Combined combined = *evaluation->combined;
    combined.seconds = evaluation->seconds;
    combined.messages.clear();
    for (const Remark& remark : evaluation->remarks) combined.messages.push_back(remark.text);
    for (std::string& told : told_of_treatments(job, *evaluation)) combined.messages.push_back(std::move(told));
    return finish(combined, std::move(json), output, json_file, progress);
}

/// Kinds that can be done to a mesh by itself.
bool can_be_done(const Kind& kind) { return kind.of == KindClass::treat && !kind.wants_selection(); }

}  // namespace

Status run_job(const RunOptions& options, Progress& progress) {
    Status status = Status::done;
    if (!options.output.empty() && !check_pieces_output(options.output, status)) return status;
    // The result of a job is a mesh: it never takes the job's place, and nor does the report.
    if (!check_names(std::vector{options.job}, std::vector<std::string>{"", options.output, options.json}, status))
        return status;
    auto job = read_job(options.job, progress);
    if (!job) return fail(job.error());
    SettleOptions settle = settle_options(job->settings, precision_of(options.output));
    if (!options.contact.empty()) settle.contact = *contact_rule_from(options.contact);
    return evaluated(*job, settle, options.job, {{"operation", "run"}, {"job", options.job}}, options.output,
                     options.json, progress);
}

Status run_do(const DoOptions& options, Progress& progress) {
    Status status = Status::done;
    if (!check_output(options.output, status)) return status;
    if (!check_names(std::vector{options.input}, std::vector{options.output, options.json}, status)) return status;
    const Kind* kind = find_kind(options.kind);
    if (!kind || !can_be_done(*kind)) {
        std::vector<std::string_view> words;
        for (const Kind* known : all_kinds())
            if (can_be_done(*known)) words.push_back(known->word);
        return fail_usage("there is no kind " + in_quotes(options.kind) + did_you_mean(options.kind, words) +
                          "; clean-anvil-cli do --help lists them");
    }
    Values values;
    for (const std::string& setting : options.settings) {
        const std::size_t at = setting.find('=');
        const std::string name = setting.substr(0, at);
        const Field* field = kind->find_field(name);
        if (at == std::string::npos) return fail_usage(in_quotes(setting) + " is no setting: write NAME=VALUE");
        if (!field) {
            std::vector<std::string_view> words;
            for (const Field& known : kind->fields) words.push_back(known.name);
            return fail_usage(in_quotes(name) + " is no setting of " + kind->word + did_you_mean(name, words));
        }
        auto value = value_from_text(*field, std::string_view(setting).substr(at + 1));
        if (!value) return fail_usage(value.error().text);
        values[name] = std::move(*value);
    }
    if (const auto checked = check_values(*kind, values); !checked) return fail_usage(checked.error().text);
    for (const Field& field : kind->fields)
        if (field.is_wanted && !values.contains(field.name))
            return fail_usage(kind->word + " wants " + in_quotes(field.name) + ": " + described(field));

    auto mesh = read_mesh(options.input);
    if (!mesh) return fail(mesh.error());
    Job job;
    job.results = {"part-1"};
    Steps steps{std::make_shared<const Step>(Step{.id = "step-1", .kind = kind->word, .values = std::move(values)})};
    job.parts.push_back(
        std::make_shared<const Part>(Part{.id = "part-1",
                                          .name = options.input,
                                          .source = StoredMesh{std::make_shared<const Mesh>(std::move(*mesh))},
                                          .steps = std::move(steps)}));
    return evaluated(job, {.precision = precision_of(options.output)}, options.input,
                     {{"operation", "do"}, {"kind", kind->word}}, options.output, options.json, progress);
}

std::string list_of_kinds() {
    std::string text = "Kinds and their settings:\n";
    for (const Kind* kind : all_kinds()) {
        if (!can_be_done(*kind)) continue;
        text += "  " + kind->word + "\n";
        for (const Field& field : kind->fields) {
            std::string name = "    " + field.name;
            name.resize(std::max<std::size_t>(20, name.size() + 1), ' ');
            text += name + field.says + "; " + described(field) + "\n";
        }
    }
    return text;
}

}  // namespace anvil::cli
