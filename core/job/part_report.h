#pragma once

#include "core/combine/combine.h"

namespace anvil {

/// How one part met the others in an evaluation.
struct PartReport {
    std::size_t curves = 0;  ///< crossing curves on the result that its surface has a part in
    double length = 0;       ///< mm, of all of them
    struct Flush {
        std::string other;  ///< the other part's id
        bool facing;        ///< the bodies touch there; else both lie on the same side
        double area;        ///< mm2
        Vec3 place;         ///< in the largest region
    };
    std::vector<Flush> flush;
    std::size_t closed_holes = 0;  ///< holes that were closed in it
    bool empty() const { return curves == 0 && flush.empty() && closed_holes == 0; }
};

/// `operand_parts`: per operand number in combined.source, the part's id.
PartReport report_of(const Combined& combined, std::span<const std::string> operand_parts, const std::string& part);

}  // namespace anvil
