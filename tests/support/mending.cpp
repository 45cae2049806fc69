#include "tests/support/mending.h"

#include <catch2/catch.hpp>

#include "core/mesh/weld.h"

namespace anvil::test {

Mended mended(const Mesh& mesh, const MendOptions& options, std::span<const Repair> plan) {
    Progress progress;
    auto out = mend(mesh, plan, options, progress);
    REQUIRE(out);
    return std::move(*out);
}

void drop_face(Mesh& mesh, std::size_t f) { mesh.faces.raw().erase(mesh.faces.begin() + static_cast<long>(f)); }

Mesh without_top(const Mesh& mesh, double z) {
    Mesh out = mesh;
    std::erase_if(out.faces.raw(), [&](const Triangle& t) {
        return mesh.points[t[0]].z == z && mesh.points[t[1]].z == z && mesh.points[t[2]].z == z;
    });
    return welded(out);
}

}  // namespace anvil::test
