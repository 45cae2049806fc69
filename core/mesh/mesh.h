#pragma once

#include <array>
#include <compare>
#include <map>
#include <optional>
#include <string>
#include <vector>

#include "core/base/index.h"
#include "core/base/vec3.h"

namespace anvil {

/// The three corners of a face, counter-clockwise seen from outside.
using Triangle = std::array<VertexId, 3>;

/// Whether two corners are one point: such a face is an edge or a point.
inline bool repeats_corner(const Triangle& t) { return t[0] == t[1] || t[1] == t[2] || t[2] == t[0]; }

/// What faces are made of, as files name it. Of no meaning to any geometry.
struct Material {
    std::string name;
    std::optional<std::array<std::uint8_t, 3>> colour;  ///< red, green, blue
    auto operator<=>(const Material&) const = default;
};
inline constexpr std::uint32_t no_material = 0xffffffffu;

/// A triangle mesh as two plain arrays; the edges, neighbours and shells of it are computed where they are needed.
///
///        c            faces[f] = {a, b, c}
///       / \           corner k of face f is number 3 * f + k
///      / f \          half-edge k of face f runs from corner k to corner (k + 1) % 3
///     a --- b         normal: (b - a) x (c - a), pointing outward on a sound solid
///
/// Nothing is promised about the faces but that their corners are indices into `points`: they may be open,
/// degenerate, doubled or crossing. Lengths are millimetres.
struct Mesh {
    IdVector<VertexId, Vec3> points;
    IdVector<FaceId, Triangle> faces;
    std::vector<Material> materials;
    IdVector<FaceId, std::uint32_t> material;  ///< per face: a number in `materials`, or none; or no entries at all

    std::uint32_t material_of(FaceId f) const { return material.empty() ? no_material : material[f]; }
    bool empty() const { return faces.empty(); }
    const Vec3& corner(FaceId f, int k) const { return points[faces[f][k]]; }
    bool operator==(const Mesh&) const = default;
};

/// Makes bit-equal points one (and 0 and -0 equal) and drops points that no face uses. Faces keep their number and
/// order. This is what a format without shared corners, such as STL, makes of a mesh.
Mesh welded(const Mesh& mesh);

/// Gives materials numbers in a list, equal ones the same.
class MaterialNumbers {
  public:
    explicit MaterialNumbers(std::vector<Material>& list) : list_(list) {
        for (std::uint32_t i = 0; i < list.size(); ++i) known_.try_emplace(list[i], i);
    }
    std::uint32_t number(const Material& material) {
        const auto [at, fresh] = known_.try_emplace(material, static_cast<std::uint32_t>(list_.size()));
        if (fresh) list_.push_back(material);
        return at->second;
    }

  private:
    std::vector<Material>& list_;
    std::map<Material, std::uint32_t> known_;
};

/// Turns every face over.
void turn_over(Mesh& mesh);

/// Puts `other` beside what is there, sharing nothing.
void append(Mesh& mesh, const Mesh& other);

}  // namespace anvil
