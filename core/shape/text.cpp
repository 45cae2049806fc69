// Text as a body.
#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/base/number_text.h"
#include "core/shape/lettering.h"
#include "core/shape/shapes.h"

namespace anvil {
namespace {

/// How far a drawing reaches along u.
std::pair<double, double> reach(const Drawing& drawing) {
    std::pair out(HUGE_VAL, -HUGE_VAL);
    for (const FilledLoops& part : drawing)
        for (const auto& loop : part.loops)
            for (const Point2& p : loop) out = {std::min(out.first, p.u), std::max(out.second, p.u)};
    return out;
}

}  // namespace

Result<Solid> text_shape(const TextMeasures& m) {
    Drawing drawing;
    if (auto letters = lettering(m); letters)
        drawing = std::move(*letters);
    else
        return letters.error();
    if (drawing.empty())
        return Error{ErrorCode::out_of_range, "the text has no outline: it is empty, or blanks only", ""};
    if (m.around == 0) return pushed(filled(drawing), m.height);

    const double radius = m.around / 2, way = 2 * std::numbers::pi * radius;
    const auto [left, right] = reach(drawing);
    if (right - left >= way)
        return Error{ErrorCode::out_of_range,
                     "the text is " + short_text(right - left) + " mm long, and the cylinder " + short_text(way) +
                         " mm round: make the letters smaller or the cylinder larger",
                     ""};
    // Cut where the flat stretches of the cylinder meet, so that the faces bend there.
    const int around = faces_around(radius + m.height, {m.chord, 0});
    const double step = way / around;
    std::vector<double> cuts;
    for (double k = std::floor(left / step) + 1; k * step < right; ++k) cuts.push_back(k * step);
    Solid out = pushed(filled(drawing, cuts), m.height);
    for (Vec3& p : out.mesh.points) {
        const double angle = p.x / radius, r = radius + p.z;
        p = {r * std::sin(angle), -r * std::cos(angle), p.y};
    }
    return out;
}

}  // namespace anvil
