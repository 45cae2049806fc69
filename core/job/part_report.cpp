#include "core/job/part_report.h"

namespace anvil {

PartReport report_of(const Combined& combined, std::span<const std::string> parts, const std::string& part) {
    PartReport out;
    auto is_it = [&](std::uint32_t operand) { return operand < parts.size() && parts[operand] == part; };
    for (const CrossingCurve& curve : combined.curves)
        if (is_it(curve.a) || is_it(curve.b)) {
            ++out.curves;
            out.length += curve.length();
        }
    for (const FlushArea& f : combined.flush)
        if (is_it(f.a) != is_it(f.b) && f.a < parts.size() && f.b < parts.size())
            out.flush.push_back({parts[is_it(f.a) ? f.b : f.a], f.facing, f.area, f.place});
    for (const ClosedHole& hole : combined.closed_holes) out.closed_holes += is_it(hole.operand);
    return out;
}

}  // namespace anvil
