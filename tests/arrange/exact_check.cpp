#include "tests/arrange/exact_check.h"

#include <gmpxx.h>

#include <algorithm>

#include "core/mesh/measures.h"
#include "tests/support/support.h"

namespace anvil::test {
namespace {

using Q = mpq_class;
struct Q3 {
    Q x, y, z;
    bool operator==(const Q3& o) const { return x == o.x && y == o.y && z == o.z; }
};
Q3 operator-(const Q3& a, const Q3& b) { return {a.x - b.x, a.y - b.y, a.z - b.z}; }
Q dot(const Q3& a, const Q3& b) { return a.x * b.x + a.y * b.y + a.z * b.z; }
Q3 cross(const Q3& a, const Q3& b) { return {a.y * b.z - a.z * b.y, a.z * b.x - a.x * b.z, a.x * b.y - a.y * b.x}; }
bool is_zero(const Q3& a) { return a.x == 0 && a.y == 0 && a.z == 0; }

Q rational(const Dyadic& d) {
    Q q(d.mantissa());
    if (d.exponent() >= 0)
        mpq_mul_2exp(q.get_mpq_t(), q.get_mpq_t(), static_cast<unsigned long>(d.exponent()));
    else
        mpq_div_2exp(q.get_mpq_t(), q.get_mpq_t(), static_cast<unsigned long>(-d.exponent()));
    return q;
}
Q3 rational(const Vec3& p) { return {Q(p.x), Q(p.y), Q(p.z)}; }
Q3 rational(const PointView& p) {
    if (p.is_explicit()) return rational(p.approx);
    const HomogeneousPoint h = p.exact->coordinates();
    const Q w = rational(h.w);
    return {rational(h.x) / w, rational(h.y) / w, rational(h.z) / w};
}

using Tri = std::array<Q3, 3>;
Q3 normal(const Tri& t) { return cross(t[1] - t[0], t[2] - t[0]); }

/// In the closed triangle, by the signs of the three sub-triangles against the normal.
bool holds(const Tri& t, const Q3& n, const Q3& p) {
    if (dot(n, p - t[0]) != 0) return false;
    for (int k = 0; k < 3; ++k)
        if (dot(cross(t[(k + 1) % 3] - t[k], p - t[k]), n) < 0) return false;
    return true;
}

/// Where the open segment a-b meets the closed triangle in one point that is off its plane's side; nothing else.
bool pierces(const Tri& t, const Q3& n, const Q3& a, const Q3& b) {
    const Q da = dot(n, a - t[0]), db = dot(n, b - t[0]);
    if (sgn(da) * sgn(db) >= 0) return false;
    const Q s = da / (da - db);
    return holds(t, n, {a.x + s * (b.x - a.x), a.y + s * (b.y - a.y), a.z + s * (b.z - a.z)});
}

/// Whether the open segments cross in one inner point of both.
bool cross_each_other(const Q3& a, const Q3& b, const Q3& c, const Q3& d) {
    const Q3 u = b - a, v = d - c, w = c - a, n = cross(u, v);
    if (is_zero(n) || dot(n, w) != 0) return false;
    const Q nn = dot(n, n), s = dot(cross(w, v), n) / nn, t = dot(cross(w, u), n) / nn;
    return s > 0 && s < 1 && t > 0 && t < 1;
}

bool meet_badly(const Tri& f, const Tri& g, const Triangle& fv, const Triangle& gv) {
    const Q3 nf = normal(f), ng = normal(g);
    auto shared = [](const Triangle& t, VertexId v) { return std::find(t.begin(), t.end(), v) != t.end(); };
    for (int k = 0; k < 3; ++k) {
        if (!shared(gv, fv[k]) && holds(g, ng, f[k])) return true;
        if (!shared(fv, gv[k]) && holds(f, nf, g[k])) return true;
        // A piercing at a shared corner would be that corner, which lies in the plane: `pierces` leaves it out.
        if (pierces(g, ng, f[k], f[(k + 1) % 3]) || pierces(f, nf, g[k], g[(k + 1) % 3])) return true;
        for (int j = 0; j < 3; ++j)
            if (cross_each_other(f[k], f[(k + 1) % 3], g[j], g[(j + 1) % 3])) return true;
    }
    // The same three corners twice, or two faces on the same side of a common edge in one plane, lie on each other.
    std::vector<int> common, own;
    for (int k = 0; k < 3; ++k) (shared(gv, fv[k]) ? common : own).push_back(k);
    if (common.size() == 3) return true;
    if (common.size() == 2 && is_zero(cross(nf, ng))) {
        int other = 0;
        for (int k = 0; k < 3; ++k)
            if (!shared(fv, gv[k])) other = k;
        const Q3 a = f[common[0]], along = f[common[1]] - a;
        return dot(cross(along, f[own[0]] - a), cross(along, g[other] - a)) > 0;
    }
    return false;
}

}  // namespace

std::string ArrangementVerdict::text() const {
    return std::to_string(badly_met) + " badly met, " + std::to_string(degenerate) + " degenerate, " +
           std::to_string(off_plane) + " off plane, " + std::to_string(wrong_windings) +
           " wrong windings, area off by " + std::to_string(area_error);
}

AllFaces all_faces(const Arrangement& a) {
    AllFaces out{a.faces.corners, {}, a.cells.of_face};
    for (std::uint32_t list : a.faces.source)
        out.sources.emplace_back(a.faces.sources[list].begin(), a.faces.sources[list].end());
    for (std::uint32_t o = 0; o < a.soup.size(); ++o)
        for (FaceId own : ids<FaceId>(a.soup.operand(o).mesh.faces.size())) {
            const FaceId f = a.soup.global(o, own);
            if (a.active.contains(f)) continue;
            Triangle t = a.soup.face(f);
            for (VertexId& v : t) v = a.points.same_as(v);
            out.corners.push_back(t);
            const auto sources = a.soup.sources(f);
            out.sources.emplace_back(sources.begin(), sources.end());
            out.cells.push_back(a.cells.of_patch[a.patches.of(a.soup, o, own)]);
        }
    return out;
}

ArrangementVerdict judge(const Arrangement& a, const std::vector<Mesh>& operands) {
    ArrangementVerdict verdict;
    const AllFaces faces = all_faces(a);
    const std::size_t count = faces.corners.size();
    std::vector<Tri> exact(count);
    for (std::size_t i = 0; i < count; ++i)
        for (int k = 0; k < 3; ++k) exact[i][k] = rational(a.points.view(faces.corners[i][k]));

    for (std::size_t i = 0; i < count; ++i) {
        verdict.degenerate += is_zero(normal(exact[i]));
        for (std::size_t j = 0; j < i; ++j)
            verdict.badly_met += meet_badly(exact[i], exact[j], faces.corners[i], faces.corners[j]);
    }

    std::vector<double> area(operands.size(), 0);
    for (std::size_t i = 0; i < count; ++i) {
        const auto corner = [&](int k) { return a.points.approx(faces.corners[i][k]); };
        const Vec3 cross_product = cross(corner(1) - corner(0), corner(2) - corner(0));
        for (const FaceSource& source : faces.sources[i]) {
            const Mesh& mesh = operands[source.operand];
            area[source.operand] += norm(cross_product) / 2;
            const Tri face{rational(mesh.corner(source.face, 0)), rational(mesh.corner(source.face, 1)),
                           rational(mesh.corner(source.face, 2))};
            const Q3 n = normal(face);
            for (int k = 0; k < 3; ++k) verdict.off_plane += !holds(face, n, exact[i][k]);
            verdict.off_plane += (dot(n, normal(exact[i])) < 0) != source.reversed;
        }
        // A step off the middle of the face, small against the coordinates of these tests (size about 1 to 10).
        const Vec3 middle = (corner(0) + corner(1) + corner(2)) * (1 / 3.0);
        const Vec3 step = cross_product * (1e-7 / norm(cross_product));
        for (int side = 0; side < 2; ++side)
            for (std::uint32_t o = 0; o < operands.size(); ++o) {
                const double there = winding_number(operands[o], side == 0 ? middle + step : middle - step);
                verdict.wrong_windings += std::fabs(there - a.cells.winding_of(faces.cells[i][side])[o]) > 0.01;
            }
    }
    for (std::size_t o = 0; o < operands.size(); ++o)
        verdict.area_error = std::max(verdict.area_error, std::fabs(area[o] - measure(operands[o]).area));
    return verdict;
}

}  // namespace anvil::test
