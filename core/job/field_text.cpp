#include "core/job/field_text.h"

#include <algorithm>
#include <charconv>
#include <cmath>
#include <optional>

#include "core/base/number_text.h"
#include "core/base/plain_text.h"
#include "core/job/quantity.h"

namespace anvil {
namespace {

std::vector<std::string_view> split(std::string_view text, char at) {
    std::vector<std::string_view> out;
    if (text.empty()) return out;
    for (std::size_t from = 0;;) {
        const std::size_t to = text.find(at, from);
        out.push_back(text.substr(from, to - from));
        if (to == std::string_view::npos) return out;
        from = to + 1;
    }
}

template <class Number>
std::optional<Number> whole_text(std::string_view text) {
    Number v{};
    const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), v);
    return error == std::errc() && end == text.data() + text.size() ? std::optional(v) : std::nullopt;
}

Error wanted(const Field& field, std::string_view text) {
    return {ErrorCode::bad_number, in_quotes(field.name) + " takes " + described(field) + ", not " + in_quotes(text),
            ""};
}

std::optional<Unit> unit_of(const Field& field) {
    if (field.type == Field::Type::length) return Unit::millimetre;
    if (field.type == Field::Type::angle) return Unit::degree;
    return std::nullopt;
}

Result<Value> number_from(const Field& field, std::string_view text) {
    using Type = Field::Type;
    if (field.type == Type::count) {
        const auto v = whole_text<std::int64_t>(text);
        return v ? Result<Value>(*v) : wanted(field, text);
    }
    if (const auto unit = unit_of(field)) {
        const auto v = parse_quantity(text, *unit);
        return v ? Result<Value>(*v) : wanted(field, text);
    }
    const auto v = whole_text<double>(text);
    return v && std::isfinite(*v) ? Result<Value>(*v) : wanted(field, text);
}

Result<Value> points_from(const Field& field, std::string_view text) {
    std::vector<Vec3> out;
    for (const std::string_view point : split(text, ';')) {
        const auto xyz = split(point, ',');
        Vec3 p;
        for (std::size_t k = 0; k < 3; ++k) {
            const auto v = xyz.size() == 3 ? whole_text<double>(xyz[k]) : std::nullopt;
            if (!v || !std::isfinite(*v)) return wanted(field, text);
            p[static_cast<int>(k)] = *v;
        }
        out.push_back(p);
    }
    return Value(std::move(out));
}

/// "1,2,3", each with a unit or arithmetic.
Result<Value> point_from(const Field& field, std::string_view text) {
    const auto xyz = split(text, ',');
    Vec3 out;
    for (std::size_t k = 0; k < 3; ++k) {
        const auto v = xyz.size() == 3 ? parse_quantity(xyz[k], Unit::millimetre)
                                       : Result<double>(Error{ErrorCode::bad_number, "", ""});
        if (!v) return wanted(field, text);
        out[static_cast<int>(k)] = *v;
    }
    return Value(out);
}

/// "x", "-z", or numbers.
Result<Value> direction_from(const Field& field, std::string_view text) {
    const bool back = text.starts_with('-');
    const std::string_view axis = text.substr(back);
    if (axis.size() == 1 && axis >= "x" && axis <= "z") {
        Vec3 out;
        out[axis[0] - 'x'] = back ? -1 : 1;
        return Value(out);
    }
    return point_from(field, text);
}

/// With all digits: what is read is what was written.
std::string digits_of(double v) {
    char text[32];
    return {text, std::to_chars(text, text + sizeof text, v == 0 ? 0 : v).ptr};
}

std::string list_of(const std::vector<std::string>& words) {
    std::string out;
    for (const std::string& word : words) out += (out.empty() ? "" : ", ") + word;
    return out;
}

/// All digits, none of them a power of ten: "1000000".
std::string limit_text(double v) {
    char text[350];
    return {text, std::to_chars(text, text + sizeof text, v, std::chars_format::fixed).ptr};
}

std::string range_of(const Field& field, const char* unit) {
    std::string out;
    if (std::isfinite(field.least) && std::isfinite(field.most))
        return ", " + limit_text(field.least) + " to " + limit_text(field.most) + unit;
    if (std::isfinite(field.least)) out = ", " + limit_text(field.least) + unit + " or more";
    if (std::isfinite(field.most)) out = ", " + limit_text(field.most) + unit + " or less";
    return out;
}

}  // namespace

Result<Value> value_from_text(const Field& field, std::string_view text) {
    switch (field.type) {
        case Field::Type::yes_no:
            if (text == "yes" || text == "true") return Value(true);
            if (text == "no" || text == "false") return Value(false);
            return wanted(field, text);
        case Field::Type::choice:
        case Field::Type::text: return Value(std::string(text));
        case Field::Type::choices:
        case Field::Type::words: {
            std::vector<std::string> out;
            for (const std::string_view word : split(text, ',')) out.emplace_back(word);
            return Value(std::move(out));
        }
        case Field::Type::place: return point_from(field, text);
        case Field::Type::direction: return direction_from(field, text);
        case Field::Type::elements: return points_from(field, text);
        case Field::Type::held:  // what it is between is not typed
        case Field::Type::part: return wanted(field, text);
        default: return number_from(field, text);
    }
}

Result<Value> value_from_text(const Field& field, std::string_view text, const Value& now) {
    const auto unit = unit_of(field);
    const auto* before = std::get_if<double>(&now);
    if (!unit || !before) return value_from_text(field, text);
    const auto v = parse_quantity(text, *unit, *before);
    return v ? Result<Value>(*v) : wanted(field, text);
}

std::string text_of(const Field& field, const Value& value) {
    if (const auto* v = std::get_if<double>(&value)) {
        if (field.type == Field::Type::length && std::isfinite(*v)) return format_quantity(*v, Unit::millimetre);
        if (field.type == Field::Type::angle) return format_quantity(*v, Unit::degree);
        return std::isfinite(*v) ? short_text(*v) : std::string();
    }
    if (const auto* v = std::get_if<bool>(&value)) return *v ? "yes" : "no";
    if (const auto* v = std::get_if<std::int64_t>(&value)) return std::to_string(*v);
    if (const auto* v = std::get_if<std::string>(&value); v && !field.files.empty()) {
        const auto lines = static_cast<std::size_t>(std::ranges::count(*v, '\n'));
        return count_text(lines + (!v->empty() && v->back() != '\n'), "line", "lines");
    }
    if (const auto* v = std::get_if<std::string>(&value)) return *v;
    if (const auto* v = std::get_if<std::vector<Vec3>>(&value)) {
        const std::size_t n = v->size() / static_cast<std::size_t>(points_of(field.of));
        if (field.as_box) return "what is in a box";
        return field.of == ElementKind::points  ? count_text(n, "point", "points")
               : field.of == ElementKind::edges ? count_text(n, "edge", "edges")
                                                : count_text(n, "face", "faces");
    }
    if (const auto* v = std::get_if<Vec3>(&value))
        return digits_of(v->x) + "," + digits_of(v->y) + "," + digits_of(v->z);
    if (const auto* v = std::get_if<std::vector<Anchor>>(&value); v && field.of == ElementKind::faces)
        return count_text(v->size(), "face", "faces");
    if (const auto* v = std::get_if<std::vector<Anchor>>(&value)) return count_text(v->size(), "place", "places");
    std::string out;
    for (const std::string& word : std::get<std::vector<std::string>>(value)) out += (out.empty() ? "" : ",") + word;
    return out;
}

std::string described(const Field& field) {
    switch (field.type) {
        case Field::Type::length: return "a length" + range_of(field, " mm");
        case Field::Type::volume: return "a volume in mm³" + range_of(field, "");
        case Field::Type::angle: return "an angle" + range_of(field, "°");
        case Field::Type::factor: return "a number" + range_of(field, "");
        case Field::Type::count: return "a whole number" + range_of(field, "");
        case Field::Type::yes_no: return "yes or no";
        case Field::Type::choice: return "one of " + list_of(field.choices);
        case Field::Type::choices: return "some of " + list_of(field.choices) + ", separated by commas";
        case Field::Type::words: return "words, separated by commas";
        case Field::Type::text: return field.files.empty() ? "text" : "text, or @FILE to read it from one";
        case Field::Type::part: return "a part of the job";
        case Field::Type::place: return "a place: x,y,z, in mm";
        case Field::Type::direction: return "a direction: x,y,z, or an axis such as -z";
        case Field::Type::elements: return "points: x,y,z;x,y,z";
        case Field::Type::held: return "what is selected of the body";
    }
    return {};
}

}  // namespace anvil
