#pragma once

#include <charconv>
#include <string>
#include <string_view>
#include <type_traits>

#include "core/base/plain_text.h"
#include "core/base/result.h"
#include "core/io/mesh_file.h"
#include "core/mesh/mesh.h"

namespace anvil::io_detail {

Result<Mesh> parse_stl(std::string_view bytes);
Result<Mesh> parse_obj(std::string_view bytes);
Result<Mesh> parse_ply(std::string_view bytes);
Result<Mesh> parse_off(std::string_view bytes);
/// A material of this name stands for none: an object of a 3MF has one for all its faces or for none.
inline constexpr std::string_view no_material_3mf = "no material";
Result<std::vector<NamedMesh>> parse_3mf(std::string_view bytes);
/// Throws bad_alloc where it cannot be packed.
std::string format_3mf(std::span<const NamedMesh> meshes);
std::string format_stl(const Mesh& mesh);
std::string format_obj(const Mesh& mesh);
std::string format_ply(const Mesh& mesh);
std::string format_off(const Mesh& mesh);

/// The shortest digits that read back to the same double.
inline void append_number(std::string& out, double v) {
    char buffer[32];
    out.append(buffer, std::to_chars(buffer, buffer + sizeof buffer, v).ptr);
}

/// Whether a number out of range is too small, not too large: by its exponent, or by its zeros in front.
inline bool is_tiny(std::string_view word) {
    const std::size_t e = word.find_first_of("eE");
    if (e != std::string_view::npos) return word.substr(e + 1).starts_with('-');
    return word.find_first_of("123456789") > word.find('.');
}

/// A whole word as a number; false where it is none. Accepts a leading '+', and nan and inf (the caller refuses them).
/// What is too small for a double is 0.
template <class Number>
bool parse_number(std::string_view word, Number& value) {
    if (!word.empty() && word.front() == '+') word.remove_prefix(1);
    const auto [end, error] = std::from_chars(word.data(), word.data() + word.size(), value);
    if (end != word.data() + word.size()) return false;
    if constexpr (std::is_floating_point_v<Number>)
        if (error == std::errc::result_out_of_range && is_tiny(word)) {
            value = word.starts_with('-') ? -0.0 : 0.0;
            return true;
        }
    return error == std::errc();
}

/// Adds a polygon as triangles, all of one material where one is given. Precondition: its indices are in range.
void add_polygon(Mesh& mesh, const std::vector<VertexId>& corners);

/// Keeps a mesh's materials side by side with its faces while they are read.
class MaterialReader {
  public:
    explicit MaterialReader(Mesh& mesh) : mesh_(mesh), numbers_(mesh.materials) {}
    /// For the faces since the last call; null for none.
    void set(const Material* material) {
        if (material) {
            mesh_.material.raw().resize(done_, no_material);
            mesh_.material.raw().resize(mesh_.faces.size(), numbers_.number(*material));
        } else if (!mesh_.material.empty()) {
            mesh_.material.raw().resize(mesh_.faces.size(), no_material);
        }
        done_ = mesh_.faces.size();
    }

  private:
    Mesh& mesh_;
    MaterialNumbers numbers_;
    std::size_t done_ = 0;
};

/// The material of a face that a file gives nothing but a colour: "rgb-93A4AC".
Material coloured(std::uint8_t red, std::uint8_t green, std::uint8_t blue);

/// Walks through text word by word and line by line.
class TextCursor {
  public:
    /// `comment` starts a comment that ends with the line; 0 for none.
    explicit TextCursor(std::string_view text, char comment = '#');

    /// The next word on this line; empty at its end.
    std::string_view word();
    /// The next word on this or any later line; empty at the end of the text.
    std::string_view word_anywhere();
    /// Goes to the start of the next line; false at the end of the text.
    bool next_line();
    bool at_end() const { return pos_ >= text_.size(); }
    std::size_t line() const { return line_; }
    std::string place() const { return "line " + std::to_string(line_); }
    std::size_t remaining() const { return text_.size() - pos_; }
    std::size_t position() const { return pos_; }

  private:
    std::string_view text_;
    char comment_, line_end_;
    std::size_t pos_ = 0, line_ = 1;
};

}  // namespace anvil::io_detail
