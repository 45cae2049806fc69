// Outlines as text, and their arcs.
#include "core/shape/drawn.h"

#include <algorithm>
#include <charconv>
#include <cmath>
#include <numbers>

#include "core/base/plain_text.h"

namespace anvil {
namespace {

constexpr std::size_t most_points = 20'000;

std::string_view without_blanks(std::string_view text) {
    constexpr std::string_view blank = " \t\r\n,;";
    const std::size_t from = text.find_first_not_of(blank);
    if (from == std::string_view::npos) return {};
    return text.substr(from, text.find_last_not_of(blank) - from + 1);
}

/// Takes a number off the front of a line.
bool take_number(std::string_view& line, double& v) {
    line = without_blanks(line);
    if (!line.empty() && line.front() == '+') line.remove_prefix(1);
    const auto [end, error] = std::from_chars(line.data(), line.data() + line.size(), v);
    if (error != std::errc() || !std::isfinite(v) || std::fabs(v) > 1e6) return false;
    line.remove_prefix(static_cast<std::size_t>(end - line.data()));
    return line.empty() || line.find_first_of(" \t\r,;") == 0;
}

/// Points of an arc from a to b, without b.
void add_arc(const Point2& a, const Point2& b, double height, double chord, std::vector<Point2>& out) {
    out.push_back(a);
    const double length = std::hypot(b.u - a.u, b.v - a.v);
    if (!(length > 0) || !(std::fabs(height) > 1e-12 * length)) return;
    // By its chord and height: r = (l^2 / 4 + h^2) / 2h, an angle of 4 atan(2h / l) (Bronshtein, circle segment).
    const double radius = (length * length / 4 + height * height) / (2 * std::fabs(height));
    const double angle = 4 * std::atan(2 * std::fabs(height) / length);
    const double step = 2 * std::acos(std::max(0.0, 1 - chord / radius));
    const int n = static_cast<int>(std::clamp(std::ceil(angle / std::max(step, 1e-4)), 2.0, 5000.0));
    const Point2 along{(b.u - a.u) / length, (b.v - a.v) / length};
    // The middle lies on the right of the way where the height is above 0.
    const Point2 right{along.v, -along.u};
    const double sign = height > 0 ? 1 : -1, back = radius - std::fabs(height);
    const Point2 centre{(a.u + b.u) / 2 - sign * right.u * back, (a.v + b.v) / 2 - sign * right.v * back};
    for (int k = 1; k < n; ++k) {
        const double t = angle * k / n * sign;
        const double c = std::cos(t), s = std::sin(t), du = a.u - centre.u, dv = a.v - centre.v;
        out.push_back({centre.u + du * c - dv * s, centre.v + du * s + dv * c});
    }
}

}  // namespace

Result<DrawnLines> drawn_from_text(std::string_view text) {
    DrawnLines out;
    std::vector<DrawnPoint> line_of;
    std::size_t number = 0, points = 0;
    auto end_line = [&] {
        if (!line_of.empty()) out.push_back(std::move(line_of));
        line_of.clear();
    };
    while (!text.empty()) {
        const std::size_t end = text.find('\n');
        std::string_view line = text.substr(0, end);
        text.remove_prefix(end == std::string_view::npos ? text.size() : end + 1);
        ++number;
        const bool comment = line.find('#') != std::string_view::npos;
        const std::string_view whole = line = without_blanks(line.substr(0, line.find('#')));
        if (line.empty()) {
            if (!comment) end_line();
            continue;
        }
        DrawnPoint p;
        const bool read = take_number(line, p.at.u) && take_number(line, p.at.v) &&
                          (without_blanks(line).empty() || take_number(line, p.arc));
        if (!read || !without_blanks(line).empty())
            return Error{ErrorCode::bad_number,
                         "a line of an outline is a point \"x y\" in mm, below a million, not " + in_quotes(whole),
                         "line " + std::to_string(number)};
        if (++points > most_points)
            return Error{ErrorCode::bad_count, "an outline has at most 20000 points", "line " + std::to_string(number)};
        line_of.push_back(p);
    }
    end_line();
    return out;
}

std::string text_of(const DrawnLines& lines) {
    std::string out;
    auto add = [&](double v) {
        char text[32];
        out.append(text, std::to_chars(text, text + sizeof text, v == 0 ? 0 : v).ptr);
    };
    for (const auto& line : lines) {
        if (!out.empty()) out += '\n';
        for (const DrawnPoint& p : line) {
            add(p.at.u);
            out += ' ';
            add(p.at.v);
            if (p.arc != 0) {
                out += ' ';
                add(p.arc);
            }
            out += '\n';
        }
    }
    return out;
}

std::vector<Point2> straightened(std::span<const DrawnPoint> line, bool closed, double chord) {
    std::vector<Point2> out;
    for (std::size_t k = 0; k < line.size(); ++k) {
        const bool last = k + 1 == line.size();
        if (last && !closed)
            out.push_back(line[k].at);
        else
            add_arc(line[k].at, line[last ? 0 : k + 1].at, line[k].arc, chord, out);
    }
    return out;
}

}  // namespace anvil
