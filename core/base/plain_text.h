#pragma once

#include <cstdio>
#include <string>
#include <string_view>

namespace anvil {

/// Text that came out of a file or a command, for a line that people read: control characters, and bytes that are no
/// UTF-8, are written as escapes ("\n", "\x1b"), so that it stays on its line and changes no terminal.
inline std::string on_one_line(std::string_view text) {
    std::string out;
    auto escape = [&](unsigned char c) {
        char code[5];
        std::snprintf(code, sizeof code, "\\x%02x", c);
        out += code;
    };
    for (std::size_t i = 0; i < text.size();) {
        const auto c = static_cast<unsigned char>(text[i]);
        if (c == '\n' || c == '\r' || c == '\t') {
            out += c == '\n' ? "\\n" : c == '\r' ? "\\r" : "\\t";
            ++i;
            continue;
        }
        const std::size_t length = c < 0x80                ? 1
                                   : c >= 0xc2 && c < 0xe0 ? 2
                                   : c >= 0xe0 && c < 0xf0 ? 3
                                   : c >= 0xf0 && c < 0xf5 ? 4
                                                           : 0;
        bool whole = length > 0 && i + length <= text.size() && c >= 32 && c != 127;
        for (std::size_t k = 1; whole && k < length; ++k)
            whole = (static_cast<unsigned char>(text[i + k]) & 0xc0) == 0x80;
        // U+0080 to U+009F are control characters, too.
        if (whole && c == 0xc2 && static_cast<unsigned char>(text[i + 1]) < 0xa0) whole = false;
        // So do U+202A to U+202E and U+2066 to U+2069: they turn the direction of what follows.
        if (whole && c == 0xe2 && length == 3) {
            const auto a = static_cast<unsigned char>(text[i + 1]), b = static_cast<unsigned char>(text[i + 2]);
            if ((a == 0x80 && b >= 0xaa && b <= 0xae) || (a == 0x81 && b >= 0xa6 && b <= 0xa9)) whole = false;
        }
        if (!whole) {
            escape(c);
            ++i;
            continue;
        }
        out += text.substr(i, length);
        i += length;
    }
    return out;
}

/// The same in quotation marks, cut off where it is long.
inline std::string in_quotes(std::string_view text, std::size_t longest = 60) {
    const bool cut = text.size() > longest;
    std::string shown(text.substr(0, longest));
    // Not within a character.
    while (cut && !shown.empty() && (static_cast<unsigned char>(text[shown.size()]) & 0xc0) == 0x80) shown.pop_back();
    return "\"" + on_one_line(shown) + (cut ? "...\"" : "\"");
}

}  // namespace anvil
