#include "core/io/formats.h"

#include <cstdio>
#include "core/mesh/polygon.h"

namespace anvil::io_detail {
namespace {
bool is_blank(char c) { return c == ' ' || c == '\t' || c == '\r' || c == '\f' || c == '\v'; }

/// Lines end with a line feed, or all of them with a lone carriage return: the first end tells.
char line_end_of(std::string_view text) {
    const std::size_t first = text.find_first_of("\r\n");
    const bool lone = first != std::string_view::npos && text[first] == '\r' && text.substr(first, 2) != "\r\n";
    return lone ? '\r' : '\n';
}
}  // namespace

TextCursor::TextCursor(std::string_view text, char comment)
    : text_(text), comment_(comment), line_end_(line_end_of(text)) {}

std::string_view TextCursor::word() {
    while (pos_ < text_.size() && text_[pos_] != line_end_ && is_blank(text_[pos_])) ++pos_;
    if (pos_ >= text_.size() || text_[pos_] == line_end_ || (comment_ && text_[pos_] == comment_)) return {};
    const std::size_t start = pos_;
    while (pos_ < text_.size() && !is_blank(text_[pos_]) && text_[pos_] != line_end_) ++pos_;
    return text_.substr(start, pos_ - start);
}

std::string_view TextCursor::word_anywhere() {
    for (;;) {
        if (const std::string_view w = word(); !w.empty()) return w;
        if (!next_line()) return {};
    }
}

bool TextCursor::next_line() {
    const std::size_t end = text_.find(line_end_, pos_);
    if (end == std::string_view::npos) {
        pos_ = text_.size();
        return false;
    }
    pos_ = end + 1;
    ++line_;
    return true;
}

void add_polygon(Mesh& mesh, const std::vector<VertexId>& corners) {
    if (corners.size() == 3) {
        mesh.faces.push_back({corners[0], corners[1], corners[2]});
        return;
    }
    std::vector<Vec3> polygon;
    for (VertexId v : corners) polygon.push_back(mesh.points[v]);
    for (const auto& [a, b, c] : triangulate_polygon(polygon))
        mesh.faces.push_back({corners[a], corners[b], corners[c]});
}

Material coloured(std::uint8_t red, std::uint8_t green, std::uint8_t blue) {
    char name[12];
    std::snprintf(name, sizeof name, "rgb-%02X%02X%02X", unsigned{red}, unsigned{green}, unsigned{blue});
    return {name, std::array{red, green, blue}};
}

}  // namespace anvil::io_detail
