#pragma once

#include <charconv>
#include <string>

namespace anvil {

/// "1 hole", "3 holes".
inline std::string count_text(std::size_t n, const char* one, const char* many) {
    return std::to_string(n) + " " + (n == 1 ? one : many);
}
/// With three digits, and a point whatever the locale.
inline std::string short_text(double v) {
    char text[32];
    return {text, std::to_chars(text, text + sizeof text, v, std::chars_format::general, 3).ptr};
}

}  // namespace anvil
