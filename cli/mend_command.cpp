#include <cstdio>
#include <nlohmann/json.hpp>

#include "cli/report.h"
#include "cli/shared.h"
#include "core/base/plain_text.h"
#include "core/io/mesh_file.h"
#include "core/mend/questions.h"
#include "core/report/page.h"

namespace anvil::cli {
Status run_mend(const MendCommand& options, Progress& progress) {
    Status status = Status::done;
    if (!check_output(options.output, status)) return status;
    if (!check_names(std::vector{options.input}, std::vector{options.output, options.json, options.page}, status))
        return status;
    std::vector<Repair> plan;
    for (const std::string& name : options.only) {
        const auto repair = repair_from(name);
        if (!repair) {
            std::vector<std::string_view> words;
            for (const Repair known : whole_plan()) words.push_back(word(known));
            return fail_usage("unknown repair " + in_quotes(name) +
                              did_you_mean(name, words, "clean-anvil-cli mend --help"));
        }
        plan.push_back(*repair);
    }
    if (plan.empty()) plan.assign(whole_plan().begin(), whole_plan().end());
    MendOptions how = options.how;
    how.fill = *fill_style_from(options.fill);
    how.sheets = how.thickness > 0 ? SheetRule::thicken : SheetRule::leave;
    how.precision = precision_of(options.output);
    how.contact = *contact_rule_from(options.contact);
    if (!options.sheets.empty()) {
        how.sheets = *sheet_rule_from(options.sheets);
        if (how.sheets != SheetRule::thicken && how.thickness > 0)
            return fail_usage("--thickness goes with --sheets thicken only");
    }

    auto bodies = read_bodies(options.input, options.unit);
    if (!bodies) return fail(bodies.error());
    std::vector<std::string> messages;
    if (bodies->size() > 1)
        messages.push_back("The " + std::to_string(bodies->size()) + " bodies of the file are mended as one.");
    const Mesh mesh = as_one(std::move(*bodies));
    if (how.sheets == SheetRule::thicken && !(how.thickness > 0)) how.thickness = usual_thickness(mesh);
    auto mended = mend(mesh, plan, how, progress);
    if (!mended) {
        Error error = mended.error();
        error.place = options.input + (error.place.empty() ? "" : " (" + error.place + ")");
        return fail(error);
    }
    // Judged is what is written, in every kind that inspecting counts.
    const Mesh result = welded(mended->mesh);
    auto before = inspect(mesh, progress, usual_options(mesh));
    if (!before) return fail(before.error());
    auto after = inspect_written(result, options.output, progress);
    if (!after) return fail(after.error());
    mended->before = std::move(*before);
    mended->after = std::move(*after);
    for (const Repaired& r : mended->repairs)
        if (!r.said.empty()) messages.push_back(r.said);
    if (mended->before.print_ready) messages.push_back("There was nothing to mend.");
    if (const std::string rest = mended->remains(); !rest.empty()) messages.push_back(rest);
    Json json{{"operation", "mend"},
              {"seconds", mended->seconds},
              {"empty", mended->mesh.empty()},
              {"messages", messages},
              {"largest_move", mended->largest_move},
              {"sheet", mended->sheet},
              {"repairs", facts(mended->repairs)},
              {"before", facts(mended->before, options.input)},
              {"result", facts(mended->after, options.output)}};
    if (mended->mesh.empty()) json["reason"] = mended->remains();
    Outputs outputs;
    if (auto added = outputs.mesh(result, options.output); !added) return fail(added.error());
    if (auto added = outputs.report(json_text(json), options.json); !added) return fail(added.error());
    if (!options.page.empty()) {
        const bool mended_some = !mended->before.print_ready;
        const std::string page = report_page({options.input, mended->after, mended_some ? &mended->before : nullptr,
                                              mended->repairs, mended->remains()});
        if (auto added = outputs.report(page, options.page); !added) return fail(added.error());
    }
    if (auto written = outputs.write(); !written) return fail(written.error());
    print_messages(messages);
    if (options.json != "-") std::fputs(summary(mended->after).c_str(), stdout);
    return mended->mesh.empty() || mended->after.print_ready ? Status::done : Status::has_findings;
}

}  // namespace anvil::cli
