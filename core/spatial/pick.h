#pragma once

#include <memory>
#include <optional>

#include "core/mesh/mesh.h"

namespace anvil {

/// Finds what a pointer is over. Single precision: for choosing, not for deciding. Copies what it needs.
class Picker {
  public:
    explicit Picker(const Mesh& mesh);
    ~Picker();
    Picker(Picker&&) noexcept;
    Picker& operator=(Picker&&) noexcept;

    struct Hit {
        double distance;  ///< along the direction, in multiples of its length
        FaceId face;
    };
    std::optional<Hit> first_hit(const Vec3& origin, const Vec3& direction) const;

  private:
    struct Scene;
    std::unique_ptr<Scene> scene_;
};

}  // namespace anvil
