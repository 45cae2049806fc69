#pragma once

// What readers and writers of job.json share. Only they include this: the JSON library's header is heavy.
#include <cmath>
#include <functional>
#include <nlohmann/json.hpp>
#include <set>

#include "core/arrange/taken.h"
#include "core/base/plain_text.h"
#include "core/job/settings.h"
#include "core/mesh/placement.h"

namespace anvil::job_json {

using nlohmann::json;

/// How deep objects and lists may lie in each other: what copies them goes down as deep.
constexpr int deepest = 64;

/// Thrown by what reads, and caught by `read_text`.
struct Bad {
    Error error;
};
[[noreturn]] inline void refuse(std::string text, ErrorCode code = ErrorCode::bad_syntax) {
    throw Bad{{code, std::move(text), ""}};
}

/// A value of the file, with the way to it for sentences: "parts[2].position".
class JsonValue {
  public:
    JsonValue(const json& value, std::string where) : value_(&value), where_(std::move(where)) {}

    const std::string& where() const { return where_; }
    std::optional<JsonValue> find(const char* key) const {
        if (!value_->is_object()) refuse(where_ + " should be an object");
        const auto at = value_->find(key);
        if (at == value_->end()) return std::nullopt;
        return JsonValue(*at, where_ == top ? key : where_ + "." + key);
    }
    JsonValue at(const char* key) const {
        const auto found = find(key);
        if (!found) refuse(where_ + " has no " + in_quotes(key));
        return *found;
    }
    std::vector<JsonValue> list() const {
        if (!value_->is_array()) refuse(where_ + " should be a list");
        std::vector<JsonValue> out;
        for (const json& element : *value_) out.emplace_back(element, where_ + "[" + std::to_string(out.size()) + "]");
        return out;
    }
    std::vector<JsonValue> list_or_none(const char* key) const {
        const auto found = find(key);
        return found ? found->list() : std::vector<JsonValue>();
    }
    /// The members of an object, each by its name.
    std::vector<std::pair<std::string, JsonValue>> members() const {
        if (!value_->is_object()) refuse(where_ + " should be an object");
        std::vector<std::pair<std::string, JsonValue>> out;
        for (const auto& [key, element] : value_->items())
            out.emplace_back(key, JsonValue(element, where_ + "." + on_one_line(key)));
        return out;
    }
    std::string text() const {
        if (!value_->is_string()) refuse(where_ + " should be a text");
        return value_->get<std::string>();
    }
    bool truth() const {
        if (!value_->is_boolean()) refuse(where_ + " should be true or false");
        return value_->get<bool>();
    }
    /// Finite, and no larger than coordinates may be.
    double number() const {
        if (!value_->is_number()) refuse(where_ + " should be a number");
        const double v = value_->get<double>();
        if (!(std::fabs(v) < largest_coordinate)) refuse(where_ + " is beyond 1e300, where numbers end");
        return v;
    }
    double size() const {
        const double v = number();
        if (v < 0) refuse(where_ + " is a size below zero");
        return v;
    }
    int whole_number() const {
        if (!value_->is_number_integer()) refuse(where_ + " should be a whole number");
        const auto v = value_->get<std::int64_t>();
        if (value_->is_number_unsigned() && value_->get<std::uint64_t>() > 1'000'000'000u)
            refuse(where_ + " is too large a number");
        if (v < -1'000'000'000 || v > 1'000'000'000) refuse(where_ + " is too large a number");
        return static_cast<int>(v);
    }
    Vec3 point() const {
        const auto xyz = list();
        if (xyz.size() != 3) refuse(where_ + " should hold three numbers");
        return {xyz[0].number(), xyz[1].number(), xyz[2].number()};
    }
    std::vector<Vec3> points() const {
        std::vector<Vec3> out;
        for (const JsonValue& p : list()) out.push_back(p.point());
        return out;
    }
    /// The object without what is known of it.
    Extra without(std::initializer_list<const char*> known) const { return without(std::vector<const char*>(known)); }
    Extra without(const std::vector<const char*>& known) const {
        if (!value_->is_object()) refuse(where_ + " should be an object");
        json rest = *value_;
        for (const char* key : known) rest.erase(key);
        return rest.empty() ? Extra() : rest.dump();
    }
    std::string as_text() const { return value_->dump(); }

    static constexpr const char* top = "job.json";

  private:
    const json* value_;
    std::string where_;
};

inline void read_if(const JsonValue& in, const char* key, double& to) {
    if (const auto v = in.find(key)) to = v->size();
}
inline void read_if(const JsonValue& in, const char* key, bool& to) {
    if (const auto v = in.find(key)) to = v->truth();
}

/// A word of a list that this version knows, or a sentence.
template <class Parse>
auto known_word(const JsonValue& in, const Parse& parse, const char* what) {
    const std::string text = in.text();
    const auto known = parse(text);
    if (!known) refuse(in.where() + ": " + what + " unknown here: " + in_quotes(text), ErrorCode::newer_version);
    return *known;
}

/// Ids are names of things: each stands for one.
class Ids {
  public:
    explicit Ids(const char* what) : what_(what) {}
    void add(const std::string& id) {
        if (id.empty() || !known_.insert(id).second)
            refuse(std::string("the id ") + in_quotes(id) + " of a " + what_ + " is empty or used twice");
    }

  private:
    const char* what_;
    std::set<std::string> known_;
};

/// The text as JSON, handed to `read`. Fails: with the place of what is wrong.
template <class T>
Result<T> read_text(std::string_view text, const std::function<T(const JsonValue&)>& read) {
    try {
        const json parsed = json::parse(text, [](int depth, json::parse_event_t, json&) {
            if (depth > deepest)
                refuse("job.json holds objects or lists more than " + std::to_string(deepest) + " deep in each other");
            return true;
        });
        return read(JsonValue(parsed, JsonValue::top));
    } catch (const Bad& bad) {
        return bad.error;
    } catch (const json::parse_error& e) {
        const auto line = 1 + std::ranges::count(text.substr(0, e.byte), '\n');
        return Error{ErrorCode::bad_syntax, "job.json is no JSON, or damaged", "line " + std::to_string(line)};
    } catch (const json::exception&) {  // a number beyond all range, say
        return Error{ErrorCode::bad_syntax, "job.json holds a value that cannot be read", ""};
    }
}

JobSettings settings_from(const JsonValue& in);
Placement placement_from(const JsonValue& in);

inline json vec(const Vec3& v) { return {v.x, v.y, v.z}; }
json list(std::span<const Vec3> points);
/// What an earlier reader did not know, to begin with.
inline json begin_with(const Extra& extra) { return extra.empty() ? json::object() : json::parse(extra); }
json to_json(const JobSettings& settings);
/// A name that is no UTF-8, as a file's name may be, loses those bytes, and nothing else.
inline std::string as_text(const json& job) { return job.dump(2, ' ', false, json::error_handler_t::replace) + "\n"; }

}  // namespace anvil::job_json
