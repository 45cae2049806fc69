#include "core/mesh/selection.h"

#include <algorithm>
#include <map>

#include "core/mesh/disjoint_sets.h"
#include "core/mesh/edge_table.h"
#include "core/mesh/edge_uses.h"
#include "core/mesh/regions.h"
#include "core/mesh/weld.h"

namespace anvil {
namespace {

void sort_out(std::vector<Element>& elements) {
    std::ranges::sort(elements);
    elements.erase(std::unique(elements.begin(), elements.end()), elements.end());
}

/// The elements of a face, one kind at a time.
template <class Visit>
void for_each_of_face(const Triangle& t, ElementKind kind, const Visit& visit) {
    switch (kind) {
        case ElementKind::points:
            for (const VertexId v : t) visit(point_element(v));
            break;
        case ElementKind::edges:
            for (std::size_t k = 0; k < 3; ++k) visit(edge_element(t[k], t[(k + 1) % 3]));
            break;
        case ElementKind::faces: visit(face_element(t)); break;
    }
}

/// Per face, whether one of its elements is chosen, or all of them are.
std::vector<char> faces_with(const Mesh& mesh, const Selection& selection, bool all) {
    std::vector<char> out(mesh.faces.size(), 0);
    for (const FaceId f : ids<FaceId>(mesh.faces.size())) {
        bool any = false, every = true;
        for_each_of_face(mesh.faces[f], selection.kind, [&](const Element& e) {
            const bool chosen = selection.contains(e);
            any = any || chosen;
            every = every && chosen;
        });
        out[f.value()] = all ? every : any;
    }
    return out;
}

/// The elements of the marked faces.
Selection of_faces(const Mesh& mesh, const std::vector<char>& marked, ElementKind kind) {
    Selection out{kind, {}};
    for (const FaceId f : ids<FaceId>(mesh.faces.size()))
        if (marked[f.value()])
            for_each_of_face(mesh.faces[f], kind, [&](const Element& e) { out.elements.push_back(e); });
    sort_out(out.elements);
    return out;
}

/// Per face, marked where a face of its set is.
std::vector<char> spread(DisjointSets& sets, const std::vector<char>& marked) {
    std::vector<char> root(marked.size(), 0), out(marked.size(), 0);
    for (std::uint32_t f = 0; f < marked.size(); ++f)
        if (marked[f]) root[sets.find(f)] = 1;
    for (std::uint32_t f = 0; f < marked.size(); ++f) out[f] = root[sets.find(f)];
    return out;
}

}  // namespace

Element point_element(VertexId v) { return {v, VertexId(), VertexId()}; }
Element edge_element(VertexId a, VertexId b) { return {std::min(a, b), std::max(a, b), VertexId()}; }
Element face_element(const Triangle& t) {
    Element e{t[0], t[1], t[2]};
    std::ranges::sort(e);
    return e;
}

bool Selection::contains(const Element& element) const { return std::ranges::binary_search(elements, element); }
void Selection::add(std::span<const Element> more) {
    elements.insert(elements.end(), more.begin(), more.end());
    sort_out(elements);
}
void Selection::take(std::span<const Element> less) {
    std::vector<Element> gone(less.begin(), less.end());
    sort_out(gone);
    std::erase_if(elements, [&](const Element& e) { return std::ranges::binary_search(gone, e); });
}

std::vector<Element> all_elements(const Mesh& mesh, ElementKind kind) {
    return of_faces(mesh, std::vector<char>(mesh.faces.size(), 1), kind).elements;
}

Selection converted(const Mesh& mesh, const Selection& selection, ElementKind kind) {
    if (kind == selection.kind) return selection;
    if (selection.kind == ElementKind::faces || (selection.kind == ElementKind::edges && kind == ElementKind::points)) {
        Selection out{kind, {}};
        const std::size_t n = static_cast<std::size_t>(points_of(selection.kind));
        for (const Element& e : selection.elements)
            for (std::size_t k = 0; k < n; ++k)
                out.elements.push_back(kind == ElementKind::points ? point_element(e[k])
                                                                   : edge_element(e[k], e[(k + 1) % n]));
        sort_out(out.elements);
        return out;
    }
    // To what takes more points to name: all of them must be chosen.
    const Selection points = converted(mesh, selection, ElementKind::points);
    Selection out{kind, {}};
    for (const Triangle& t : mesh.faces)
        for_each_of_face(t, kind, [&](const Element& e) {
            for (std::size_t k = 0; k < static_cast<std::size_t>(points_of(kind)); ++k)
                if (!points.contains(point_element(e[k]))) return;
            out.elements.push_back(e);
        });
    sort_out(out.elements);
    return out;
}

Selection connected(const Mesh& mesh, const Selection& selection) {
    const EdgeTable edges(mesh.faces.raw(), mesh.points.size());
    DisjointSets sets(mesh.faces.size());
    for (const EdgeId e : ids<EdgeId>(edges.size()))
        for (const std::uint32_t h : edges.uses(e)) sets.join(edges.uses(e)[0] / 3, h / 3);
    return of_faces(mesh, spread(sets, faces_with(mesh, selection, false)), selection.kind);
}

Selection within_creases(const Mesh& mesh, const Selection& selection, double crease_angle) {
    DisjointSets regions = regions_between_creases(mesh, crease_angle);
    return of_faces(mesh, spread(regions, faces_with(mesh, selection, false)), selection.kind);
}

Selection grown(const Mesh& mesh, const Selection& selection) {
    const Selection points = converted(mesh, selection, ElementKind::points);
    return of_faces(mesh, faces_with(mesh, points, false), selection.kind);
}

Selection shrunk(const Mesh& mesh, const Selection& selection) {
    // Out goes what shares a point with an element that is not chosen.
    std::vector<char> at_rim(mesh.points.size(), 0);
    for (const Triangle& t : mesh.faces) {
        bool every = true;
        for_each_of_face(t, selection.kind, [&](const Element& e) { every = every && selection.contains(e); });
        if (!every)
            for (const VertexId v : t) at_rim[v.value()] = 1;
    }
    Selection out = selection;
    std::erase_if(out.elements, [&](const Element& e) {
        for (std::size_t k = 0; k < static_cast<std::size_t>(points_of(selection.kind)); ++k)
            if (at_rim[e[k].value()]) return true;
        return false;
    });
    return out;
}

Selection inverted(const Mesh& mesh, const Selection& selection) {
    Selection out{selection.kind, all_elements(mesh, selection.kind)};
    out.take(selection.elements);
    return out;
}

std::vector<Vec3> points_at(const Mesh& mesh, const Selection& selection) {
    std::vector<Vec3> out;
    for (const Element& e : selection.elements)
        for (std::size_t k = 0; k < static_cast<std::size_t>(points_of(selection.kind)); ++k)
            out.push_back(mesh.points[e[k]]);
    return out;
}

NamedElements elements_at(ElementKind kind, std::span<const Vec3> points) {
    NamedElements out;
    out.selection.kind = kind;
    out.mesh.points.raw().assign(points.begin(), points.end());
    const auto of_one = static_cast<std::size_t>(points_of(kind));
    std::vector<Element> elements;
    for (std::size_t first = 0; first + of_one <= points.size(); first += of_one) {
        const VertexId a(first), b(first + 1), c(first + 2);
        if (kind == ElementKind::faces) out.mesh.faces.push_back({a, b, c});
        elements.push_back(kind == ElementKind::points  ? point_element(a)
                           : kind == ElementKind::edges ? edge_element(a, b)
                                                        : face_element({a, b, c}));
    }
    out.selection.add(elements);
    return out;
}

NamedElements rim_of(const NamedElements& faces) {
    const Mesh mesh = welded(faces.mesh);
    std::vector<Vec3> points;
    const std::vector<EdgeUse> uses = edge_uses(mesh.faces.raw());
    for_each_run(std::span(uses), same_edge, [&](std::span<const EdgeUse> here) {
        if (here.size() == 1) points.insert(points.end(), {mesh.points[here[0].low], mesh.points[here[0].high]});
    });
    return elements_at(ElementKind::edges, points);
}

NamedElements box_round(std::span<const Vec3> points) {
    Box box;
    for (const Vec3& p : points) box.add(p);
    std::vector<Vec3> ends;
    for (int axis = 0; axis < 3 && !box.empty(); ++axis)
        for (int corner = 0; corner < 4; ++corner) {
            Vec3 from = box.low;
            if (corner & 1) from[(axis + 1) % 3] = box.high[(axis + 1) % 3];
            if (corner & 2) from[(axis + 2) % 3] = box.high[(axis + 2) % 3];
            Vec3 to = from;
            to[axis] = box.high[axis];
            ends.insert(ends.end(), {from, to});
        }
    return elements_at(ElementKind::edges, ends);
}

Selection carried_over(const Selection& selection, const Mesh& from, const Mesh& to) {
    std::map<Vec3, VertexId, ByCoordinates> at;
    for (const VertexId v : ids<VertexId>(to.points.size())) at[to.points[v]] = v;
    const std::vector<Element> all = all_elements(to, selection.kind);
    Selection there{selection.kind, all};
    Selection out{selection.kind, {}};
    std::vector<Element> kept;
    for (const Element& e : selection.elements) {
        Element moved = e;
        bool known = true;
        for (std::size_t k = 0; k < static_cast<std::size_t>(points_of(selection.kind)); ++k) {
            const auto found = at.find(from.points[e[k]]);
            known = known && found != at.end();
            if (known) moved[k] = found->second;
        }
        if (!known) continue;
        if (selection.kind == ElementKind::edges) moved = edge_element(moved[0], moved[1]);
        if (selection.kind == ElementKind::faces) moved = face_element({moved[0], moved[1], moved[2]});
        if (there.contains(moved)) kept.push_back(moved);
    }
    out.add(kept);
    return out;
}

}  // namespace anvil
