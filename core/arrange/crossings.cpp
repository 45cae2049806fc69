#include "core/arrange/crossings.h"

#include <algorithm>
#include <array>
#include <unordered_map>

#include <tbb/parallel_for.h>

#include "core/arrange/contact_lists.h"
#include "core/arrange/earlier.h"
#include "core/exact/predicates.h"

namespace anvil {
namespace {

/// A contact with its faces numbered through all operands.
struct FoundContact {
    FaceId a, b;
    Triangle corners_a, corners_b;
    Contact contact;
};

std::array<std::uint32_t, 2> edge_key(const Triangle& t, int k) {
    const std::uint32_t a = t[k].value(), b = t[(k + 1) % 3].value();
    return {std::min(a, b), std::max(a, b)};
}

PointDefinition key_of(const FoundContact& found, const ContactPoint& c) {
    const Triangle &a = found.corners_a, &b = found.corners_b;
    if (c.kind == ContactPoint::edge_edge) {
        auto first = edge_key(a, c.i), second = edge_key(b, c.j);
        if (second < first) std::swap(first, second);
        return {{first[0], first[1], second[0], second[1]}};
    }
    const auto edge = edge_key(c.side == 0 ? a : b, c.i);
    return {{edge[0], edge[1], (c.side == 0 ? found.b : found.a).value(), PointDefinition::no_edge}};
}

HomogeneousPoint construct(const Soup& soup, const PointDefinition& key) {
    auto point = [&](std::uint32_t v) -> const Vec3& { return soup.point(VertexId(v)); };
    const Vec3 &p = point(key.n[0]), &q = point(key.n[1]);
    if (key.n[3] == PointDefinition::no_edge) {
        const FaceId f(key.n[2]);
        return line_plane_point(p, q, soup.corner(f, 0), soup.corner(f, 1), soup.corner(f, 2));
    }
    // Two crossing edges span a plane; any axis along which it has area will do.
    const Vec3 &r = point(key.n[2]), &s = point(key.n[3]);
    const int axis = projection_axis(p, q, r) >= 0 ? projection_axis(p, q, r) : projection_axis(p, q, s);
    return line_line_point(p, q, r, s, axis);
}

}  // namespace

std::optional<std::vector<FaceContact>> find_contacts(const Operand& a, const Operand& b, Progress& progress) {
    const auto &points_a = a.mesh.points.raw(), &points_b = b.mesh.points.raw();
    const auto &faces_a = a.mesh.faces.raw(), &faces_b = b.mesh.faces.raw();
    return gather_contacts(
        [&](const auto& prepare, const auto& test) { return a.tree.pairs(b.tree, prepare, test, &progress); },
        [&](std::uint32_t i, std::uint32_t j) -> std::optional<Contact> {
            const Contact c =
                triangle_contact(corner_points(points_a, faces_a[i]), corner_points(points_b, faces_b[j]));
            return c.kind != Contact::apart ? std::optional(c) : std::nullopt;
        });
}

Result<Crossings> find_crossings(const Soup& soup, std::span<const ContactList> lists, PointTable& points,
                                 EarlierArrangement* earlier, Progress& progress) {
    Crossings out;
    std::vector<PointDefinition> fresh;
    std::unordered_map<PointDefinition, std::uint32_t, DefinitionHash> number;
    // Until the new points are in the table they go by their number behind the input points.
    const std::uint32_t base = static_cast<std::uint32_t>(points.input_count());
    std::vector<char> touched(base, 0);
    auto touch = [&](VertexId v) { touched[v.value()] = 1; };
    auto resolve = [&](const FoundContact& found, const ContactPoint& c) {
        if (c.kind == ContactPoint::vertex) {
            const VertexId v = (c.side == 0 ? found.corners_a : found.corners_b)[c.i];
            touch(v);
            return v;
        }
        const PointDefinition key = key_of(found, c);
        const auto [at, is_new] = number.try_emplace(key, static_cast<std::uint32_t>(fresh.size()));
        if (is_new) fresh.push_back(key);
        return VertexId(base + at->second);
    };
    std::size_t contacts = 0;
    for (const ContactList& list : lists) contacts += list.contacts->size();
    number.reserve(contacts);
    for (const ContactList& list : lists) {
        const Mesh &mesh_a = soup.operand(list.a).mesh, &mesh_b = soup.operand(list.b).mesh;
        std::size_t done = 0;
        for (const FaceContact& pair : *list.contacts) {
            if (++done % 4096 == 0 && progress.cancelled()) return cancelled_error();
            const FoundContact found{soup.global(list.a, pair.a), soup.global(list.b, pair.b),
                                     soup.global(list.a, mesh_a.faces[pair.a]),
                                     soup.global(list.b, mesh_b.faces[pair.b]), pair.contact};
            if (list.a != list.b) {
                // Corners that two operands have in common must become one point.
                const CornerPoints ca = corner_points(mesh_a.points.raw(), mesh_a.faces[pair.a]),
                                   cb = corner_points(mesh_b.points.raw(), mesh_b.faces[pair.b]);
                int common = 0;
                for (std::size_t i = 0; i < 3; ++i)
                    for (std::size_t j = 0; j < 3; ++j)
                        if (*ca[i] == *cb[j]) {
                            touch(found.corners_a[i]);
                            touch(found.corners_b[j]);
                            ++common;
                        }
                if (pair.contact.kind == Contact::conforming && common == 2)
                    for (FaceId f : {found.a, found.b}) out.at_common_edge.push_back(f);
            }
            if (pair.contact.kind == Contact::conforming) continue;
            if (pair.contact.kind == Contact::coplanar) {
                out.coplanar.emplace_back(found.a, found.b);
                for (const Triangle* t : {&found.corners_a, &found.corners_b}) std::ranges::for_each(*t, touch);
                continue;
            }
            Crossing crossing{found.a, found.b, resolve(found, pair.contact.points[0]), VertexId()};
            if (pair.contact.count == 2) crossing.q = resolve(found, pair.contact.points[1]);
            out.segments.push_back(crossing);
        }
        if (progress.cancelled()) return cancelled_error();
    }
    for (const VertexId v : ids<VertexId>(touched.size()))
        if (touched[v.value()]) out.touched.push_back(v);

    if (earlier) earlier->match(fresh);
    points.add_all(fresh.size(), [&](std::size_t i, HomogeneousPoint& exact, Vec3& approx) {
        if (progress.cancelled()) return;
        if (const HomogeneousPoint* known = earlier ? earlier->point(i, approx) : nullptr) {
            exact = *known;
            return;
        }
        exact = construct(soup, fresh[i]);
        approx = rounded(exact);
    });
    if (progress.cancelled()) return cancelled_error();
    points.identify(out.touched);
    out.definitions = std::move(fresh);
    for (Crossing& c : out.segments) {
        c.p = points.same_as(c.p);
        if (c.q.valid()) c.q = points.same_as(c.q);
        if (c.p == c.q) c.q = VertexId();
    }
    return out;
}

}  // namespace anvil
