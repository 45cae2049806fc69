#pragma once

#include <memory>

#include "core/mesh/mesh.h"

namespace anvil::bench {

/// Points and faces as CGAL takes what is not a surface mesh yet.
class CgalSoup {
  public:
    explicit CgalSoup(const Mesh& mesh);
    ~CgalSoup();
    CgalSoup(const CgalSoup&);

    struct Impl;
    std::unique_ptr<Impl> impl;
};

/// The reference's way to the same repairs; each returns the number of faces left, or of defects.
std::size_t cgal_quick_checks(CgalSoup& soup);  ///< into a surface mesh; borders, non-manifold points, flat faces
std::size_t cgal_all_checks(CgalSoup& soup);    ///< crossings of the soup, after those
std::size_t cgal_drop_duplicates(CgalSoup& soup);
std::size_t cgal_drop_degenerate(CgalSoup& soup);
std::size_t cgal_orient(CgalSoup& soup);
std::size_t cgal_fill_holes(CgalSoup& soup);
std::size_t cgal_remove_crossings(CgalSoup& soup);
/// All of them, in the order that leaves the most meshes sound.
std::size_t cgal_mend(CgalSoup& soup);

}  // namespace anvil::bench
