#include "core/spatial/fast_winding.h"

#include "core/io/mesh_file.h"
#include "tests/support/support.h"

using namespace anvil;
using namespace anvil::test;

TEST_CASE("winding numbers by groups are those by single faces to within 0.05, near and far, closed and open") {
    std::mt19937 random(7);
    Mesh open = make_icosphere({1, 2, 3}, 5, 4);
    open.faces.raw().resize(open.faces.size() * 2 / 3);
    Mesh twice = make_torus(8, 3, 60, 30);
    append(twice, make_icosphere({8, 0, 0}, 4, 3));
    double worst = 0;
    for (const Mesh& mesh : {make_box({0, 0, 0}, {1, 2, 3}), open, twice}) {
        const FastWinding winding(mesh);
        const Box box = bounds(mesh);
        std::uniform_real_distribution<double> share(-0.2, 1.2);
        for (int k = 0; k < 400; ++k) {
            const Vec3 size = box.size();
            const Vec3 p = box.low + Vec3{share(random) * size.x, share(random) * size.y, share(random) * size.z};
            worst = std::max(worst, std::fabs(winding.at(p) - winding_number(mesh, p)));
        }
    }
    CHECK(worst < 0.05);
    CHECK(worst > 0);  // groups were used
    CHECK(FastWinding(Mesh{}).at({0, 0, 0}) == 0);
}
