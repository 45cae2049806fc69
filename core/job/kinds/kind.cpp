#include "core/job/kinds/kind.h"

#include <algorithm>
#include <cmath>

#include "core/base/number_text.h"
#include "core/base/plain_text.h"

namespace anvil {
namespace {

constexpr double most_coordinate = 1e12;  // mm, as of typed numbers

using KindsByWord = std::map<std::string, Kind, std::less<>>;

/// Shapes, copies, and all kinds of steps together.
KindsByWord& registered(KindClass of) {
    static KindsByWord steps, shapes, copies;
    return of == KindClass::shape ? shapes : of == KindClass::copies ? copies : steps;
}

const Kind* found(const KindsByWord& kinds, std::string_view word) {
    const auto at = kinds.find(word);
    return at == kinds.end() ? nullptr : &at->second;
}

std::vector<const Kind*> all_of(const KindsByWord& kinds) {
    std::vector<const Kind*> out;
    for (const auto& [word, kind] : kinds) out.push_back(&kind);
    return out;
}

Error wrong(const Field& field, const std::string& what) {
    return {ErrorCode::out_of_range, in_quotes(field.name) + " " + what, ""};
}

Result<void> check_number(const Field& field, double v) {
    if (std::isnan(v)) return wrong(field, "is not a number");
    if (v < field.least) return wrong(field, "is below " + short_text(field.least));
    if (v > field.most) return wrong(field, "is above " + short_text(field.most));
    return {};
}

Result<void> check_words(const Field& field, const std::vector<std::string>& words) {
    for (std::size_t k = 0; k < words.size(); ++k) {
        if (std::ranges::find(field.choices, words[k]) == field.choices.end())
            return wrong(field, "knows no " + in_quotes(words[k]));
        if (std::find(words.begin(), words.begin() + static_cast<long>(k), words[k]) !=
            words.begin() + static_cast<long>(k))
            return wrong(field, "names " + in_quotes(words[k]) + " twice");
    }
    return {};
}

Result<void> check_value(const Field& field, const Value& value) {
    if (value.index() != field.usual.index()) return wrong(field, "is of another type");
    if (const auto* v = std::get_if<double>(&value)) return check_number(field, *v);
    if (const auto* v = std::get_if<std::int64_t>(&value)) return check_number(field, static_cast<double>(*v));
    if (const auto* v = std::get_if<std::string>(&value); v && field.type == Field::Type::choice)
        return check_words(field, {*v});
    if (const auto* v = std::get_if<std::vector<std::string>>(&value); v && field.type == Field::Type::choices)
        return check_words(field, *v);
    if (const auto* v = std::get_if<Vec3>(&value)) {
        if (!is_finite(*v)) return wrong(field, "has a coordinate that is no number");
        if (field.type == Field::Type::direction && !(norm(*v) > 0)) return wrong(field, "points nowhere");
        if (largest_component(*v) > most_coordinate) return wrong(field, "lies too far out");
    }
    if (const auto* v = std::get_if<std::vector<Vec3>>(&value))
        for (const Vec3& p : *v)
            if (!std::isfinite(p.x) || !std::isfinite(p.y) || !std::isfinite(p.z))
                return wrong(field, "has a coordinate that is no number");
    return {};
}

std::vector<const Kind*> in_order(std::vector<const Kind*> kinds) {
    std::ranges::stable_sort(kinds, {}, &Kind::order);
    return kinds;
}

}  // namespace

const Field* Kind::find_field(std::string_view field) const {
    const auto at = std::ranges::find(fields, field, &Field::name);
    return at == fields.end() ? nullptr : &*at;
}

const Field* Kind::elements_field() const {
    const auto at = std::ranges::find(fields, Field::Type::elements, &Field::type);
    return at == fields.end() ? nullptr : &*at;
}

const Field* Kind::held_field(const Values& values) const {
    const Field* out = nullptr;
    for (const Field& f : fields)
        if (f.type == Field::Type::held && is_shown(*this, values, f) && (!out || (f.is_wanted && !out->is_wanted)))
            out = &f;
    return out;
}

bool Kind::wants_selection(const Values& values) const {
    return std::ranges::any_of(fields, [&](const Field& f) {
        return f.is_wanted && (f.type == Field::Type::elements || f.type == Field::Type::held) &&
               is_shown(*this, values, f);
    });
}

const Kind* find_kind(std::string_view word) { return found(registered(KindClass::treat), word); }
const Kind* find_copies(std::string_view word) { return found(registered(KindClass::copies), word); }
const Kind* find_shape(std::string_view word) { return found(registered(KindClass::shape), word); }

std::vector<const Kind*> all_kinds() { return all_of(registered(KindClass::treat)); }
std::vector<const Kind*> all_shapes() { return in_order(all_of(registered(KindClass::shape))); }
std::vector<const Kind*> all_copies() { return in_order(all_of(registered(KindClass::copies))); }

RegisterKind::RegisterKind(Kind kind) {
    const std::string word = kind.word;
    if (kind.name.empty()) {
        kind.name = word;
        std::ranges::replace(kind.name, '-', ' ');
    }
    registered(kind.of).emplace(word, std::move(kind));
}

namespace {

/// Whether a field has one of the values that another one is shown for.
bool holds(const Kind& kind, const Values& values, const std::string& name, const std::string& wanted) {
    const Field* other = name.empty() ? nullptr : kind.find_field(name);
    if (!other) return true;
    if (!is_shown(kind, values, *other)) return false;
    const auto at = values.find(other->name);
    const Value& value = at == values.end() ? other->usual : at->second;
    const auto* anchors = std::get_if<std::vector<Anchor>>(&value);
    const std::string now = anchors ? (anchors->empty() ? "none" : "held") : std::get<std::string>(value);
    return ("|" + wanted + "|").find("|" + now + "|") != std::string::npos;
}

}  // namespace

bool is_shown(const Kind& kind, const Values& values, const Field& field) {
    return holds(kind, values, field.only_if, field.only_for) && holds(kind, values, field.also_if, field.also_for);
}

Result<void> check_values(const Kind& kind, const Values& values) {
    for (const auto& [name, value] : values) {
        const Field* field = kind.find_field(name);
        if (!field) return Error{ErrorCode::out_of_range, in_quotes(name) + " is no setting of " + kind.word, ""};
        if (auto checked = check_value(*field, value); !checked) return checked;
    }
    return {};
}

}  // namespace anvil
