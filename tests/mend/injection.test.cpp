// Sound bodies with defects put into them at random, one kind at a time and all together: mended, each has its volume
// back, within what the defect itself took away.
#include "core/inspect/compare.h"
#include "core/mend/mend.h"
#include "tests/support/support.h"

using namespace anvil;
using namespace anvil::test;

namespace {

constexpr int kinds = 7;
const char* const names[kinds] = {"holes",  "duplicates", "flips", "fins", "extrusions by nothing",
                                  "cracks", "collapses"};

class Injector {
  public:
    Injector(Mesh mesh, unsigned seed) : mesh_(std::move(mesh)), random_(seed) {}
    const Mesh& mesh() const { return mesh_; }

    void inject(int kind) {
        const FaceId f(pick());
        Triangle& t = mesh_.faces[f];
        switch (kind) {
            case 0: erase(f); return;
            case 1: mesh_.faces.push_back(Triangle(t)); return;
            case 2: std::swap(t[0], t[1]); return;
            case 3: {
                const Vec3 n = cross(mesh_.corner(f, 1) - mesh_.corner(f, 0), mesh_.corner(f, 2) - mesh_.corner(f, 0));
                const VertexId tip = mesh_.points.push_back(mesh_.corner(f, 0) + normalized(n));
                mesh_.faces.push_back({mesh_.faces[f][0], mesh_.faces[f][1], tip});
                return;
            }
            case 4: {
                const Triangle down = t;
                Triangle up;
                for (std::size_t k = 0; k < 3; ++k) up[k] = mesh_.points.push_back(Vec3(mesh_.points[down[k]]));
                mesh_.faces[f] = up;
                for (std::size_t k = 0; k < 3; ++k) {
                    mesh_.faces.push_back({down[k], down[(k + 1) % 3], up[(k + 1) % 3]});
                    mesh_.faces.push_back({down[k], up[(k + 1) % 3], up[k]});
                }
                return;
            }
            case 5: {  // a corner comes loose from the others by a hair
                t[0] = mesh_.points.push_back(mesh_.points[t[0]] + Vec3{1e-5, -1e-5, 1e-5});
                return;
            }
            default: {  // an edge shrinks to a point
                const VertexId from = t[0], to = t[1];
                for (Triangle& other : mesh_.faces)
                    for (VertexId& v : other)
                        if (v == from) v = to;
            }
        }
    }

  private:
    std::size_t pick() { return std::uniform_int_distribution<std::size_t>(0, mesh_.faces.size() - 1)(random_); }
    void erase(FaceId f) { mesh_.faces.raw().erase(mesh_.faces.begin() + static_cast<long>(f.value())); }

    Mesh mesh_;
    std::mt19937 random_;
};

/// A sphere of 10 mm whose faces are no longer than 1 mm: whatever happens to a few of its faces changes its surface by
/// less than that, and its volume by less than a hundredth.
Mesh body() { return make_icosphere({3, -2, 5}, 10, 4); }

void check_mended(const std::string& what, const Mesh& broken) {
    INFO(what);
    Progress progress;
    const auto done = mend(broken, whole_plan(), {}, progress);
    REQUIRE(done);
    INFO(done->remains());
    CHECK(done->after.print_ready);
    CHECK(signed_volume(done->mesh) == Approx(signed_volume(body())).epsilon(0.01));
    const auto distance = compare(body(), done->mesh, 0.5, progress);
    REQUIRE(distance);
    CHECK(distance->hausdorff() < 1.0);
}

}  // namespace

TEST_CASE("injected defects of one kind are mended, whichever kind") {
    for (int kind = 0; kind < kinds; ++kind)
        for (unsigned seed = 0; seed < 4; ++seed) {
            Injector injector(body(), 100 * static_cast<unsigned>(kind) + seed);
            for (unsigned i = 0; i <= 4 * seed; ++i) injector.inject(kind);
            check_mended(std::string(names[kind]) + ", seed " + std::to_string(seed), injector.mesh());
        }
}

TEST_CASE("injected mixtures of all kinds are mended") {
    for (unsigned seed = 0; seed < 12; ++seed) {
        Injector injector(body(), 5000 + seed);
        std::mt19937 random(seed);
        for (unsigned i = 0; i < 4 + 2 * seed; ++i)
            injector.inject(std::uniform_int_distribution<int>(0, kinds - 1)(random));
        check_mended("mixture " + std::to_string(seed), injector.mesh());
    }
}
