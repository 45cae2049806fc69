// Based on: M. Attene, "Indirect Predicates for Geometric Constructions" (2020): new points are kept as what
// defines them, and decisions are made on the definition. We depart from it in filtering on each point's correctly
// rounded Cartesian coordinates, and in keeping its exact homogeneous ones once they were needed.
#include "core/exact/implicit_point.h"

#include "core/exact/double_double.h"
#include "core/exact/predicates.h"
#include "core/exact/stages.h"

namespace anvil {
namespace {

struct DyadicVec {
    Dyadic x, y, z;
};

DyadicVec difference(const Vec3& a, const Vec3& b) {
    return {exact_difference(a.x, b.x), exact_difference(a.y, b.y), exact_difference(a.z, b.z)};
}
DyadicVec cross(const DyadicVec& a, const DyadicVec& b) {
    return {a.y * b.z - a.z * b.y, a.z * b.x - a.x * b.z, a.x * b.y - a.y * b.x};
}
Dyadic dot(const DyadicVec& a, const DyadicVec& b) { return a.x * b.x + a.y * b.y + a.z * b.z; }

HomogeneousPoint with_positive_weight(HomogeneousPoint p) {
    if (p.w.sign() < 0) return {-p.x, -p.y, -p.z, -p.w};
    return p;
}

/// p + (q - p) * n / d
HomogeneousPoint on_line(const Vec3& p, const DyadicVec& direction, const Dyadic& n, const Dyadic& d) {
    return with_positive_weight(
        {Dyadic(p.x) * d + direction.x * n, Dyadic(p.y) * d + direction.y * n, Dyadic(p.z) * d + direction.z * n, d});
}

/// The rounded coordinate with the bound of its rounding: half a unit in the last place at most.
Bounded bounded(const PointView& p, int axis) {
    const double v = p.approx[axis];
    if (p.is_explicit()) return {v};
    return {v, std::fabs(v) * Bounded::u * Bounded::slack + 0x1p-1074};
}

/// The sign of `orient2d` from the rounded coordinates, where they are far enough from a line: a stage before the
/// bounded one, with one bound for all. Each coordinate is off by u times its size, at most; each difference rounds, as
/// the products and their difference do. Of all that, less than 8 u of what is summed up below.
Sign orient2d_of_rounded(const Vec3& a, const Vec3& b, const Vec3& c, int axis) {
    const Projection k(axis);
    const double au = a[k.u] - c[k.u], bu = b[k.u] - c[k.u], av = a[k.v] - c[k.v], bv = b[k.v] - c[k.v];
    const double det = au * bv - av * bu;
    const double far_u = std::max({std::fabs(a[k.u]), std::fabs(b[k.u]), std::fabs(c[k.u])}),
                 far_v = std::max({std::fabs(a[k.v]), std::fabs(b[k.v]), std::fabs(c[k.v])});
    const double bound = 16 * Bounded::u *
                         (far_u * (std::fabs(av) + std::fabs(bv) + far_v * 0x1p-50) +
                          far_v * (std::fabs(au) + std::fabs(bu) + far_u * 0x1p-50));
    if (!(bound > 1e-200)) return Sign::unsure;  // products may have lost bits to underflow
    return det > bound ? Sign::positive : det < -bound ? Sign::negative : Sign::unsure;
}

HomogeneousPoint exact_of(const PointView& p) { return p.exact ? p.exact->coordinates() : homogeneous(p.approx); }

int orient2d_of(const HomogeneousPoint& a, const HomogeneousPoint& b, const HomogeneousPoint& c, int axis) {
    const Projection k(axis);
    const Dyadic det = a[k.u] * (b[k.v] * c.w - c[k.v] * b.w) - a[k.v] * (b[k.u] * c.w - c[k.u] * b.w) +
                       a.w * (b[k.u] * c[k.v] - c[k.u] * b[k.v]);
    return det.sign();
}

/// What `compare_heights` decides in one kind of numbers: signs of a difference and of its two slopes, times the signs
/// of the normals' components along the axis. The line is at (u / w, v / w).
template <class Number>
struct HeightDifference {
    Number height, slope_u, slope_v;

    HeightDifference(const Number& u, const Number& v, const Number& w, const Vec3 (&a)[3], const Vec3 (&b)[3],
                     int axis) {
        const Plane p(u, v, w, a, axis), q(u, v, w, b, axis);
        height = p.above * q.n - q.above * p.n;
        slope_u = q.nu * p.n - p.nu * q.n;
        slope_v = q.nv * p.n - p.nv * q.n;
    }

  private:
    struct Plane {
        Number nu, nv, n, above;
        Plane(const Number& u, const Number& v, const Number& w, const Vec3 (&t)[3], int axis) {
            const Projection k(axis);
            auto d = [&](int i, int along) { return Number(t[i][along]) - Number(t[0][along]); };
            nu = d(1, k.v) * d(2, axis) - d(1, axis) * d(2, k.v);
            nv = d(1, axis) * d(2, k.u) - d(1, k.u) * d(2, axis);
            n = d(1, k.u) * d(2, k.v) - d(1, k.v) * d(2, k.u);
            above = n * Number(t[0][axis]) * w + nu * (Number(t[0][k.u]) * w - u) + nv * (Number(t[0][k.v]) * w - v);
        }
    };
};

}  // namespace

HomogeneousPoint homogeneous(const Vec3& p) { return {Dyadic(p.x), Dyadic(p.y), Dyadic(p.z), Dyadic(1L)}; }

HomogeneousPoint line_plane_point(const Vec3& p, const Vec3& q, const Vec3& r, const Vec3& s, const Vec3& t) {
    const DyadicVec normal = cross(difference(s, r), difference(t, r));
    const DyadicVec direction = difference(q, p);
    return on_line(p, direction, dot(normal, difference(r, p)), dot(normal, direction));
}

HomogeneousPoint line_line_point(const Vec3& p, const Vec3& q, const Vec3& r, const Vec3& s, int axis) {
    const Projection k(axis);
    auto component = [](const DyadicVec& d, int i) -> const Dyadic& { return i == 0 ? d.x : i == 1 ? d.y : d.z; };
    auto cross2 = [&](const DyadicVec& a, const DyadicVec& b) {
        return component(a, k.u) * component(b, k.v) - component(a, k.v) * component(b, k.u);
    };
    const DyadicVec direction = difference(q, p), other = difference(s, r);
    return on_line(p, direction, cross2(difference(r, p), other), cross2(direction, other));
}

HomogeneousPoint three_planes_point(const Vec3 (&a)[3], const Vec3 (&b)[3], const Vec3 (&c)[3]) {
    auto plane = [](const Vec3(&t)[3], DyadicVec& n, Dyadic& d) {
        n = cross(difference(t[1], t[0]), difference(t[2], t[0]));
        d = n.x * Dyadic(t[0].x) + n.y * Dyadic(t[0].y) + n.z * Dyadic(t[0].z);
    };
    DyadicVec na, nb, nc;
    Dyadic da, db, dc;
    plane(a, na, da);
    plane(b, nb, db);
    plane(c, nc, dc);
    const DyadicVec bc = cross(nb, nc), ca = cross(nc, na), ab = cross(na, nb);
    return with_positive_weight({da * bc.x + db * ca.x + dc * ab.x, da * bc.y + db * ca.y + dc * ab.y,
                                 da * bc.z + db * ca.z + dc * ab.z, dot(na, bc)});
}

Vec3 rounded(const HomogeneousPoint& p) {
    return {nearest_double(p.x, p.w), nearest_double(p.y, p.w), nearest_double(p.z, p.w)};
}

HomogeneousPoint centroid(const HomogeneousPoint& a, const HomogeneousPoint& b, const HomogeneousPoint& c) {
    const Dyadic wa = b.w * c.w, wb = a.w * c.w, wc = a.w * b.w;
    auto sum = [&](int k) { return a[k] * wa + b[k] * wb + c[k] * wc; };
    return {sum(0), sum(1), sum(2), Dyadic(3L) * a.w * wa};
}

ExactPoint::ExactPoint(const ExactPoint& o) : by_(o.by_), axis_(o.axis_), surely_rounded_(o.surely_rounded_) {
    if (by_[0]) return;
    if (PackedPoint* known = o.known_.load(std::memory_order_acquire)) known_ = copy_of(known);
}
ExactPoint::ExactPoint(ExactPoint&& o) noexcept
    : known_(o.known_.exchange(nullptr)), by_(o.by_), axis_(o.axis_), surely_rounded_(o.surely_rounded_) {}
ExactPoint& ExactPoint::operator=(ExactPoint o) noexcept {
    by_ = o.by_;
    axis_ = o.axis_;
    surely_rounded_ = o.surely_rounded_;
    o.known_ = known_.exchange(o.known_.load());
    return *this;
}

Vec3 ExactPoint::define_by_line_and_plane(const Vec3& p, const Vec3& q, const Vec3& r, const Vec3& s, const Vec3& t) {
    by_ = {&p, &q, &r, &s, &t};
    axis_ = plane;
    return round_definition();
}
Vec3 ExactPoint::define_by_lines(const Vec3& p, const Vec3& q, const Vec3& r, const Vec3& s, int axis) {
    by_ = {&p, &q, &r, &s, nullptr};
    axis_ = static_cast<std::int8_t>(axis);
    return round_definition();
}

HomogeneousPoint ExactPoint::construct() const {
    const auto [p, q, r, s, t] = by_;
    return axis_ == plane ? line_plane_point(*p, *q, *r, *s, *t) : line_line_point(*p, *q, *r, *s, axis_);
}

HomogeneousPoint ExactPoint::coordinates() const {
    if (PackedPoint* known = known_.load(std::memory_order_acquire)) return unpacked(known);
    HomogeneousPoint made = construct();
    PackedPoint *mine = packed(made), *expected = nullptr;
    // Another thread may have been faster.
    if (!known_.compare_exchange_strong(expected, mine, std::memory_order_acq_rel)) release(mine);
    return made;
}

Vec3 ExactPoint::round_definition() {
    struct Pairs {
        DoubleDouble n[3];
        Pairs(const Vec3& a, const Vec3& b) : n{exact_pair(a.x, b.x), exact_pair(a.y, b.y), exact_pair(a.z, b.z)} {}
    };
    const auto [p, q, r, s, t] = by_;
    const Pairs direction(*q, *p), to(*r, *p), side(*s, *r);
    DoubleDouble numerator, denominator;
    if (axis_ == plane) {
        const Pairs other(*t, *r);
        for (int k = 0; k < 3; ++k) {
            const int i = (k + 1) % 3, j = (k + 2) % 3;
            const DoubleDouble normal = side.n[i] * other.n[j] - side.n[j] * other.n[i];
            numerator = numerator + normal * to.n[k];
            denominator = denominator + normal * direction.n[k];
        }
    } else {
        const Projection k(axis_);
        numerator = to.n[k.u] * side.n[k.v] - to.n[k.v] * side.n[k.u];
        denominator = direction.n[k.u] * side.n[k.v] - direction.n[k.v] * side.n[k.u];
    }
    const DoubleDouble part = numerator / denominator;
    Vec3 out;
    surely_rounded_ = false;
    for (int k = 0; k < 3; ++k) {
        const DoubleDouble coordinate = DoubleDouble{(*p)[k], 0, 0} + direction.n[k] * part;
        const std::optional<double> nearest = nearest_double(coordinate);
        if (!nearest) return rounded(coordinates());
        out[k] = *nearest;
        surely_rounded_ = surely_rounded_ || surely_between_doubles(coordinate);
    }
    return out;
}

int orient2d(const PointView& a, const PointView& b, const PointView& c, int axis) {
    if (a.is_explicit() && b.is_explicit() && c.is_explicit()) return orient2d(a.approx, b.approx, c.approx, axis);
    using exact_detail::note;
    if (const Sign s = orient2d_of_rounded(a.approx, b.approx, c.approx, axis); s != Sign::unsure) {
        note(Stage::filter);
        return static_cast<int>(s);
    }
    const Projection k(axis);
    const Bounded cu = bounded(c, k.u), cv = bounded(c, k.v);
    const Bounded det =
        (bounded(a, k.u) - cu) * (bounded(b, k.v) - cv) - (bounded(a, k.v) - cv) * (bounded(b, k.u) - cu);
    if (const Sign s = sign_of(det); s != Sign::unsure) {
        note(Stage::bounded);
        return static_cast<int>(s);
    }
    note(Stage::exact);
    return orient2d_of(exact_of(a), exact_of(b), exact_of(c), axis);
}

int plane_side(const Vec3& a, const Vec3& b, const Vec3& c, const PointView& p) {
    if (p.is_explicit()) return plane_side(a, b, c, p.approx);
    using exact_detail::note;
    using B = Bounded;
    const B ux = B(b.x) - B(a.x), uy = B(b.y) - B(a.y), uz = B(b.z) - B(a.z);
    const B vx = B(c.x) - B(a.x), vy = B(c.y) - B(a.y), vz = B(c.z) - B(a.z);
    const B px = bounded(p, 0) - B(a.x), py = bounded(p, 1) - B(a.y), pz = bounded(p, 2) - B(a.z);
    const B det = px * (uy * vz - uz * vy) + py * (uz * vx - ux * vz) + pz * (ux * vy - uy * vx);
    if (const Sign s = sign_of(det); s != Sign::unsure) {
        note(Stage::bounded);
        return static_cast<int>(s);
    }
    note(Stage::exact);
    const DyadicVec n = cross(difference(b, a), difference(c, a));
    const HomogeneousPoint h = p.exact->coordinates();
    const Dyadic d =
        n.x * (h.x - h.w * Dyadic(a.x)) + n.y * (h.y - h.w * Dyadic(a.y)) + n.z * (h.z - h.w * Dyadic(a.z));
    return d.sign();
}

int compare(const PointView& a, const PointView& b, int axis) {
    // Rounding to nearest never reverses an order, so different rounded values already tell.
    const double va = a.approx[axis], vb = b.approx[axis];
    if (va != vb) return va < vb ? -1 : 1;
    if (a.is_explicit() && b.is_explicit()) return 0;
    const HomogeneousPoint ha = exact_of(a), hb = exact_of(b);
    return (ha[axis] * hb.w - hb[axis] * ha.w).sign();
}

int orient2d_moved(const PointView& a, const PointView& b, const PointView& c, int axis) {
    if (const int s = orient2d(a, b, c, axis); s != 0) return s;
    const Projection k(axis);
    if (const int s = compare(a, b, k.v); s != 0) return s;
    return -compare(a, b, k.u);
}

int compare_heights(const PointView& at, const Vec3 (&a)[3], const Vec3 (&b)[3], int axis) {
    const Projection k(axis);
    const int flip = orient2d(a[0], a[1], a[2], axis) * orient2d(b[0], b[1], b[2], axis);
    const HeightDifference<Bounded> near(bounded(at, k.u), bounded(at, k.v), Bounded(1), a, b, axis);
    if (const Sign s = sign_of(near.height); s == Sign::positive || s == Sign::negative) {
        exact_detail::note(Stage::bounded);
        return flip * static_cast<int>(s);
    }
    exact_detail::note(Stage::exact);
    const HomogeneousPoint p = exact_of(at);
    const HeightDifference<Dyadic> exact(p[k.u], p[k.v], p.w, a, b, axis);
    if (const int s = exact.height.sign(); s != 0) return flip * s;
    if (const int s = exact.slope_u.sign(); s != 0) return flip * s;
    return flip * exact.slope_v.sign();
}

bool same_point(const PointView& a, const PointView& b) {
    return a.approx == b.approx && compare(a, b, 0) == 0 && compare(a, b, 1) == 0 && compare(a, b, 2) == 0;
}

bool is_rounded_point(const PointView& p) {
    return p.is_explicit() || (!p.exact->is_surely_rounded() && same_point(p, PointView{p.approx}));
}

}  // namespace anvil
