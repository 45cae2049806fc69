#pragma once

#include "core/base/vec3.h"

namespace anvil {

/// A plane, and what is mirrored across it. Square to an axis the mirror image of a coordinate x is 2 c - x, rounded
/// once.
class MirrorPlane {
  public:
    MirrorPlane(const Vec3& origin, const Vec3& normal) : origin_(origin), normal_(normalized(normal)) {
        const int k = longest_axis(normal);
        Vec3 along;
        along[k] = normal[k] > 0 ? 1 : -1;
        if (normal - Vec3{k == 0 ? normal.x : 0, k == 1 ? normal.y : 0, k == 2 ? normal.z : 0} == Vec3{})
            axis_ = k, normal_ = along;
    }
    const Vec3& normal() const { return normal_; }
    double height(const Vec3& p) const {
        return axis_ >= 0 ? (p[axis_] - origin_[axis_]) * normal_[axis_] : dot(p - origin_, normal_);
    }
    Vec3 image(const Vec3& p) const {
        if (axis_ < 0) return p - normal_ * (2 * height(p));
        Vec3 out = p;
        out[axis_] = 2 * origin_[axis_] - p[axis_];
        return out;
    }
    Vec3 onto(const Vec3& p) const {
        if (axis_ < 0) return p - normal_ * height(p);
        Vec3 out = p;
        out[axis_] = origin_[axis_];
        return out;
    }

  private:
    Vec3 origin_, normal_;
    int axis_ = -1;
};

}  // namespace anvil
