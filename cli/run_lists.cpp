// Lists of steps on the command line: jobs of format 2, and one step by itself.
#include "cli/run_lists.h"

#include <nlohmann/json.hpp>

#include "cli/report.h"
#include "cli/shared.h"
#include "core/base/plain_text.h"
#include "core/io/mesh_file.h"
#include "core/job/field_text.h"
#include "core/job/job_file.h"
#include "core/job/list_evaluator.h"

namespace anvil::cli {
namespace {

/// The steps of a list as they are told: each with what lies under it behind it.
std::vector<std::shared_ptr<const sheet::Step>> in_order(const sheet::Steps& steps) {
    std::vector<std::shared_ptr<const sheet::Step>> out;
    for (const auto& step : steps) {
        out.push_back(step);
        const auto inner = in_order(step->steps);
        out.insert(out.end(), inner.begin(), inner.end());
    }
    return out;
}

/// "housing, step 2 (difference)".
std::string name_of(const sheet::Part& part, std::size_t number, const sheet::Step& step) {
    return part.name + ", step " + std::to_string(number) + " (" + step.kind + ")";
}

/// What was left out, the first of it.
std::optional<Error> first_error(const sheet::Job& job, const sheet::Outcome& outcome) {
    for (const auto& part : job.parts) {
        if (const auto broken = outcome.broken.find(part->id); broken != outcome.broken.end()) {
            Error error = broken->second;
            error.place = part->name;
            return error;
        }
        const auto steps = in_order(part->steps);
        for (std::size_t k = 0; k < steps.size(); ++k)
            if (const auto& why = outcome.rows.at(steps[k]->id).error) {
                Error error = *why;
                error.place = name_of(*part, k + 1, *steps[k]) + (why->place.empty() ? "" : ", " + why->place);
                return error;
            }
    }
    if (outcome.result.error) {
        Error error = *outcome.result.error;
        error.place = job.find_part(job.work())->name;
        return error;
    }
    return std::nullopt;
}

std::vector<std::string> messages_of(const sheet::Job& job, const sheet::Outcome& outcome) {
    std::vector<std::string> out;
    if (!outcome.result.note.empty()) out.push_back(job.find_part(job.work())->name + ": " + outcome.result.note);
    for (const auto& part : job.parts) {
        const auto steps = in_order(part->steps);
        for (std::size_t k = 0; k < steps.size(); ++k) {
            const sheet::RowOutcome& row = outcome.rows.at(steps[k]->id);
            const std::string name = name_of(*part, k + 1, *steps[k]) + ": ";
            if (!row.note.empty()) out.push_back(name + row.note);
            if (!row.treated) continue;
            if (row.treated->mended)
                for (const Repaired& r : row.treated->mended->repairs)
                    if (!r.said.empty()) out.push_back(name + r.said);
            if (!row.treated->said.empty()) out.push_back(name + row.treated->said);
            if (row.treated->question)
                out.push_back(name + row.treated->question->asked +
                              " It waits for an answer, which \"answered\" gives.");
        }
    }
    out.insert(out.end(), outcome.result.combined->messages.begin(), outcome.result.combined->messages.end());
    return out;
}

/// Evaluates and writes it; `about`: the file that errors are about.
Status evaluated(const sheet::Job& job, const SettleOptions& settle, const std::string& about, Json json,
                 const std::string& output, const std::string& json_file, Progress& progress) {
    KeptResults kept;
    sheet::ListEvaluator evaluator(kept);
    const auto start = std::chrono::steady_clock::now();
    auto outcome = evaluator.run(job, {}, settle, progress);
    // Nothing is written of a job that cannot be done as it says.
    const auto why = outcome ? first_error(job, *outcome) : std::optional(outcome.error());
    if (why) {
        Error error = *why;
        error.place = about + (error.place.empty() ? "" : ", " + error.place);
        return fail(error);
    }
    Combined combined = *outcome->result.combined;
    combined.seconds = std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
    combined.messages = messages_of(job, *outcome);
    return finish(combined, std::move(json), output, json_file, progress);
}

/// Kinds that can be done to a mesh by itself.
bool can_be_done(const Kind& kind) { return kind.of == KindClass::treat && !kind.wants_selection(); }

}  // namespace

Status run_lists(const RunOptions& options, Progress& progress) {
    auto job = read_lists(options.job, progress);
    if (!job) return fail(job.error());
    SettleOptions settle{precision_of(options.output), job->settings.contact, job->settings.merge_flush};
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
    sheet::Job job;
    job.results = {"part-1"};
    sheet::Steps steps{std::make_shared<const sheet::Step>(
        sheet::Step{.id = "step-1", .kind = kind->word, .values = std::move(values)})};
    job.parts.push_back(std::make_shared<const sheet::Part>(
        sheet::Part{.id = "part-1",
                    .name = options.input,
                    .source = sheet::StoredMesh{std::make_shared<const Mesh>(std::move(*mesh))},
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
