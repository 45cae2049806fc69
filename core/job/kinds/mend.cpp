// Repairs of the plan, all or some of them, in its order.
#include <algorithm>

#include "core/job/kinds/kind.h"
#include "core/job/kinds/mend_values.h"
#include "core/mend/mend.h"
#include "core/mend/reaches.h"

namespace anvil {
namespace {

std::vector<std::string> words_of(std::span<const Repair> repairs) {
    std::vector<std::string> out;
    for (const Repair r : repairs) out.emplace_back(word(r));
    return out;
}

template <class Choice>
std::vector<std::string> words_of(std::initializer_list<Choice> choices) {
    std::vector<std::string> out;
    for (const Choice c : choices) out.emplace_back(word(c));
    return out;
}

Kind mend_kind() {
    using Type = Field::Type;
    const MendOptions usual;
    constexpr double forever = std::numeric_limits<double>::infinity();
    auto word_of = [](auto choice) { return std::string(word(choice)); };
    Kind out{.word = "mend",
             .of = KindClass::treat,
             .says = "Repair the body by a plan",
             .panel = "repairs",
             .stays_sound = false};
    out.fields.push_back({"repairs", Type::choices, words_of(whole_plan()), "repairs",
                          "which repairs are run, in their order", -forever, forever, words_of(whole_plan())});
    for (const Reach& reach : reaches())
        out.fields.push_back({.name = reach.name,
                              .type = reach.repair == Repair::shells ? Type::volume : Type::length,
                              .usual = usual.*reach.value,
                              .label = reach.label,
                              .says = reach.says,
                              .least = reach.may_be_less_than_none ? -forever : 0});
    out.fields.push_back({"fill", Type::choice, word_of(usual.fill), "fill holes", "how holes are closed", -forever,
                          forever, words_of({FillStyle::smallest, FillStyle::flat, FillStyle::smooth})});
    out.fields.push_back({"sheets", Type::choice, word_of(usual.sheets), "open sheets",
                          "what becomes of surfaces that enclose nothing", -forever, forever,
                          words_of({SheetRule::leave, SheetRule::thicken, SheetRule::close})});
    out.fields.push_back(
        {"places", Type::elements, std::vector<Vec3>(), "places", "points that the repairs are limited to"});
    out.fields.back().of = ElementKind::points;
    out.fields.push_back(
        {"answered", Type::words, std::vector<std::string>(), "answered", "questions that are not asked again"});
    out.treat = treat_by_mending;
    return out;
}

const RegisterKind mend_registered(mend_kind());

}  // namespace

Values values_of(const MendSettings& settings) {
    Values out;
    const MendOptions usual, &options = settings.options;
    auto set = [&](const char* name, const auto& value, const auto& usual_value) {
        if (value == usual_value) return;
        if constexpr (std::is_enum_v<std::remove_cvref_t<decltype(value)>>)
            out[name] = std::string(word(value));
        else
            out[name] = value;
    };
    if (settings.repairs.size() != whole_plan().size()) out["repairs"] = words_of(settings.repairs);
    for (const Reach& reach : reaches()) set(reach.name, options.*reach.value, usual.*reach.value);
    set("fill", options.fill, usual.fill);
    set("sheets", options.sheets, usual.sheets);
    set("places", options.places, usual.places);
    set("answered", settings.answered, std::vector<std::string>());
    return out;
}

MendSettings mend_settings(const Values& values) {
    const Kind& kind = *find_kind("mend");
    MendSettings out;
    for (const std::string& name : value_of<std::vector<std::string>>(kind, values, "repairs"))
        out.repairs.push_back(*repair_from(name));
    std::ranges::sort(out.repairs);
    MendOptions& options = out.options;
    for (const Reach& reach : reaches()) options.*reach.value = value_of<double>(kind, values, reach.name);
    options.fill = *fill_style_from(value_of<std::string>(kind, values, "fill"));
    options.sheets = *sheet_rule_from(value_of<std::string>(kind, values, "sheets"));
    options.places = value_of<std::vector<Vec3>>(kind, values, "places");
    out.answered = value_of<std::vector<std::string>>(kind, values, "answered");
    return out;
}

Result<Treated> treat_by_mending(const std::shared_ptr<const Mesh>& body, const Values& values,
                                 const TreatSettings& settings, Progress& progress) {
    MendSettings set = mend_settings(values);
    MendOptions& options = set.options;
    std::vector<Repair>& repairs = set.repairs;
    options.precision = settings.precision;
    options.contact = settings.contact;
    std::vector<Question::About> answered;
    for (const std::string& name : set.answered)
        if (const auto about = about_from(name)) answered.push_back(*about);
    auto done = mend(*body, repairs, options, progress);
    if (!done) return done.error();
    Treated out;
    // A whole plan that needs a decision stops before it.
    if (set.is_whole_plan()) out.question = next_question(*body, *done, options, answered);
    if (out.question) {
        std::erase_if(repairs, [&](Repair r) { return r >= first_waiting(out.question->about); });
        done = mend(*body, repairs, options, progress);
        if (!done) return done.error();
    }
    out.largest_move = done->largest_move;
    out.said = done->remains();
    out.mended = std::make_shared<const Mended>(std::move(*done));
    out.mesh = {out.mended, &out.mended->mesh};
    return out;
}

}  // namespace anvil
