#pragma once

#include <filesystem>
#include <memory>
#include <vector>

#include "core/mesh/mesh.h"

namespace anvil::bench {

/// A mesh in CGAL's own structure, ready to work on, so that converting is no part of a measured time.
class CgalMesh {
  public:
    explicit CgalMesh(const Mesh& welded_mesh);
    ~CgalMesh();
    CgalMesh(const CgalMesh&);

    struct Impl;
    std::unique_ptr<Impl> impl;
};

/// The reference's way of each measured job. Each returns a number of faces or defects, which the benchmark checks
/// against ours.
std::size_t cgal_read_stl(const std::filesystem::path& file);  ///< faces; equal points made one
std::size_t cgal_corefine(CgalMesh& a, CgalMesh& b);           ///< faces of both after splitting them along each other
std::size_t cgal_union(CgalMesh& a, CgalMesh& b);              ///< faces of the union
std::size_t cgal_differences(CgalMesh& base, std::vector<CgalMesh>& cutters);  ///< faces left, one cutter at a time
/// Faces left behind a plane, closed there.
std::size_t cgal_clip(CgalMesh& mesh, const Vec3& origin, const Vec3& normal);
std::size_t cgal_inspect(const CgalMesh& mesh);  ///< defects: holes, pinches, crossings, degenerate, inward

}  // namespace anvil::bench
