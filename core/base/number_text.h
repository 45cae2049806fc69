#pragma once

#include <cstdio>
#include <string>

namespace anvil {

/// "1 hole", "3 holes".
inline std::string count_text(std::size_t n, const char* one, const char* many) {
    return std::to_string(n) + " " + (n == 1 ? one : many);
}
/// With three digits.
inline std::string short_text(double v) {
    char text[32];
    std::snprintf(text, sizeof text, "%.3g", v);
    return text;
}

}  // namespace anvil
