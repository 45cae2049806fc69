#pragma once

#include <catch2/catch.hpp>
#include <filesystem>
#include <random>
#include <set>
#include <string>

#include "core/combine/combine.h"
#include "core/inspect/inspect.h"
#include "core/mesh/measures.h"
#include "core/mesh/primitives.h"
#include "core/mesh/transform.h"

namespace anvil {
struct Operand;
}  // namespace anvil

namespace anvil::test {

/// Runs the full inspection and names what it found.
Inspection inspected(const Mesh& mesh);
std::string findings_text(const Inspection& inspection);

/// Combines and checks that it went well, no more.
Combined combined_only(Operation operation, const std::vector<Mesh>& operands);
/// Whether one of the messages holds this text.
bool says(const Combined& combined, const std::string& text);

/// Combines, checks that it went well, and that the result is free of every kind of finding (unless it is empty).
Combined combined(Operation operation, const std::vector<Mesh>& operands);
/// The same for results that may touch themselves along edges or in points: closed and free of crossings.
Combined combined_touching(Operation operation, const std::vector<Mesh>& operands);

/// The solid angle of a mesh seen from a point, over 4 pi: its winding number there. Formula: A. van Oosterom,
/// J. Strackee, "The Solid Angle of a Plane Triangle", IEEE Trans. Biomed. Eng. 30 (1983).
double winding_number(const Mesh& mesh, const Vec3& p);

/// The mesh as an operand, repaired where it has to be.
std::shared_ptr<const Operand> ready(const Mesh& mesh);

Mesh moved(Mesh mesh, const Vec3& by);
Mesh turned(Mesh mesh, double radians, const Vec3& axis);

/// The corners of faces, by their coordinates, in no order.
using CornerSet = std::array<std::array<double, 3>, 3>;
CornerSet corner_set(const Mesh& mesh, FaceId f);
std::multiset<CornerSet> corner_sets(const Mesh& mesh);

/// A folder that is removed at the end of the test.
class TempFolder {
  public:
    TempFolder();
    ~TempFolder();
    TempFolder(const TempFolder&) = delete;
    std::filesystem::path path() const { return path_; }
    std::filesystem::path operator/(const std::string& name) const { return path_ / name; }

  private:
    std::filesystem::path path_;
};

void write_bytes(const std::filesystem::path& file, const std::string& bytes);
std::string read_bytes(const std::filesystem::path& file);

/// Whether the code is watched by the address sanitizer, which takes five times as long: what that looks for shows
/// itself in fewer cases.
#ifdef __SANITIZE_ADDRESS__
inline constexpr bool instrumented = true;
#else
inline constexpr bool instrumented = false;
#endif

/// What chance starts from: SEED where that is set.
std::uint32_t seed_of_run();

/// The unpacked meshes of libcgal-demo's data archive, sorted by name; empty where the build did not find it.
std::vector<std::filesystem::path> real_meshes();
/// One in so many of them by chance, in their order; instrumented, a quarter of that. The seed is printed.
std::vector<std::filesystem::path> some_real_meshes(std::size_t one_in);

}  // namespace anvil::test
