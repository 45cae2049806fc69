#include "core/shape/outline.h"

#include <charconv>
#include <cmath>

#include "core/base/plain_text.h"

namespace anvil {
namespace {

constexpr std::size_t most_points = 20'000;

std::string_view trimmed(std::string_view text) {
    constexpr std::string_view blank = " \t\r\n,;";
    const std::size_t from = text.find_first_not_of(blank);
    if (from == std::string_view::npos) return {};
    return text.substr(from, text.find_last_not_of(blank) - from + 1);
}

/// Takes a number off the front of a line.
bool take_number(std::string_view& line, double& v) {
    line = trimmed(line);
    if (!line.empty() && line.front() == '+') line.remove_prefix(1);
    const auto [end, error] = std::from_chars(line.data(), line.data() + line.size(), v);
    if (error != std::errc() || !std::isfinite(v) || std::fabs(v) > 1e6) return false;
    line.remove_prefix(static_cast<std::size_t>(end - line.data()));
    return line.empty() || line.find_first_of(" \t\r,;") == 0;
}

}  // namespace

Result<Outline> outline_from_text(std::string_view text) {
    Outline out;
    std::vector<Point2> loop;
    std::size_t number = 0, points = 0;
    auto end_loop = [&]() -> Result<void> {
        if (loop.size() > 1 && loop.front().u == loop.back().u && loop.front().v == loop.back().v) loop.pop_back();
        if (!loop.empty() && loop.size() < 3)
            return Error{ErrorCode::bad_count, "a loop of an outline needs three points at least",
                         "line " + std::to_string(number)};
        if (!loop.empty()) out.push_back(std::move(loop));
        loop.clear();
        return {};
    };
    while (!text.empty()) {
        const std::size_t end = text.find('\n');
        std::string_view line = text.substr(0, end);
        text.remove_prefix(end == std::string_view::npos ? text.size() : end + 1);
        ++number;
        const bool comment = line.find('#') != std::string_view::npos;
        const std::string_view whole = line = trimmed(line.substr(0, line.find('#')));
        if (line.empty()) {
            if (!comment)
                if (auto ended = end_loop(); !ended) return ended.error();
            continue;
        }
        Point2 p{};
        if (!take_number(line, p.u) || !take_number(line, p.v) || !trimmed(line).empty())
            return Error{ErrorCode::bad_number,
                         "a line of an outline is a point \"x y\" in mm, below a million, not " + in_quotes(whole),
                         "line " + std::to_string(number)};
        if (++points > most_points)
            return Error{ErrorCode::bad_count, "an outline has at most 20000 points", "line " + std::to_string(number)};
        loop.push_back(p);
    }
    if (auto ended = end_loop(); !ended) return ended.error();
    return out;
}

Result<Drawing> drawing_from(std::string_view text, FillRule rule_of_points, double chord) {
    if (const std::string_view start = trimmed(text.substr(0, 4096));
        start.starts_with('<') || start.starts_with("\xef\xbb\xbf<"))
        return drawing_from_svg(text, chord);
    auto outline = outline_from_text(text);
    if (!outline) return outline.error();
    return Drawing{{std::move(*outline), rule_of_points}};
}

}  // namespace anvil
