#pragma once

#include <memory>
#include <string>

#include "core/arrange/taken.h"
#include "core/base/progress.h"
#include "core/base/result.h"
#include "core/spatial/box_tree.h"
#include "core/spatial/triangle_contact.h"

namespace anvil {

/// Two faces that meet, each by its number within its own operand.
struct FaceContact {
    FaceId a, b;
    Contact contact;
};

/// What surfaces add to a volume; sums over faces, so parts of a surface add up. In doubles: for telling.
struct Moments {
    double volume = 0;  ///< mm3, of the cone from the origin of sums to the surface
    Vec3 area;          ///< mm2, the sum of the faces' area vectors

    /// `origin`: the same for all that is added up; near the surface for precision.
    void add(const Vec3& a, const Vec3& b, const Vec3& c, const Vec3& origin) {
        const Vec3 n = cross(b - a, c - a);
        volume += dot(a - origin, n) / 6;
        area = area + n * 0.5;
    }
    void add(const Moments& m, double times = 1) {
        volume += times * m.volume;
        area = area + m.area * times;
    }
    /// The same with another origin of sums.
    Moments seen_from(const Vec3& old_origin, const Vec3& origin) const {
        return {volume + dot(old_origin - origin, area) / 3, area};
    }
};

/// One operand made ready, once, for any number of arrangements: everything that depends on it alone.
/// Never changed after it is made, so arrangements, jobs and threads share it.
struct Operand {
    Mesh mesh;  ///< welded; no face has a corner twice, lies in a line, or repeats another one
    std::vector<FaceId>
        origin;  ///< per face: its number in the mesh as it was given; not valid for one that closes a hole
    std::vector<Material> materials;
    IdVector<FaceId, std::uint32_t> material;  ///< as in the mesh as it was given, by its faces
    /// Further faces that lie on a face of `mesh` with the same corners; sorted by that face.
    struct Copy {
        FaceId of, origin;
        bool reversed;
    };
    std::vector<Copy> copies;
    std::vector<std::uint32_t> twin;        ///< per half-edge: as `HalfEdges::twin`
    std::vector<FaceId> irregular;          ///< faces with an edge that is not regular, or with copies; sorted
    std::vector<std::uint32_t> shell;       ///< per face: faces connected across regular edges
    std::vector<FaceId> shell_start;        ///< per shell: its first face
    std::vector<std::uint32_t> shell_size;  ///< per shell: its number of faces
    std::vector<Moments> shell_moments;     ///< per shell
    std::vector<VertexId> pinched;          ///< points whose faces form more than one fan; sorted
    std::vector<VertexId> loose;            ///< points that no face uses (any more)
    bool sheet = false;                     ///< a surface that encloses nothing: it has no winding number
    bool flat = false;                      ///< a sheet in one plane, which closing would not make a solid
    bool single_precision = false;          ///< every coordinate is a single-precision number
    BoxTree tree;                           ///< over the boxes of the faces
    Box bounds;
    std::vector<FaceContact> contacts;  ///< of its faces among each other, beyond shared corners and edges; sorted
    std::size_t set_aside = 0;          ///< degenerate faces left out: their edges are in their neighbours' too
    std::vector<std::string> notes;     ///< what was assumed about it; sentences about "it"
    std::vector<std::vector<Vec3>> closed_holes;  ///< the rims of the holes that were closed
    double moved = 0;  ///< mm, how far its points went at most to be one with another operand's (see near_operands.h)

    /// Everything that it is wound by: its faces, then all copies of them, with their materials.
    struct Whole {
        Mesh mesh;
        std::vector<FaceId> origin;  ///< per face, as above
    };
    Whole whole() const;

    /// Of a face as it was given; none where it has no material.
    const Material* material_of(FaceId given) const {
        const std::uint32_t m = material.empty() || !given.valid() ? no_material : material[given];
        return m == no_material ? nullptr : &materials[m];
    }
};

/// Preconditions: coordinates are finite.
/// Fails: out_of_range where one is `largest_coordinate` or more; open_operand where it has no faces, or does not close
/// as it is wound (every edge must be run along as often one way as the other; the message counts them); cancelled.
Result<std::shared_ptr<const Operand>> make_operand(const Mesh& given, Taken taken, Progress& progress);

/// Keeps the faces for which keep(f) says so, and their origins. For what makes an operand ready.
template <class Keep>
void keep_faces(Operand& operand, const Keep& keep) {
    auto& faces = operand.mesh.faces.raw();
    std::size_t kept = 0;
    for (std::size_t f = 0; f < faces.size(); ++f)
        if (keep(f)) {
            faces[kept] = faces[f];
            operand.origin[kept++] = operand.origin[f];
        }
    faces.resize(kept);
    operand.origin.resize(kept);
}

}  // namespace anvil
