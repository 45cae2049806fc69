#include "core/combine/operation.h"

namespace anvil {

std::string_view word(Operation op) {
    switch (op) {
        case Operation::union_of: return "union";
        case Operation::difference: return "difference";
        case Operation::intersection: return "intersection";
    }
    return "";
}

std::optional<Operation> operation_from(std::string_view w) {
    for (Operation op : {Operation::union_of, Operation::difference, Operation::intersection})
        if (word(op) == w) return op;
    return std::nullopt;
}

bool inside_result(std::span<const std::int32_t> winding, std::span<const CombineStep> steps) {
    bool inside = winding[0] >= 1;
    for (const CombineStep& step : steps) {
        const bool there = winding[step.operand] >= 1;
        switch (step.operation) {
            case Operation::union_of: inside = inside || there; break;
            case Operation::difference: inside = inside && !there; break;
            case Operation::intersection: inside = inside && there; break;
        }
    }
    return inside;
}

}  // namespace anvil
