// Repairs of the plan, all or some of them, in its order.
#include <algorithm>

#include "core/job/kinds/kind.h"
#include "core/job/kinds/mend_values.h"
#include "core/mend/mend.h"

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
    const std::vector<Vec3> everywhere;
    auto word_of = [](auto choice) { return std::string(word(choice)); };
    return {
        .word = "mend",
        .of = KindClass::treat,
        .fields =
            {{"repairs", Type::choices, words_of(whole_plan()), "repairs", "which repairs are run, in their order",
              -forever, forever, words_of(whole_plan())},
             {"weld", Type::length, usual.weld_distance, "weld within", "points no farther apart become one", 0},
             {"border_reach", Type::length, usual.border_reach, "join borders within",
              "borders no farther apart are taken for one; below 0: by the size"},
             {"max_hole", Type::length, usual.longest_hole, "fill up to", "holes longer round their rim stay open", 0},
             {"bridge", Type::length, usual.bridge_within, "bridge within", "borders nowhere farther apart are joined",
              0},
             {"fill", Type::choice, word_of(usual.fill), "fill holes", "how holes are closed", -forever, forever,
              words_of({FillStyle::smallest, FillStyle::flat, FillStyle::smooth})},
             {"min_shell", Type::volume, usual.smallest_shell, "drop below", "closed shells of less volume go", 0},
             {"sheets", Type::choice, word_of(usual.sheets), "open sheets",
              "what becomes of surfaces that enclose nothing", -forever, forever,
              words_of({SheetRule::leave, SheetRule::thicken, SheetRule::close})},
             {"thickness", Type::length, usual.thickness, "thickness",
              "of sheets that are thickened, half to each side", 0},
             {"places", Type::elements, everywhere, "places", "points that the repairs are limited to"},
             {"answered", Type::words, std::vector<std::string>(), "answered", "questions that are not asked again"}},
        .stays_sound = false,
        .treat = treat_by_mending};
}

const RegisterKind mend_registered(mend_kind());

}  // namespace

Values values_of(std::span<const Repair> repairs, const MendOptions& options,
                 std::span<const Question::About> answered) {
    Values out;
    const MendOptions usual;
    auto set = [&](const char* name, const auto& value, const auto& usual_value) {
        if (value == usual_value) return;
        if constexpr (std::is_enum_v<std::remove_cvref_t<decltype(value)>>)
            out[name] = std::string(word(value));
        else
            out[name] = value;
    };
    if (repairs.size() != whole_plan().size()) out["repairs"] = words_of(repairs);
    set("weld", options.weld_distance, usual.weld_distance);
    set("border_reach", options.border_reach, usual.border_reach);
    set("max_hole", options.longest_hole, usual.longest_hole);
    set("bridge", options.bridge_within, usual.bridge_within);
    set("fill", options.fill, usual.fill);
    set("min_shell", options.smallest_shell, usual.smallest_shell);
    set("sheets", options.sheets, usual.sheets);
    set("thickness", options.thickness, usual.thickness);
    set("places", options.places, usual.places);
    std::vector<std::string> words;
    for (const Question::About about : answered) words.emplace_back(word(about));
    if (!words.empty()) out["answered"] = std::move(words);
    return out;
}

MendOptions mend_options(const Kind& kind, const Values& values) {
    MendOptions out;
    out.weld_distance = value_of<double>(kind, values, "weld");
    out.border_reach = value_of<double>(kind, values, "border_reach");
    out.longest_hole = value_of<double>(kind, values, "max_hole");
    out.bridge_within = value_of<double>(kind, values, "bridge");
    out.fill = *fill_style_from(value_of<std::string>(kind, values, "fill"));
    out.smallest_shell = value_of<double>(kind, values, "min_shell");
    out.sheets = *sheet_rule_from(value_of<std::string>(kind, values, "sheets"));
    out.thickness = value_of<double>(kind, values, "thickness");
    out.places = value_of<std::vector<Vec3>>(kind, values, "places");
    return out;
}

Result<Treated> treat_by_mending(const std::shared_ptr<const Mesh>& body, const Values& values,
                                 const TreatSettings& settings, Progress& progress) {
    const Kind& kind = *find_kind("mend");
    MendOptions options = mend_options(kind, values);
    options.precision = settings.precision;
    options.contact = settings.contact;
    std::vector<Repair> repairs;
    for (const std::string& name : value_of<std::vector<std::string>>(kind, values, "repairs"))
        repairs.push_back(*repair_from(name));
    std::ranges::sort(repairs);
    std::vector<Question::About> answered;
    for (const std::string& name : value_of<std::vector<std::string>>(kind, values, "answered"))
        if (const auto about = about_from(name)) answered.push_back(*about);
    auto done = mend(*body, repairs, options, progress);
    if (!done) return done.error();
    Treated out;
    // A whole plan that needs a decision stops before it.
    if (repairs.size() == whole_plan().size() && options.places.empty())
        out.question = next_question(*body, *done, options, answered);
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
