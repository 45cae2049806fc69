#include "cli/settings.h"

#include <nlohmann/json.hpp>

#include "cli/shared.h"
#include "core/base/plain_text.h"
#include "core/io/mesh_file.h"
#include "core/job/evaluate.h"
#include "core/job/field_text.h"

namespace anvil::cli {

std::optional<Status> read_settings(const Kind& kind, std::span<const std::string> settings, Values& values) {
    for (const std::string& setting : settings) {
        const std::size_t at = setting.find('=');
        const std::string name = setting.substr(0, at);
        const Field* field = kind.find_field(name);
        if (at == std::string::npos) return fail_usage(in_quotes(setting) + " is no setting: write NAME=VALUE");
        if (!field) {
            std::vector<std::string_view> words;
            for (const Field& known : kind.fields) words.push_back(known.name);
            return fail_usage(in_quotes(name) + " is no setting of " + kind.word + did_you_mean(name, words));
        }
        std::string text = setting.substr(at + 1);
        if (!field->files.empty() && text.starts_with("@")) {
            auto read = read_file(text.substr(1));
            if (!read) return fail(read.error());
            text = std::move(*read);
        }
        auto value = value_from_text(*field, text);
        if (!value) return fail_usage(value.error().text);
        values[name] = std::move(*value);
    }
    if (const auto checked = check_values(kind, values); !checked) return fail_usage(checked.error().text);
    for (const Field& field : kind.fields)
        if (field.is_wanted && !values.contains(field.name) && is_shown(kind, values, field))
            return fail_usage(kind.word + " wants " + in_quotes(field.name) + ": " + described(field));
    return std::nullopt;
}

std::string settings_of(std::span<const Kind* const> kinds) {
    std::string text;
    for (const Kind* kind : kinds) {
        text += "  " + kind->word + ": " + kind->says + "\n";
        for (const Field& field : kind->fields) {
            std::string name = "    " + field.name;
            name.resize(std::max<std::size_t>(20, name.size() + 1), ' ');
            text += name + field.says + "; " + described(field) + "\n";
        }
    }
    return text;
}

Status evaluated(const Job& job, const SettleOptions& settle, const std::string& about, Json json,
                 const std::string& output, const std::string& json_file, Progress& progress) {
    Evaluator evaluator;
    auto evaluation = evaluator.evaluate(job, progress, ~std::size_t{0}, settle);
    // Nothing is written of a job that cannot be done as it says.
    if (const Error* why = !evaluation               ? &evaluation.error()
                           : evaluation->first_error ? &*evaluation->first_error
                                                     : nullptr) {
        Error error = *why;
        if (error.place != about && !error.place.starts_with(about + ", "))
            error.place = about + (error.place.empty() ? "" : ", " + error.place);
        return fail(error);
    }
    Combined combined = *evaluation->combined;
    combined.seconds = evaluation->seconds;
    combined.messages.clear();
    for (const Remark& remark : evaluation->remarks) combined.messages.push_back(remark.text);
    for (std::string& told : told_of_treatments(job, *evaluation)) combined.messages.push_back(std::move(told));
    Others others;
    others.bodies = results_by_name(job, *evaluation);
    others.name = job.find_part(job.work()) ? job.find_part(job.work())->name : "result";
    others.bodies.erase(others.bodies.begin(), others.bodies.begin() + static_cast<long>(combined.pieces()));
    return finish(combined, std::move(json), output, json_file, progress, others);
}

}  // namespace anvil::cli
