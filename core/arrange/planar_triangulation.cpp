// Based on: S. W. Sloan, "A Fast Algorithm for Generating Constrained Delaunay Triangulations" (1993). We depart from
// it by splitting constrained edges at exact crossing points, by cutting a segment's way free and closing it from both
// sides in place of flipping the edges there, whose number of flips may grow with the square, and by leaving Delaunay
// flips to a last pass.
#include "core/arrange/planar_triangulation.h"

#include <algorithm>
#include <map>

#include "core/arrange/covers.h"
#include "core/arrange/insertion_order.h"
#include "core/exact/predicates.h"

namespace anvil {
namespace {
constexpr std::size_t many_points = 64;
std::size_t at(int i) { return static_cast<std::size_t>(i); }
}  // namespace

PlanarTriangulation::PlanarTriangulation(int axis, bool mirrored, const PointView& a, const PointView& b,
                                         const PointView& c, Cross cross)
    : axis_(axis), sign_(mirrored ? -1 : 1), cross_(std::move(cross)) {
    points_.assign({a, b, c});
    face_at_.assign({0, 0, 0});
    faces_.push_back({{0, 1, 2}, {-1, -1, -1}, {-1, -1, -1}});
}

int PlanarTriangulation::turn(int a, int b, int c) const {
    return sign_ * orient2d(point(a), point(b), point(c), axis_);
}

int PlanarTriangulation::index_of(int t, int v) const {
    const Face& f = faces_[at(t)];
    return f.v[0] == v ? 0 : f.v[1] == v ? 1 : 2;
}

int PlanarTriangulation::index_across(int t, int neighbour) const {
    const Face& f = faces_[at(t)];
    return f.n[0] == neighbour ? 0 : f.n[1] == neighbour ? 1 : 2;
}

void PlanarTriangulation::relink(int t, int from, int to) {
    if (t >= 0) faces_[at(t)].n[index_across(t, from)] = to;
}

/// Where in a face a point lies that is beyond none of its edges. `turns`: on which side of each it is.
PlanarTriangulation::Location PlanarTriangulation::located(int t, const int (&turns)[3]) const {
    int zeros[2], count = 0;
    for (int i = 0; i < 3; ++i)
        if (turns[i] == 0 && count < 2) zeros[count++] = i;
    Location where{t, -1, -1};
    if (count == 1) where.edge = zeros[0];
    if (count == 2) where.vertex = faces_[at(t)].v[3 - zeros[0] - zeros[1]];
    return where;
}

/// Whether p lies in the closed face t, and where.
bool PlanarTriangulation::locate_in(int t, int p, Location& where) const {
    const Face& f = faces_[at(t)];
    int turns[3];
    for (int i = 0; i < 3; ++i)
        if ((turns[i] = turn(f.v[next(i)], f.v[previous(i)], p)) < 0) return false;
    where = located(t, turns);
    return true;
}

PlanarTriangulation::Location PlanarTriangulation::locate(int p) {
    // A walk that leaves each face across the first edge that has p beyond it; it may circle, hence the limit.
    int t = last_, from = -1;
    Location where{};
    for (std::size_t step = 0; step < faces_.size() + 8; ++step) {
        const Face& f = faces_[at(t)];
        int go = -1, turns[3];
        for (int i = 0; i < 3 && go < 0; ++i) {
            turns[i] = 1;  // across the edge that it came in by
            if (f.n[i] == from && from >= 0) continue;
            turns[i] = turn(f.v[next(i)], f.v[previous(i)], p);
            if (turns[i] < 0) go = i;
        }
        if (go < 0) return located(t, turns);
        if (f.n[go] < 0) break;
        from = t;
        t = f.n[go];
    }
    if (locate_in(t, p, where)) return where;
    for (t = 0; t < static_cast<int>(faces_.size()); ++t)
        if (locate_in(t, p, where)) return where;
    return {-1, -1, -1};
}

void PlanarTriangulation::split_face(int t, int p) {
    const Face old = faces_[at(t)];
    const int t1 = static_cast<int>(faces_.size()), t2 = t1 + 1;
    faces_[at(t)] = {{old.v[0], old.v[1], p}, {t1, t2, old.n[2]}, {-1, -1, old.c[2]}};
    faces_.push_back({{old.v[1], old.v[2], p}, {t2, t, old.n[0]}, {-1, -1, old.c[0]}});
    faces_.push_back({{old.v[2], old.v[0], p}, {t, t1, old.n[1]}, {-1, -1, old.c[1]}});
    relink(old.n[0], t, t1);
    relink(old.n[1], t, t2);
    face_at_[at(old.v[0])] = face_at_[at(old.v[1])] = t;
    face_at_[at(old.v[2])] = t1;
    face_at_[at(p)] = t;
}

void PlanarTriangulation::split_edge(int t, int i, int p) {
    // t = (r, a, b) and u = (s, b, a) become (r, a, p), (r, p, b), (s, b, p), (s, p, a).
    const Face old = faces_[at(t)];
    const int r = old.v[i], a = old.v[next(i)], b = old.v[previous(i)];
    const int u = old.n[i], c = old.c[i];
    const int t2 = static_cast<int>(faces_.size()), u2 = t2 + 1;
    faces_[at(t)] = {{r, a, p}, {u < 0 ? -1 : u2, t2, old.n[previous(i)]}, {c, -1, old.c[previous(i)]}};
    faces_.push_back({{r, p, b}, {u, old.n[next(i)], t}, {c, old.c[next(i)], -1}});
    relink(old.n[next(i)], t, t2);
    face_at_[at(r)] = face_at_[at(a)] = face_at_[at(p)] = t;
    face_at_[at(b)] = t2;
    if (u < 0) return;
    const Face across = faces_[at(u)];
    const int j = index_across(u, t), s = across.v[j];
    faces_[at(u)] = {{s, b, p}, {t2, u2, across.n[previous(j)]}, {c, -1, across.c[previous(j)]}};
    faces_.push_back({{s, p, a}, {t, across.n[next(j)], u}, {c, across.c[next(j)], -1}});
    relink(across.n[next(j)], u, u2);
    face_at_[at(s)] = u;
}

bool PlanarTriangulation::can_flip(int t, int i) const {
    const Face& f = faces_[at(t)];
    if (f.n[i] < 0 || f.c[i] >= 0) return false;
    const int r = f.v[i], a = f.v[next(i)], b = f.v[previous(i)];
    const int s = faces_[at(f.n[i])].v[index_across(f.n[i], t)];
    return turn(r, s, b) > 0 && turn(r, s, a) < 0;
}

void PlanarTriangulation::flip(int t, int i) {
    // t = (r, a, b), u = (s, b, a) become t = (r, a, s), u = (s, b, r).
    const Face f = faces_[at(t)];
    const int u = f.n[i];
    const Face g = faces_[at(u)];
    const int j = index_across(u, t);
    const int r = f.v[i], a = f.v[next(i)], b = f.v[previous(i)], s = g.v[j];
    faces_[at(t)] = {{r, a, s}, {g.n[next(j)], u, f.n[previous(i)]}, {g.c[next(j)], -1, f.c[previous(i)]}};
    faces_[at(u)] = {{s, b, r}, {f.n[next(i)], t, g.n[previous(j)]}, {f.c[next(i)], -1, g.c[previous(j)]}};
    relink(g.n[next(j)], u, t);
    relink(f.n[next(i)], t, u);
    face_at_[at(r)] = face_at_[at(a)] = face_at_[at(s)] = t;
    face_at_[at(b)] = u;
}

PlanarTriangulation PlanarTriangulation::around(const Box& box, int axis, bool mirrored, Cross cross) {
    const Projection k(axis);
    const double reach = 8 * (box.size()[k.u] + box.size()[k.v]);
    auto corner = [&](double du, double dv) {
        Vec3 p;
        p[k.u] = box.center()[k.u] + du * reach;
        p[k.v] = box.center()[k.v] + dv * reach;
        return PointView{p};
    };
    const PointView a = corner(-1, -1), b = corner(1, -1), c = corner(0, 1);
    if (mirrored) return {axis, true, b, a, c, std::move(cross)};
    return {axis, false, a, b, c, std::move(cross)};
}

int PlanarTriangulation::insert(const PointView& p) {
    const int v = static_cast<int>(points_.size());
    points_.push_back(p);
    face_at_.push_back(-1);
    const Location where = locate(v);
    last_ = std::max(where.face, 0);
    if (where.vertex >= 0 || where.face < 0) {
        points_.pop_back();
        face_at_.pop_back();
        return where.vertex;
    }
    if (where.edge >= 0)
        split_edge(where.face, where.edge, v);
    else
        split_face(where.face, v);
    return v;
}

Few<int> PlanarTriangulation::insert_all(std::span<const PointView> points) {
    const Projection k(axis_);
    Few<PlanePoint> waiting;
    for (std::uint32_t i = 0; i < points.size(); ++i)
        waiting.push_back({points[i].approx[k.u], points[i].approx[k.v], i});
    Few<int> numbers(points.size());
    std::size_t i = 0;
    for (const std::size_t round_end : put_in_insertion_order(span_of(waiting))) {
        for (; i < round_end && !stopped(); ++i) numbers[waiting[i].id] = insert(points[waiting[i].id]);
        if (points_.size() > many_points) improve();
    }
    return numbers;
}

int PlanarTriangulation::insert_on_edge(const PointView& p, int a, int b) {
    const int v = static_cast<int>(points_.size());
    points_.push_back(p);
    face_at_.push_back(-1);
    int t = 0, i = 0;
    find_edge(a, b, t, i);
    split_edge(t, i, v);
    return v;
}

/// Finds the face t that holds the edge a-b, with i its index, turning about a both ways.
bool PlanarTriangulation::find_edge(int a, int b, int& t, int& i) const {
    const int start = face_at_[at(a)];
    for (const bool forward : {true, false}) {
        t = start;
        do {
            const int k = index_of(t, a);
            const Face& f = faces_[at(t)];
            if (f.v[next(k)] == b) return i = previous(k), true;
            if (f.v[previous(k)] == b) return i = next(k), true;
            t = forward ? f.n[next(k)] : f.n[previous(k)];
        } while (t >= 0 && t != start);
    }
    return false;
}

/// Makes the edge part of constraint c, which all edges share that were free before.
void PlanarTriangulation::mark_edge(int t, int i, int c) {
    if (const int there = faces_[at(t)].c[i]; there >= 0) {
        if (constraint(c).marks.empty()) return;
        Constraint both = constraint(there);
        both.marks.insert(both.marks.end(), constraint(c).marks.begin(), constraint(c).marks.end());
        c = static_cast<int>(constraints_.size());
        constraints_.push_back(std::move(both));
    }
    faces_[at(t)].c[i] = c;
    const int u = faces_[at(t)].n[i];
    if (u >= 0) faces_[at(u)].c[index_across(u, t)] = c;
}

/// For p on the line through a and b: whether it lies on b's side of a.
bool PlanarTriangulation::ahead(int a, int b, int p) const {
    // In the projection: what the third coordinate of the outermost corners is means nothing.
    const Projection k(axis_);
    for (const int i : {k.u, k.v})
        if (const int s = compare(point(b), point(a), i); s != 0) return compare(point(p), point(a), i) == s;
    return false;
}

/// Makes the first stretch of the segment a-b an edge of constraint c and returns where it ends. `only_free`: does so
/// only where that is b.
int PlanarTriangulation::advance(int a, int b, int c, bool only_free) {
    int t = -1, i = -1;
    if (find_edge(a, b, t, i)) {
        mark_edge(t, i, c);
        return b;
    }
    // Look round a for an edge along the segment, or for the face into which it runs.
    {
        const int start = face_at_[at(a)];
        bool found = false;
        for (const bool forward : {true, false}) {
            int f = start, known = -1, known_turn = 0;  // the point that this face shares with the one before
            auto turn_to = [&](int v) { return v == known ? known_turn : turn(a, b, v); };
            do {
                const int k = index_of(f, a);
                const Face& face = faces_[at(f)];
                const int p = face.v[next(k)], q = face.v[previous(k)];
                const int sp = turn_to(p), sq = turn_to(q);
                for (const auto& [v, s, edge] : {std::tuple(p, sp, previous(k)), std::tuple(q, sq, next(k))})
                    if (s == 0 && ahead(a, b, v)) {
                        if (only_free) return blocked;
                        mark_edge(f, edge, c);
                        return v;
                    }
                if (sp < 0 && sq > 0) {
                    t = f;
                    i = k;
                    found = true;
                    break;
                }
                f = forward ? face.n[next(k)] : face.n[previous(k)];
                known = forward ? q : p;
                known_turn = forward ? sq : sp;
            } while (f >= 0 && f != start);
            if (found) break;
        }
        if (!found) return b;  // outside the first triangle: the caller's error, and nothing to constrain
    }

    Few<Through> through;
    int target = -1, last = t;
    while (target < 0) {
        const Face& f = faces_[at(t)];
        const int right = f.v[next(i)], left = f.v[previous(i)];
        if (f.c[i] >= 0) {
            if (only_free) return blocked;
            const int other = constraint(f.c[i]).line;
            target = static_cast<int>(points_.size());
            points_.push_back(cross_(other, constraint(c).line));
            face_at_.push_back(-1);
            split_edge(t, i, target);
            // The half that the segment came into: it still has the edge across from the face before.
            last = t;
            if (!through.empty()) {
                const Face& before = faces_[at(through.back().face)];
                last = before.n[through.back().edge];
            }
            break;
        }
        through.push_back({t, i});
        const int u = f.n[i];
        const int r = faces_[at(u)].v[index_across(u, t)];
        const int s = r == b ? 0 : turn(a, b, r);
        if (s == 0 && r != b && only_free) return blocked;
        if (s == 0) target = r;
        i = s < 0 ? index_of(u, right) : index_of(u, left);
        last = t = u;
    }
    if (!through.empty()) force_edge(a, target, span_of(through), last);
    if (find_edge(a, target, t, i)) mark_edge(t, i, c);
    return target;
}

/// Replaces the faces that the segment a-b runs through by faces on both sides of it. The points on each side are seen
/// from the segment, so that their chain can be closed ear by ear as it is walked along, in as many steps as it is
/// long: G. Toussaint, D. Avis, "On a Convex Hull Algorithm for Polygons and Its Application to Triangulation Problems"
/// (1982).
void PlanarTriangulation::force_edge(int a, int b, std::span<const Through> through, int last) {
    struct Side {  // an edge of the chain: where it begins, what lies behind it
        int from, n, c;
    };
    Few<Side> right, left;  // both from a to b
    Few<int> slots;
    auto side = [&](int t, int i, int from) {
        const Face& f = faces_[at(t)];
        return Side{from, f.n[i], f.c[i]};
    };
    {
        const auto [t, i] = through.front();  // v[i] is a
        const Face& f = faces_[at(t)];
        right.push_back(side(t, previous(i), a));
        left.push_back(side(t, next(i), a));
        slots.push_back(t);
        int r = f.v[next(i)], l = f.v[previous(i)];
        for (std::size_t k = 1; k < through.size(); ++k) {
            const auto [u, e] = through[k];
            const Face& g = faces_[at(u)];
            slots.push_back(u);
            if (g.v[next(e)] == r) {  // it leaves with the same point on its right: the new one is on its left
                left.push_back(side(u, index_of(u, r), l));
                l = g.v[previous(e)];
            } else {
                right.push_back(side(u, index_of(u, l), r));
                r = g.v[next(e)];
            }
        }
        slots.push_back(last);
        left.push_back(side(last, index_of(last, r), l));
        right.push_back(side(last, index_of(last, l), r));
    }
    // An edge may have a face that goes on both its sides: it hangs into the segment's way.
    constexpr int unlinked = -3;
    std::size_t hanging = 0, used = 0;
    Few<int> going = slots;
    std::ranges::sort(going);
    for (auto* chain : {&right, &left})
        for (Side& s : *chain)
            if (s.n >= 0 && std::ranges::binary_search(going, s.n)) s.n = unlinked, ++hanging;
    // Closes a chain; returns the face at a-b.
    auto close = [&](std::span<const Side> chain, bool is_left) {
        struct Open {  // a point, and what lies behind the edge that leads to it
            int v, n, c;
        };
        Few<Open> stack;
        stack.push_back({a, -1, -1});
        for (std::size_t k = 0; k < chain.size(); ++k) {
            Open edge{k + 1 < chain.size() ? chain[k + 1].from : b, chain[k].n, chain[k].c};
            while (stack.size() >= 2) {
                const Open& middle = stack.back();
                const int from = stack[stack.size() - 2].v;
                const int s = turn(from, middle.v, edge.v);
                if (is_left ? s >= 0 : s <= 0) break;
                const int slot = slots[used++];
                // Corners counter-clockwise: on the left the walk is clockwise.
                Face& f = faces_[at(slot)];
                if (is_left)
                    f = {{from, edge.v, middle.v}, {edge.n, middle.n, -1}, {edge.c, middle.c, -1}};
                else
                    f = {{from, middle.v, edge.v}, {edge.n, -1, middle.n}, {edge.c, -1, middle.c}};
                // A neighbour knows this edge by its ends.
                for (int e = 0; e < 3; ++e) {
                    const int u = f.n[e];
                    if (u < 0) continue;
                    const int p = f.v[next(e)], q = f.v[previous(e)];
                    Face& g = faces_[at(u)];
                    for (int h = 0; h < 3; ++h)
                        if (g.v[next(h)] == q && g.v[previous(h)] == p) g.n[h] = slot;
                }
                for (const int v : f.v) face_at_[at(v)] = slot;
                edge = {edge.v, slot, -1};
                stack.pop_back();
            }
            stack.push_back(edge);
        }
        return stack.back().n;
    };
    const int l = close(span_of(left), true), r = close(span_of(right), false);
    for (const auto& [t, u] : {std::pair(l, r), std::pair(r, l)}) {
        Face& f = faces_[at(t)];
        for (int e = 0; e < 3; ++e)
            if (f.v[e] != a && f.v[e] != b) f.n[e] = u;
    }
    if (hanging == 0) return;
    // The two faces at each edge that hung into the segment's way.
    std::map<std::pair<int, int>, std::pair<int, int>> open;
    for (const int t : slots)
        for (int e = 0; e < 3; ++e)
            if (faces_[at(t)].n[e] == unlinked) open[{faces_[at(t)].v[next(e)], faces_[at(t)].v[previous(e)]}] = {t, e};
    for (const auto& [ends, here] : open)
        if (const auto other = open.find({ends.second, ends.first}); other != open.end())
            faces_[at(here.first)].n[here.second] = other->second.first;
}

void PlanarTriangulation::constrain(int a, int b, int line, std::vector<int> marks) {
    const int c = static_cast<int>(constraints_.size());
    constraints_.push_back({line, std::move(marks)});
    while (a != b) a = advance(a, b, c);
}

bool PlanarTriangulation::constrain_if_free(int a, int b, int line, std::vector<int> marks) {
    const int c = static_cast<int>(constraints_.size());
    constraints_.push_back({line, std::move(marks)});
    if (advance(a, b, c, true) == b) return true;
    constraints_.pop_back();
    return false;
}

bool PlanarTriangulation::constrain_all(std::vector<Segment> segments, std::size_t most_points) {
    std::size_t improved = points_.size();
    for (const std::uint32_t i : by_chance(segments.size())) {
        Segment& s = segments[i];
        constrain(s.a, s.b, s.line, std::move(s.marks));
        if (points_.size() > most_points || stopped()) return false;
        // Where many points lie as they came, segments would run through nearly all faces.
        if (points_.size() < improved + std::max(many_points, improved / 8)) continue;
        improve();
        improved = points_.size();
    }
    return true;
}

void PlanarTriangulation::improve() {
    auto cotangent = [&](int apex, int a, int b) {
        const Vec3 &o = point(apex).approx, u = point(a).approx - o, v = point(b).approx - o;
        return dot(u, v) / std::max(norm(cross(u, v)), 1e-300);
    };
    Few<std::pair<int, int>, 64> stack;
    for (int t = 0; t < static_cast<int>(faces_.size()); ++t)
        for (int i = 0; i < 3; ++i)
            if (faces_[at(t)].n[i] > t && faces_[at(t)].c[i] < 0) stack.emplace_back(t, i);
    std::size_t budget = 40 * faces_.size() + 40;
    while (!stack.empty() && budget-- > 0 && !stopped()) {
        const auto [t, i] = stack.back();
        stack.pop_back();
        const Face& f = faces_[at(t)];
        const int u = f.n[i];
        if (u < 0 || f.c[i] >= 0) continue;
        const int a = f.v[next(i)], b = f.v[previous(i)], s = faces_[at(u)].v[index_across(u, t)];
        if (cotangent(f.v[i], a, b) + cotangent(s, a, b) > -1e-9 || !can_flip(t, i)) continue;
        flip(t, i);
        for (int k = 0; k < 3; ++k)
            for (const int face : {t, u})
                if (const Face& h = faces_[at(face)]; h.c[k] < 0 && h.n[k] >= 0) stack.emplace_back(face, k);
    }
}

std::vector<char> PlanarTriangulation::inside() const {
    const auto covers = covers_of<bool>(*this, [&](bool& in, const Face& f, int i) {
        if (constraint(f.c[i]).marks.size() % 2 == 1) in = !in;
    });
    std::vector<char> inside;
    for (const std::uint32_t cover : covers.of_face) inside.push_back(covers.lists[cover] ? 1 : 0);
    return inside;
}

}  // namespace anvil
