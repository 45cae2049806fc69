#pragma once

#include <filesystem>
#include <span>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/result.h"
#include "core/mesh/mesh.h"

namespace anvil {

enum class MeshFormat { stl, obj, ply, off, threemf };

/// By the file's ending, in any case.
Result<MeshFormat> format_of(const std::filesystem::path& file);

/// Whether coordinates are to be settled for single precision: STL holds no other, and most programs read 3MF so.
inline bool is_single_precision(MeshFormat format) {
    return format == MeshFormat::stl || format == MeshFormat::threemf;
}
/// Whether files of a format say what their numbers mean: they are read in millimetres.
inline bool names_unit(MeshFormat format) { return format == MeshFormat::threemf; }
/// Whether a file of a format holds several bodies, each by its name.
inline bool holds_several(MeshFormat format) { return format == MeshFormat::threemf; }

struct NamedMesh {
    std::string name;  ///< UTF-8; may be empty
    Mesh mesh;
};

/// Whether a mesh's coordinates are within what files of a format hold: out_of_range, with the size that would fit,
/// where they are not.
Result<void> fits(const Mesh& mesh, MeshFormat format);

/// Reads a mesh. Safe on hostile bytes: whatever the file holds, this returns a mesh whose coordinates are finite and
/// whose indices are in range, or one error that names the file and the place in it; it never allocates much more
/// than the file's own size. Polygons are cut into triangles. Points stay as they are in the file (STL: three per
/// face); weld them with `welded`.
Result<Mesh> read_mesh(const std::filesystem::path& file);

/// The bodies of a file by their names: of a 3MF an object for each build item, else one that is called as the file is.
/// Each has faces.
Result<std::vector<NamedMesh>> read_meshes(const std::filesystem::path& file);

/// Writes beside the target and renames, so that an existing file stays whole on any failure. STL is binary (single
/// precision), PLY binary (double precision); OBJ and OFF are text with the shortest digits that read back to the
/// same double. 3MF is a package of text, with the same digits, in millimetres; faces that repeat a corner are left
/// out.
Result<void> write_mesh(const Mesh& mesh, const std::filesystem::path& file);

/// Several bodies in one file. Precondition: its format holds several.
Result<void> write_meshes(std::span<const NamedMesh> meshes, const std::filesystem::path& file);

/// Any bytes to a file, in the same way.
Result<void> write_file(std::string_view bytes, const std::filesystem::path& file);
Result<std::string> read_file(const std::filesystem::path& file);

/// The single formats, from and to memory. Errors carry the place within the bytes.
Result<Mesh> parse_mesh(std::string_view bytes, MeshFormat format);
std::string format_mesh(const Mesh& mesh, MeshFormat format);
std::string format_meshes(std::span<const NamedMesh> meshes, MeshFormat format);

}  // namespace anvil
