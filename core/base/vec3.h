#pragma once

#include <algorithm>
#include <array>
#include <cmath>

namespace anvil {

/// A point or a vector in space. Millimetres wherever a length is meant.
/// Three doubles and nothing else, so that an array of them is an array of coordinates.
struct Vec3 {
    double x = 0, y = 0, z = 0;

    double operator[](int axis) const { return axis == 0 ? x : axis == 1 ? y : z; }
    double& operator[](int axis) { return axis == 0 ? x : axis == 1 ? y : z; }
    bool operator==(const Vec3&) const = default;
};
static_assert(sizeof(Vec3) == 3 * sizeof(double));

inline Vec3 operator+(const Vec3& a, const Vec3& b) { return {a.x + b.x, a.y + b.y, a.z + b.z}; }
inline Vec3 operator-(const Vec3& a, const Vec3& b) { return {a.x - b.x, a.y - b.y, a.z - b.z}; }
inline Vec3 operator-(const Vec3& a) { return {-a.x, -a.y, -a.z}; }
inline Vec3 operator*(const Vec3& a, double s) { return {a.x * s, a.y * s, a.z * s}; }
inline Vec3 operator*(double s, const Vec3& a) { return a * s; }
inline double dot(const Vec3& a, const Vec3& b) { return a.x * b.x + a.y * b.y + a.z * b.z; }
inline Vec3 cross(const Vec3& a, const Vec3& b) {
    return {a.y * b.z - a.z * b.y, a.z * b.x - a.x * b.z, a.x * b.y - a.y * b.x};
}
inline double norm2(const Vec3& a) { return dot(a, a); }
inline double norm(const Vec3& a) { return std::sqrt(dot(a, a)); }
/// By x, then y, then z: an order for lists and maps of places.
struct ByCoordinates {
    bool operator()(const Vec3& a, const Vec3& b) const {
        return a.x != b.x ? a.x < b.x : a.y != b.y ? a.y < b.y : a.z < b.z;
    }
};
/// Length 1; the zero vector stays zero.
inline Vec3 normalized(const Vec3& a) {
    const double n = norm(a);
    return n > 0 ? a * (1 / n) : a;
}
inline bool is_finite(const Vec3& a) { return std::isfinite(a.x) && std::isfinite(a.y) && std::isfinite(a.z); }

/// The largest of the coordinates by amount.
inline double largest_component(const Vec3& a) { return std::max({std::fabs(a.x), std::fabs(a.y), std::fabs(a.z)}); }

/// The axis of that coordinate.
inline int longest_axis(const Vec3& a) {
    const double x = std::fabs(a.x), y = std::fabs(a.y), z = std::fabs(a.z);
    return x >= y && x >= z ? 0 : y >= z ? 1 : 2;
}

/// The nearest single-precision number. Through `volatile`, since g++ 12 drops the two conversions where it does them
/// for two coordinates side by side.
inline double in_single_precision(double v) {
    volatile float f = static_cast<float>(v);
    return double{f};
}
inline Vec3 in_single_precision(const Vec3& p) {
    return {in_single_precision(p.x), in_single_precision(p.y), in_single_precision(p.z)};
}

/// Axis-aligned box. Empty (low above high) until something is added.
struct Box {
    Vec3 low{HUGE_VAL, HUGE_VAL, HUGE_VAL}, high{-HUGE_VAL, -HUGE_VAL, -HUGE_VAL};

    bool empty() const { return low.x > high.x; }
    void add(const Vec3& p) {
        for (int k = 0; k < 3; ++k) {
            if (p[k] < low[k]) low[k] = p[k];
            if (p[k] > high[k]) high[k] = p[k];
        }
    }
    void add(const Box& b) {
        if (b.empty()) return;
        add(b.low);
        add(b.high);
    }
    /// Closed boxes: touching counts.
    bool meets(const Box& b) const {
        return low.x <= b.high.x && b.low.x <= high.x && low.y <= b.high.y && b.low.y <= high.y && low.z <= b.high.z &&
               b.low.z <= high.z;
    }
    Vec3 size() const { return empty() ? Vec3{} : high - low; }
    Vec3 center() const { return empty() ? Vec3{} : (low + high) * 0.5; }
    double diagonal() const { return norm(size()); }
};

/// mm2
inline double triangle_area(const Vec3& a, const Vec3& b, const Vec3& c) { return 0.5 * norm(cross(b - a, c - a)); }

}  // namespace anvil
