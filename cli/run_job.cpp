// Lists of steps on the command line: jobs, and one step by itself.
#include <nlohmann/json.hpp>

#include "cli/commands.h"
#include "cli/settings.h"
#include "cli/shared.h"
#include "core/base/plain_text.h"
#include "core/job/job_file.h"

namespace anvil::cli {
namespace {

/// Kinds that can be done to a mesh by itself.
bool can_be_done(const Kind& kind) {
    return (kind.of == KindClass::treat || kind.of == KindClass::cut) && !kind.wants_selection();
}

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
    if (!check_pieces_output(options.output, status)) return status;
    if (!check_names(std::vector{options.input}, std::vector{options.output, options.json}, status)) return status;
    const Kind* kind = find_kind(options.kind);
    if (!kind || !can_be_done(*kind)) {
        std::vector<std::string_view> words;
        for (const Kind* known : all_kinds())
            if (can_be_done(*known)) words.push_back(known->word);
        return fail_usage("there is no kind " + in_quotes(options.kind) +
                          did_you_mean(options.kind, words, "clean-anvil-cli do --help"));
    }
    Values values;
    if (const auto wrong = read_settings(*kind, options.settings, values)) return *wrong;
    auto mesh = read_input(options.input, options.unit);
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
                     {{"operation", options.command}, {"kind", kind->word}}, options.output, options.json, progress);
}

std::string list_of_kinds() {
    std::vector<const Kind*> kinds = all_kinds();
    std::erase_if(kinds, [](const Kind* kind) { return !can_be_done(*kind); });
    return "Kinds and their settings:\n" + settings_of(kinds);
}

}  // namespace anvil::cli
