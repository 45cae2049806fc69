#pragma once

#include <random>

#include "core/mesh/mesh.h"

namespace anvil::test {

inline constexpr int defect_kinds = 7;
inline const char* const defect_names[defect_kinds] = {"holes",  "duplicates", "flips", "fins", "extrusions by nothing",
                                                       "cracks", "collapses"};

/// Puts defects into a mesh at random; the same seed gives the same ones.
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

}  // namespace anvil::test
