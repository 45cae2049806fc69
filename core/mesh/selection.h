#pragma once

#include <array>
#include <span>

#include "core/mesh/mesh.h"

namespace anvil {

/// What can be chosen of a mesh, and what tools are used on; in the order of how many points name one.
enum class ElementKind { points, edges, faces };
inline int points_of(ElementKind kind) { return static_cast<int>(kind) + 1; }

/// Elements of one kind, each by its points, sorted: a point by one, an edge by its ends, a face by its corners.
using Element = std::array<VertexId, 3>;  ///< entries behind the kind's own are not valid
struct Selection {
    ElementKind kind = ElementKind::faces;
    std::vector<Element> elements;  ///< sorted, each once

    bool empty() const { return elements.empty(); }
    bool contains(const Element& element) const;
    void add(std::span<const Element> more);
    void take(std::span<const Element> less);
    bool operator==(const Selection&) const = default;
};
Element point_element(VertexId v);
Element edge_element(VertexId a, VertexId b);
Element face_element(const Triangle& t);

/// All elements of a kind, in no special order.
std::vector<Element> all_elements(const Mesh& mesh, ElementKind kind);

/// The same places in elements of another kind: faces give their edges and corners, points and edges give the faces all
/// of whose corners they name, or else none.
Selection converted(const Mesh& mesh, const Selection& selection, ElementKind kind);
/// Everything that hangs together with the chosen elements across edges.
Selection connected(const Mesh& mesh, const Selection& selection);
/// The same, up to edges at which the surface turns by more than `crease_angle` degrees, ends or branches.
Selection within_creases(const Mesh& mesh, const Selection& selection, double crease_angle);
/// With all elements of the faces round the chosen ones; without those that have an unchosen face beside them.
Selection grown(const Mesh& mesh, const Selection& selection);
Selection shrunk(const Mesh& mesh, const Selection& selection);
Selection inverted(const Mesh& mesh, const Selection& selection);

/// Where the points of the chosen elements are, one element behind the other.
std::vector<Vec3> points_at(const Mesh& mesh, const Selection& selection);
/// The reverse: a mesh of these points and of the faces that they name, and the elements in it. What is left over at
/// the end names none.
struct NamedElements {
    Mesh mesh;
    Selection selection;
};
NamedElements elements_at(ElementKind kind, std::span<const Vec3> points);
/// The edges that only one of the faces has.
NamedElements rim_of(const NamedElements& faces);
/// The edges of the box round points.
NamedElements box_round(std::span<const Vec3> points);

/// The chosen elements of one mesh that are in another one, too, by where their points are.
Selection carried_over(const Selection& selection, const Mesh& from, const Mesh& to);

}  // namespace anvil
