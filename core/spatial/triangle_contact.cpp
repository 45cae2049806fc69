#include "core/spatial/triangle_contact.h"

#include <tbb/blocked_range.h>
#include <tbb/parallel_for.h>

#include <algorithm>
#include <optional>

#include "core/exact/stages.h"
#include "core/spatial/box_tree.h"

namespace anvil {
namespace {

struct Corners {
    const Vec3* p[3];
    const Vec3& operator[](int k) const { return *p[k]; }
};

/// Whether a point of the triangle's plane lies in the closed triangle.
bool in_triangle(const Vec3& p, const Corners& t, int axis) {
    const int s0 = orient2d(t[0], t[1], p, axis), s1 = orient2d(t[1], t[2], p, axis);
    if (s0 * s1 < 0) return false;
    const int s2 = orient2d(t[2], t[0], p, axis);
    return s0 * s2 >= 0 && s1 * s2 >= 0;
}

bool edges_cross_inside(const Vec3& a, const Vec3& b, const Vec3& c, const Vec3& d, int axis) {
    return orient2d(a, b, c, axis) * orient2d(a, b, d, axis) < 0 &&
           orient2d(c, d, a, axis) * orient2d(c, d, b, axis) < 0;
}

bool coplanar_beyond_shared(const Corners& a, const Corners& b, const bool (&a_shared)[3], const bool (&b_shared)[3]) {
    const int axis = projection_axis(a[0], a[1], a[2]);
    for (int k = 0; k < 3; ++k) {
        if (!a_shared[k] && in_triangle(a[k], b, axis)) return true;
        if (!b_shared[k] && in_triangle(b[k], a, axis)) return true;
    }
    for (int i = 0; i < 3; ++i)
        for (int j = 0; j < 3; ++j)
            if (edges_cross_inside(a[i], a[(i + 1) % 3], b[j], b[(j + 1) % 3], axis)) return true;
    return false;
}

class ContactFinder {
  public:
    ContactFinder(const Corners& a, const Corners& b, const int (&match)[3]) : t_{a, b}, match_(match) {}

    /// `sign[s][k]`: the side of the other triangle's plane on which corner k of triangle s lies.
    Contact find(const int (&sign)[2][3]) {
        for (int s = 0; s < 2; ++s) find_vertices(s, sign[s]);
        for (int s = 0; s < 2; ++s) find_edges(s, sign[s]);
        return contact_;
    }

  private:
    void add(const ContactPoint& point) {
        for (int k = 0; k < contact_.count; ++k)
            if (contact_.points[k] == point) return;
        if (contact_.count == 2) return;  // a segment has two ends; never reached with exact signs
        contact_.kind = Contact::crossing;
        contact_.points[contact_.count++] = point;
    }

    void find_vertices(int s, const int (&sign)[3]) {
        const Corners& other = t_[1 - s];
        int axis = -1;
        for (int k = 0; k < 3; ++k) {
            if (sign[k] != 0) continue;
            if (s == 0 && match_[k] >= 0) {
                add({ContactPoint::vertex, 0, static_cast<std::uint8_t>(k), 0});
                continue;
            }
            if (s == 1 && (match_[0] == k || match_[1] == k || match_[2] == k)) continue;  // added from side 0
            if (axis < 0) axis = projection_axis(other[0], other[1], other[2]);
            if (in_triangle(t_[s][k], other, axis))
                add({ContactPoint::vertex, static_cast<std::uint8_t>(s), static_cast<std::uint8_t>(k), 0});
        }
    }

    void find_edges(int s, const int (&sign)[3]) {
        const Corners &own = t_[s], &other = t_[1 - s];
        for (int i = 0; i < 3; ++i) {
            if (sign[i] * sign[(i + 1) % 3] >= 0) continue;
            const Vec3 &p = own[i], &q = own[(i + 1) % 3];
            int turn[3], zeros = 0, positives = 0;
            for (int k = 0; k < 3; ++k) {
                turn[k] = orient3d(p, q, other[k], other[(k + 1) % 3]);
                zeros += turn[k] == 0;
                positives += turn[k] > 0;
            }
            if (zeros > 1) continue;                                 // through a corner: found as a vertex
            if (positives != 0 && positives != 3 - zeros) continue;  // beside the triangle
            const auto edge = static_cast<std::uint8_t>(i);
            if (zeros == 0) {
                add({ContactPoint::edge_face, static_cast<std::uint8_t>(s), edge, 0});
            } else {
                const auto on = static_cast<std::uint8_t>(turn[0] == 0 ? 0 : turn[1] == 0 ? 1 : 2);
                add(s == 0 ? ContactPoint{ContactPoint::edge_edge, 0, edge, on}
                           : ContactPoint{ContactPoint::edge_edge, 0, on, edge});
            }
        }
    }

    Corners t_[2];
    const int (&match_)[3];
    Contact contact_;
};

/// Two triangles in general position that go through each other's planes: each meets the line of both planes in a
/// stretch, from one edge at its lone corner to the other. Four questions tell the order of the ends: P. Guigue, O.
/// Devillers, "Fast and Robust Triangle-Triangle Overlap Test Using Orientation Predicates" (2003). Nothing where ends
/// coincide. `sign`: as ContactFinder has it, none of them 0.
std::optional<Contact> cross_in_general(const Corners& a, const Corners& b, const int (&sign)[2][3]) {
    struct Stretch {
        int lone, side;           // the corner that is alone on its side of the other plane
        int low_edge, high_edge;  // by the line's direction, the cross product of the normals
        int low_far, high_far;    // their other corners
    } of[2];
    for (int s = 0; s < 2; ++s) {
        const auto& own = sign[s];
        const int lone = own[1] == own[2] ? 0 : own[0] == own[2] ? 1 : 2;
        const int next = (lone + 1) % 3, last = (lone + 2) % 3;
        const bool next_is_low = (own[lone] < 0) == (s == 0);
        of[s] = {lone,
                 own[lone],
                 next_is_low ? lone : last,
                 next_is_low ? last : lone,
                 next_is_low ? next : last,
                 next_is_low ? last : next};
    }
    const auto& [of_a, of_b] = of;
    // How an end of a's stretch lies to one of b's: 1 beyond it, -1 before.
    auto order = [&, turn = of_a.side * of_b.side](int far_a, int far_b) {
        return turn * orient3d(a[of_a.lone], a[far_a], b[of_b.lone], b[far_b]);
    };
    const int gap_before = order(of_a.high_far, of_b.low_far);
    if (gap_before < 0) return Contact{};
    const int gap_behind = order(of_a.low_far, of_b.high_far);
    if (gap_behind > 0) return Contact{};
    const int low = order(of_a.low_far, of_b.low_far), high = order(of_a.high_far, of_b.high_far);
    if (gap_before == 0 || gap_behind == 0 || low == 0 || high == 0) return std::nullopt;
    auto end = [&](bool is_a, int edge_a, int edge_b) {
        return ContactPoint{ContactPoint::edge_face, static_cast<std::uint8_t>(is_a ? 0 : 1),
                            static_cast<std::uint8_t>(is_a ? edge_a : edge_b), 0};
    };
    Contact contact{Contact::crossing,
                    2,
                    {end(low > 0, of_a.low_edge, of_b.low_edge), end(high < 0, of_a.high_edge, of_b.high_edge)}};
    auto place = [](const ContactPoint& p) { return 3 * p.side + p.i; };
    if (place(contact.points[1]) < place(contact.points[0])) std::swap(contact.points[0], contact.points[1]);
    return contact;
}

/// Whether two faces at a common edge p-q, with the third corners r and s, certainly bend away from each other by more
/// than a right angle, as neighbours mostly do: then they share nothing but the edge. False where that is not sure.
bool surely_unfolded(const Vec3& p, const Vec3& q, const Vec3& r, const Vec3& s) {
    const Vec3 u = q - p, v = r - p, w = s - p;
    const double reach = largest_component(u);
    const double size = reach * reach * largest_component(v) * largest_component(w);
    // Both cross products and their dot product together round by less than 200 u of `size`.
    return size > 1e-200 && dot(cross(u, v), cross(u, w)) < -200 * 0x1p-53 * size;
}

bool strictly_one_side(const int (&s)[3]) {
    return (s[0] > 0 && s[1] > 0 && s[2] > 0) || (s[0] < 0 && s[1] < 0 && s[2] < 0);
}

/// On which side of a plane the corners lie that are not shared, as far as the filter tells.
struct Sides {
    Sign of[3] = {Sign::unsure, Sign::unsure, Sign::unsure};

    Sides(const PlaneFilter& plane, const Vec3& origin, const Corners& t, const bool (&shared)[3]) {
        for (int k = 0; k < 3; ++k)
            if (!shared[k]) of[k] = plane.side(origin, t[k]);
    }
    /// Whether all certainly lie on one side.
    bool on_one(const bool (&shared)[3]) const {
        Sign first = Sign::unsure;
        for (int k = 0; k < 3; ++k) {
            if (shared[k]) continue;
            if (of[k] == Sign::unsure || (first != Sign::unsure && of[k] != first)) return false;
            first = of[k];
        }
        return true;
    }
    bool any_unsure() const { return std::ranges::find(of, Sign::unsure) != std::end(of); }
    /// The sign of a corner, decided exactly where the filter does not tell.
    int sign(int k, const Corners& plane, const Vec3& p) const {
        if (of[k] == Sign::unsure) return plane_side(plane[0], plane[1], plane[2], p);
        exact_detail::note(Stage::filter);
        return static_cast<int>(of[k]);
    }
};

/// Bound for the error of a scalar product with `normal` of a difference of points no longer than `reach` in any
/// coordinate: less than 4 u of the sum of its parts' amounts, and two of them are compared.
double parting_error(const Vec3& normal, double reach) { return 32 * Bounded::u * largest_component(normal) * reach; }

/// Whether a plane through the corner that two triangles share certainly parts the rest of them. It settles most pairs
/// of faces that lie flat beside each other, for which the planes of the faces themselves tell nothing.
bool surely_parted_at(const Vec3& corner, const Corners& a, const Corners& b, const bool (&a_shared)[3],
                      const bool (&b_shared)[3]) {
    auto middle = [&](const Corners& t, const bool(&shared)[3]) {
        Vec3 sum;
        for (int k = 0; k < 3; ++k)
            if (!shared[k]) sum = sum + (t[k] - corner) * (1 / std::max(largest_component(t[k] - corner), 1e-300));
        return sum;
    };
    const Vec3 normal = middle(b, b_shared) - middle(a, a_shared);
    auto beyond = [&](const Corners& t, const bool(&shared)[3], double way) {
        for (int k = 0; k < 3; ++k) {
            if (shared[k]) continue;
            const Vec3 d = t[k] - corner;
            const double bound = parting_error(normal, largest_component(d));
            if (!(bound > 1e-200) || !(way * dot(normal, d) > bound)) return false;
        }
        return true;
    };
    return beyond(b, b_shared, 1) && beyond(a, a_shared, -1);
}

/// Whether a plane through the corner that two triangles share, along an edge of either, certainly has the rest of them
/// on its two sides: one lies over the other, and both go through the other's plane.
bool surely_parted_along_edges(const Vec3& corner, const Corners& a, const Corners& b, const bool (&a_shared)[3],
                               const bool (&b_shared)[3]) {
    const Vec3* way[2][2];
    int found[2] = {0, 0};
    for (int k = 0; k < 3; ++k) {
        if (!a_shared[k]) way[0][found[0]++] = a.p[k];
        if (!b_shared[k]) way[1][found[1]++] = b.p[k];
    }
    for (int i = 0; i < 2; ++i)
        for (int j = 0; j < 2; ++j) {
            const PlaneFilter plane(corner, *way[0][i], *way[1][j]);
            const Sign of_a = plane.side(corner, *way[0][1 - i]);
            if (of_a == Sign::unsure) continue;
            const Sign of_b = plane.side(corner, *way[1][1 - j]);
            if (of_b != Sign::unsure && of_a != of_b) return true;
        }
    return false;
}

/// Whether a plane certainly parts two triangles that share nothing: one across the way between their middles, or one
/// upright on an edge of either. `over`: or along an edge of both, which tells those that lie over each other.
bool surely_parted(const Corners& a, const Corners& b, bool over) {
    const Vec3& origin = a[0];
    const Vec3 p[3] = {{}, a[1] - origin, a[2] - origin}, q[3] = {b[0] - origin, b[1] - origin, b[2] - origin};
    double reach = 0;
    for (int k = 0; k < 3; ++k) reach = std::max({reach, largest_component(p[k]), largest_component(q[k])});
    // A plane with that normal; with b ahead of it, or with either.
    auto parts = [&](const Vec3& normal, bool either = false) {
        const double bound = parting_error(normal, reach);
        const double a0 = dot(normal, p[0]), a1 = dot(normal, p[1]), a2 = dot(normal, p[2]);
        const double b0 = dot(normal, q[0]), b1 = dot(normal, q[1]), b2 = dot(normal, q[2]);
        return bound > 1e-200 && (std::min({b0, b1, b2}) - std::max({a0, a1, a2}) > bound ||
                                  (either && std::min({a0, a1, a2}) - std::max({b0, b1, b2}) > bound));
    };
    if (parts(q[0] + q[1] + q[2] - (p[1] + p[2]))) return true;
    const Vec3 up_a = cross(p[1], p[2]), up_b = cross(q[1] - q[0], q[2] - q[0]);
    for (int k = 0; k < 3; ++k)
        if (parts(cross(p[(k + 1) % 3] - p[k], up_a)) || parts(cross(up_b, q[(k + 1) % 3] - q[k]))) return true;
    for (int i = 0; i < 3 && over; ++i)
        for (int j = 0; j < 3; ++j)
            if (parts(cross(p[(i + 1) % 3] - p[i], q[(j + 1) % 3] - q[j]), true)) return true;
    return false;
}

}  // namespace

bool plane_surely_misses(const CornerPoints& triangle, const FloatBox& box) {
    const PlaneFilter plane(*triangle[0], *triangle[1], *triangle[2]);
    auto side = [&](int k) {
        const Vec3 corner(k & 1 ? box.high[0] : box.low[0], k & 2 ? box.high[1] : box.low[1],
                          k & 4 ? box.high[2] : box.low[2]);
        return plane.side(*triangle[0], corner);
    };
    const Sign first = side(0);
    if (first == Sign::unsure) return false;
    for (int k = 7; k > 0; --k)  // the opposite corner first
        if (side(k) != first) return false;
    return true;
}

std::vector<PlaneFilter> face_planes(std::span<const Vec3> points, std::span<const Triangle> faces) {
    std::vector<PlaneFilter> planes(faces.size());
    tbb::parallel_for(tbb::blocked_range<std::size_t>(0, faces.size(), 4096), [&](const auto& range) {
        for (std::size_t f = range.begin(); f != range.end(); ++f) {
            const auto& [a, b, c] = faces[f];
            planes[f] = {points[a.value()], points[b.value()], points[c.value()]};
        }
    });
    return planes;
}

Contact triangle_contact(const CornerPoints& corners_a, const CornerPoints& corners_b, const PlaneFilter* plane_a,
                         const PlaneFilter* plane_b) {
    const bool mostly_apart = plane_a && plane_b;
    if (mostly_apart &&
        (plane_a->surely_beside(*corners_a[0], corners_b) || plane_b->surely_beside(*corners_b[0], corners_a))) {
        exact_detail::note(Stage::filter);
        return {};
    }
    const Corners a{{corners_a[0], corners_a[1], corners_a[2]}};
    const Corners b{{corners_b[0], corners_b[1], corners_b[2]}};
    int match[3] = {-1, -1, -1};  // corner of b that is the same point
    bool a_shared[3] = {}, b_shared[3] = {};
    int shared = 0;
    for (int i = 0; i < 3; ++i)
        for (int j = 0; j < 3; ++j)
            if (a.p[i] == b.p[j] || a[i] == b[j]) {
                match[i] = j;
                a_shared[i] = b_shared[j] = true;
                ++shared;
            }
    Contact contact;
    if (shared == 3) {
        contact.kind = Contact::coplanar;
        return contact;
    }
    PlaneFilter own_a, own_b;
    auto of_a = [&]() -> const PlaneFilter& { return *(plane_a = plane_a ? plane_a : &(own_a = {a[0], a[1], a[2]})); };
    auto of_b = [&]() -> const PlaneFilter& { return *(plane_b = plane_b ? plane_b : &(own_b = {b[0], b[1], b[2]})); };
    if (shared == 2) {
        const int i = !a_shared[0] ? 0 : !a_shared[1] ? 1 : 2, j = !b_shared[0] ? 0 : !b_shared[1] ? 1 : 2;
        if (surely_unfolded(a[(i + 1) % 3], a[(i + 2) % 3], a[i], b[j])) {
            contact.kind = Contact::conforming;
            return contact;
        }
    }
    const Sides sides_a(of_b(), b[0], a, a_shared);
    std::optional<Sides> sides_b;
    if (shared < 2) {  // most pairs: the corners that are not shared lie on one side of the other plane
        const Vec3& corner = a[a_shared[0] ? 0 : a_shared[1] ? 1 : 2];
        auto parted = [&] {
            // Where all sides are known it costs less to find out how they cross, if they do.
            if (shared == 0)
                return (mostly_apart || sides_a.any_unsure() || sides_b->any_unsure()) &&
                       surely_parted(a, b, mostly_apart);
            return surely_parted_at(corner, a, b, a_shared, b_shared) ||
                   (mostly_apart && surely_parted_along_edges(corner, a, b, a_shared, b_shared));
        };
        if (sides_a.on_one(a_shared) || sides_b.emplace(of_a(), a[0], b, b_shared).on_one(b_shared) || parted()) {
            exact_detail::note(Stage::filter);
            if (shared == 1) contact.kind = Contact::conforming;
            return contact;
        }
    }
    int sign[2][3];
    for (int k = 0; k < 3; ++k) sign[0][k] = a_shared[k] ? 0 : sides_a.sign(k, b, a[k]);
    if (strictly_one_side(sign[0])) return contact;
    if (sign[0][0] == 0 && sign[0][1] == 0 && sign[0][2] == 0) {
        contact.kind = coplanar_beyond_shared(a, b, a_shared, b_shared) ? Contact::coplanar
                       : shared > 0                                     ? Contact::conforming
                                                                        : Contact::apart;
        return contact;
    }
    if (shared == 2) {
        contact.kind = Contact::conforming;
        return contact;
    }
    // The common corner is all that can be common where the others lie on one side.
    auto others_on_one_side = [](const int(&s)[3]) { return s[0] * s[1] + s[1] * s[2] + s[2] * s[0] > 0; };
    if (shared == 1 && others_on_one_side(sign[0])) {
        contact.kind = Contact::conforming;
        return contact;
    }
    for (int k = 0; k < 3; ++k) sign[1][k] = b_shared[k] ? 0 : sides_b->sign(k, a, b[k]);
    if (strictly_one_side(sign[1])) return contact;
    if (shared == 1 && others_on_one_side(sign[1])) {
        contact.kind = Contact::conforming;
        return contact;
    }
    auto none_on_plane = [](const int(&s)[3]) { return s[0] != 0 && s[1] != 0 && s[2] != 0; };
    if (none_on_plane(sign[0]) && none_on_plane(sign[1]))
        if (const auto general = cross_in_general(a, b, sign)) return *general;

    contact = ContactFinder(a, b, match).find(sign);
    if (shared == 1 && contact.count == 1) contact.kind = Contact::conforming;
    return contact;
}

}  // namespace anvil
