#include "core/cut/screws.h"

#include <algorithm>

namespace anvil {

std::span<const Screw> screws() {
    // name, d, fine, medium, coarse, dk, k, counterbore, countersunk dk, insert, its depth
    static constexpr Screw table[] = {
        {"M2", 2, 2.2, 2.4, 2.6, 3.8, 2, 4.3, 0, 3.2, 4.0},    {"M2.5", 2.5, 2.7, 2.9, 3.1, 4.5, 2.5, 5.0, 0, 3.6, 5.0},
        {"M3", 3, 3.2, 3.4, 3.6, 5.5, 3, 6.5, 6.72, 4.0, 6.0}, {"M4", 4, 4.3, 4.5, 4.8, 7, 4, 8, 8.96, 5.6, 8.5},
        {"M5", 5, 5.3, 5.5, 5.8, 8.5, 5, 10, 11.2, 6.4, 10.0}, {"M6", 6, 6.4, 6.6, 7, 10, 6, 11, 13.44, 8.0, 13.0},
        {"M8", 8, 8.4, 9, 10, 13, 8, 15, 17.92, 9.7, 13.0},    {"M10", 10, 10.5, 11, 12, 16, 10, 18, 22.4, 0, 0},
        {"M12", 12, 13, 13.5, 14.5, 18, 12, 20, 26.88, 0, 0},  {"M14", 14, 15, 15.5, 16.5, 21, 14, 24, 30.8, 0, 0},
        {"M16", 16, 17, 17.5, 18.5, 24, 16, 26, 33.6, 0, 0},   {"M20", 20, 21, 22, 24, 30, 20, 33, 40.32, 0, 0},
        {"M24", 24, 25, 26, 28, 36, 24, 40, 0, 0, 0}};
    return table;
}

const Screw* find_screw(std::string_view name) {
    const auto at = std::ranges::find(screws(), name, &Screw::name);
    return at == screws().end() ? nullptr : &*at;
}

}  // namespace anvil
