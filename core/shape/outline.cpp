#include "core/shape/outline.h"

#include "core/shape/drawn.h"
#include "core/shape/svg_path.h"

namespace anvil {
namespace {

std::string_view without_lead(std::string_view text) {
    const std::size_t from = text.find_first_not_of(" \t\r\n,;");
    return from == std::string_view::npos ? std::string_view() : text.substr(from);
}

}  // namespace

Result<Outline> outline_from_text(std::string_view text, double chord) {
    auto drawn = drawn_from_text(text);
    if (!drawn) return drawn.error();
    Outline out;
    std::size_t points = 0;
    for (auto& line : *drawn) {
        if (line.size() > 1 && line.front().at.u == line.back().at.u && line.front().at.v == line.back().at.v)
            line.pop_back();
        std::vector<Point2> loop = straightened(line, true, chord);
        if (loop.size() < 3)
            return Error{ErrorCode::bad_count, "a loop of an outline needs three points at least",
                         "loop " + std::to_string(out.size() + 1)};
        points += loop.size();
        if (points > most_drawn_points) return too_many_points();
        out.push_back(std::move(loop));
    }
    return out;
}

Result<Drawing> drawing_from(std::string_view text, FillRule rule_of_points, double chord) {
    if (const std::string_view start = without_lead(text.substr(0, 4096));
        start.starts_with('<') || start.starts_with("\xef\xbb\xbf<"))
        return drawing_from_svg(text, chord);
    auto outline = outline_from_text(text, chord);
    if (!outline) return outline.error();
    return Drawing{{std::move(*outline), rule_of_points}};
}

}  // namespace anvil
