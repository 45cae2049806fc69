// Based on: J. R. Shewchuk, "Adaptive Precision Floating-Point Arithmetic and Fast Robust Geometric Predicates"
// (1997), for the filters' error constants. We depart from it behind the filter: bounded arithmetic, one exact stage of
// expansions, and whole exact numbers where those would over- or underflow.
#include "core/exact/predicates.h"

#include "core/exact/dyadic.h"
#include "core/exact/expansion.h"
#include "core/exact/stages.h"

namespace anvil {
namespace {

constexpr double epsilon = 0x1p-53;
// Theorem bounds of the cited paper, section 4 (A-estimates).
constexpr double orient2d_constant = (3 + 16 * epsilon) * epsilon;
constexpr double orient3d_constant = (7 + 56 * epsilon) * epsilon;
// Below these the products may have lost bits to underflow, and the relative bounds above do not hold.
constexpr double smallest_permanent = 1e-200;

template <class Number>
Number determinant3(const Number& ax, const Number& ay, const Number& az, const Number& bx, const Number& by,
                    const Number& bz, const Number& cx, const Number& cy, const Number& cz) {
    return ax * (by * cz - bz * cy) + ay * (bz * cx - bx * cz) + az * (bx * cy - by * cx);
}

template <class Number>
Number orient3d_determinant(const Vec3& a, const Vec3& b, const Vec3& c, const Vec3& d) {
    using N = Number;
    return determinant3<N>(N(a.x) - N(d.x), N(a.y) - N(d.y), N(a.z) - N(d.z), N(b.x) - N(d.x), N(b.y) - N(d.y),
                           N(b.z) - N(d.z), N(c.x) - N(d.x), N(c.y) - N(d.y), N(c.z) - N(d.z));
}

}  // namespace

namespace exact_detail {

Sign orient3d_filter(const Vec3& a, const Vec3& b, const Vec3& c, const Vec3& d) {
    const double ax = a.x - d.x, ay = a.y - d.y, az = a.z - d.z;
    const double bx = b.x - d.x, by = b.y - d.y, bz = b.z - d.z;
    const double cx = c.x - d.x, cy = c.y - d.y, cz = c.z - d.z;
    const double bxcy = bx * cy, cxby = cx * by, cxay = cx * ay, axcy = ax * cy, axby = ax * by, bxay = bx * ay;
    const double det = az * (bxcy - cxby) + bz * (cxay - axcy) + cz * (axby - bxay);
    const double permanent = (std::fabs(bxcy) + std::fabs(cxby)) * std::fabs(az) +
                             (std::fabs(cxay) + std::fabs(axcy)) * std::fabs(bz) +
                             (std::fabs(axby) + std::fabs(bxay)) * std::fabs(cz);
    if (!(permanent > smallest_permanent)) return Sign::unsure;
    const double bound = orient3d_constant * permanent;
    if (det > bound) return Sign::positive;
    if (det < -bound) return Sign::negative;
    return Sign::unsure;
}

Sign orient3d_bounded(const Vec3& a, const Vec3& b, const Vec3& c, const Vec3& d) {
    return sign_of(orient3d_determinant<Bounded>(a, b, c, d));
}

Sign orient3d_expansion(const Vec3& a, const Vec3& b, const Vec3& c, const Vec3& d) {
    for (const Vec3* p : {&a, &b, &c, &d})
        for (int k = 0; k < 3; ++k)
            if (!fits_expansions((*p)[k])) return Sign::unsure;
    const Expansion<2> ax = difference(a.x, d.x), ay = difference(a.y, d.y), az = difference(a.z, d.z);
    const Expansion<2> bx = difference(b.x, d.x), by = difference(b.y, d.y), bz = difference(b.z, d.z);
    const Expansion<2> cx = difference(c.x, d.x), cy = difference(c.y, d.y), cz = difference(c.z, d.z);
    const auto by_z = ((bx * cy) + -(cx * by)) * az, cy_z = ((cx * ay) + -(ax * cy)) * bz,
               ay_z = ((ax * by) + -(bx * ay)) * cz;
    return static_cast<Sign>((by_z + cy_z + ay_z).sign());
}

int orient3d_exact(const Vec3& a, const Vec3& b, const Vec3& c, const Vec3& d) {
    return orient3d_determinant<Dyadic>(a, b, c, d).sign();
}

Sign orient2d_filter(const Vec3& a, const Vec3& b, const Vec3& c, int axis) {
    const Projection k(axis);
    const double left = (a[k.u] - c[k.u]) * (b[k.v] - c[k.v]);
    const double right = (a[k.v] - c[k.v]) * (b[k.u] - c[k.u]);
    const double det = left - right;
    const double permanent = std::fabs(left) + std::fabs(right);
    if (!(permanent > smallest_permanent)) return Sign::unsure;
    const double bound = orient2d_constant * permanent;
    if (det > bound) return Sign::positive;
    if (det < -bound) return Sign::negative;
    return Sign::unsure;
}

namespace {
template <class N>
N orient2d_determinant(const Vec3& a, const Vec3& b, const Vec3& c, int axis) {
    const Projection k(axis);
    return (N(a[k.u]) - N(c[k.u])) * (N(b[k.v]) - N(c[k.v])) - (N(a[k.v]) - N(c[k.v])) * (N(b[k.u]) - N(c[k.u]));
}
}  // namespace

Sign orient2d_expansion(const Vec3& a, const Vec3& b, const Vec3& c, int axis) {
    const Projection k(axis);
    for (const Vec3* p : {&a, &b, &c})
        if (!fits_expansions((*p)[k.u]) || !fits_expansions((*p)[k.v])) return Sign::unsure;
    const auto left = difference(a[k.u], c[k.u]) * difference(b[k.v], c[k.v]);
    const auto right = difference(a[k.v], c[k.v]) * difference(b[k.u], c[k.u]);
    return static_cast<Sign>((left + -right).sign());
}

int orient2d_exact(const Vec3& a, const Vec3& b, const Vec3& c, int axis) {
    return orient2d_determinant<Dyadic>(a, b, c, axis).sign();
}

}  // namespace exact_detail

int orient3d(const Vec3& a, const Vec3& b, const Vec3& c, const Vec3& d) {
    using namespace exact_detail;
    if (const Sign s = orient3d_filter(a, b, c, d); s != Sign::unsure) {
        note(Stage::filter);
        return static_cast<int>(s);
    }
    if (const Sign s = orient3d_bounded(a, b, c, d); s != Sign::unsure) {
        note(Stage::bounded);
        return static_cast<int>(s);
    }
    if (const Sign s = orient3d_expansion(a, b, c, d); s != Sign::unsure) {
        note(Stage::expansion);
        return static_cast<int>(s);
    }
    note(Stage::exact);
    return orient3d_exact(a, b, c, d);
}

int orient2d(const Vec3& a, const Vec3& b, const Vec3& c, int axis) {
    using namespace exact_detail;
    if (const Sign s = orient2d_filter(a, b, c, axis); s != Sign::unsure) {
        note(Stage::filter);
        return static_cast<int>(s);
    }
    if (const Sign s = sign_of(orient2d_determinant<Bounded>(a, b, c, axis)); s != Sign::unsure) {
        note(Stage::bounded);
        return static_cast<int>(s);
    }
    if (const Sign s = orient2d_expansion(a, b, c, axis); s != Sign::unsure) {
        note(Stage::expansion);
        return static_cast<int>(s);
    }
    note(Stage::exact);
    return orient2d_exact(a, b, c, axis);
}

bool collinear(const Vec3& a, const Vec3& b, const Vec3& c) {
    return orient2d(a, b, c, 2) == 0 && orient2d(a, b, c, 0) == 0 && orient2d(a, b, c, 1) == 0;
}

int projection_axis(const Vec3& a, const Vec3& b, const Vec3& c) {
    const Vec3 n = cross(b - a, c - a);
    int order[3] = {0, 1, 2};
    auto larger = [&](int i, int j) { return std::fabs(n[i]) > std::fabs(n[j]); };
    if (larger(order[1], order[0])) std::swap(order[0], order[1]);
    if (larger(order[2], order[0])) std::swap(order[0], order[2]);
    if (larger(order[2], order[1])) std::swap(order[1], order[2]);
    for (int axis : order)
        if (orient2d(a, b, c, axis) != 0) return axis;
    return -1;
}

}  // namespace anvil
