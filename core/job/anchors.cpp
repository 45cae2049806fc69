#include "core/job/anchors.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <map>
#include <set>

#include "core/mesh/disjoint_sets.h"
#include "core/mesh/edge_table.h"
#include "core/mesh/measures.h"
#include "core/spatial/nearest.h"

namespace anvil {
namespace {

constexpr std::size_t most_places = 64;  // that tell where an anchor lies
/// Where a mesh was replaced, as shares of the anchor's own length: how far off it may lie, and how much longer or
/// larger it may be.
constexpr double nearly = 1e-3, about_as_large = 1e-2;

double length_of(const Mesh& mesh, const Element& edge) { return norm(mesh.points[edge[1]] - mesh.points[edge[0]]); }
double area_of(const Mesh& mesh, const Element& face) {
    return 0.5 * norm(cross(mesh.points[face[1]] - mesh.points[face[0]], mesh.points[face[2]] - mesh.points[face[0]]));
}
double size_of(const Mesh& mesh, ElementKind kind, std::span<const Element> elements) {
    double size = 0;
    for (const Element& e : elements)
        size += kind == ElementKind::edges ? length_of(mesh, e) : kind == ElementKind::faces ? area_of(mesh, e) : 0;
    return size;
}
Vec3 middle_of(const Mesh& mesh, ElementKind kind, const Element& e) {
    Vec3 sum;
    const int n = points_of(kind);
    for (int k = 0; k < n; ++k) sum = sum + mesh.points[e[static_cast<std::size_t>(k)]];
    return sum * (1.0 / n);
}
double distance_to(const Mesh& mesh, ElementKind kind, const Element& e, const Vec3& p) {
    switch (kind) {
        case ElementKind::points: return norm(p - mesh.points[e[0]]);
        case ElementKind::edges: {
            const Vec3 a = mesh.points[e[0]], ab = mesh.points[e[1]] - a;
            const double length2 = dot(ab, ab), t = length2 > 0 ? std::clamp(dot(p - a, ab) / length2, 0.0, 1.0) : 0;
            return norm(p - (a + ab * t));
        }
        case ElementKind::faces:
            return std::sqrt(point_triangle_distance2(p, mesh.points[e[0]], mesh.points[e[1]], mesh.points[e[2]]));
    }
    return 0;
}

/// Elements of a body that hang together and have the same tags.
struct Spot {
    std::vector<Tag> tags;
    std::vector<Element> elements{};
};

using TagNumbers = std::vector<std::uint32_t>;  // sorted, each once

void add_to(TagNumbers& numbers, std::uint32_t n) {
    const auto at = std::ranges::lower_bound(numbers, n);
    if (at == numbers.end() || *at != n) numbers.insert(at, n);
}

/// All elements of a kind by the tags of the faces round them.
std::map<TagNumbers, std::vector<Element>> by_tags_round(const Mesh& mesh, const Tags& tags, ElementKind kind) {
    std::map<TagNumbers, std::vector<Element>> out;
    if (kind == ElementKind::faces) {
        for (const FaceId f : ids<FaceId>(mesh.faces.size())) out[{tags.of[f]}].push_back(face_element(mesh.faces[f]));
    } else if (kind == ElementKind::edges) {
        const EdgeTable table(std::span(mesh.faces.raw()), mesh.points.size());
        for (const EdgeId e : ids<EdgeId>(table.size())) {
            TagNumbers numbers;
            for (const std::uint32_t half : table.uses(e)) add_to(numbers, tags.of[FaceId(half / 3)]);
            out[numbers].push_back(edge_element(table.edge(e).low, table.edge(e).high));
        }
    } else {
        std::vector<TagNumbers> round(mesh.points.size());
        for (const FaceId f : ids<FaceId>(mesh.faces.size()))
            for (const VertexId v : mesh.faces[f]) add_to(round[v.value()], tags.of[f]);
        for (const VertexId v : ids<VertexId>(mesh.points.size())) out[round[v.value()]].push_back(point_element(v));
    }
    return out;
}

/// A body's elements of a kind, by the tags of the faces round them; and the spots among them: elements that hang
/// together where faces of different tags meet, and regions of faces.
class Spots {
  public:
    Spots(const Mesh& mesh, const Tags& tags, ElementKind kind) : known_(tags.table.begin(), tags.table.end()) {
        for (auto& [numbers, elements] : by_tags_round(mesh, tags, kind)) {
            std::vector<Tag> names;
            for (const std::uint32_t n : numbers) names.push_back(tags.table[n]);
            std::ranges::sort(names);
            // Three faces make a corner, two an edge.
            if (kind == ElementKind::faces || numbers.size() > (kind == ElementKind::edges ? 1u : 2u))
                add_parts(names, elements, kind);
            groups_.push_back({std::move(names), std::move(elements)});
        }
    }
    const std::vector<Spot>& all() const { return spots_; }
    /// Elements with the same tags round them, whether they hang together or not.
    const std::vector<Spot>& groups() const { return groups_; }
    /// Whether what the body was made of has all of these tags, even where it was cut away: else a mesh was replaced.
    bool knows(std::span<const Tag> tags) const {
        return std::ranges::all_of(tags, [&](const Tag& tag) { return known_.contains(tag); });
    }

  private:
    /// Points each by itself; edges that share points, faces that share edges, together.
    void add_parts(const std::vector<Tag>& names, const std::vector<Element>& elements, ElementKind kind) {
        DisjointSets sets(elements.size());
        std::map<Element, std::uint32_t> at;
        for (std::uint32_t k = 0; k < elements.size(); ++k) {
            const Element& e = elements[k];
            const Element ends[] = {kind == ElementKind::edges ? point_element(e[0]) : edge_element(e[0], e[1]),
                                    kind == ElementKind::edges ? point_element(e[1]) : edge_element(e[1], e[2]),
                                    kind == ElementKind::edges ? point_element(e[1]) : edge_element(e[2], e[0])};
            if (kind == ElementKind::points) continue;
            for (const Element& end : ends)
                if (const auto [known, fresh] = at.try_emplace(end, k); !fresh) sets.join(k, known->second);
        }
        std::vector<std::uint32_t> number;
        std::vector<Spot> found(sets.number(number), Spot{names});
        for (std::size_t k = 0; k < elements.size(); ++k) found[number[k]].elements.push_back(elements[k]);
        std::ranges::move(found, std::back_inserter(spots_));
    }

    std::vector<Spot> spots_, groups_;
    std::set<Tag> known_;
};

/// Middles of elements, spread over the spot.
std::vector<Vec3> middles_of(const Mesh& mesh, ElementKind kind, std::span<const Element> elements) {
    std::vector<Vec3> out;
    const std::size_t n = std::min(most_places, elements.size());
    for (std::size_t k = 0; k < n; ++k) out.push_back(middle_of(mesh, kind, elements[k * elements.size() / n]));
    return out;
}

/// How far points lie from elements: the middle of their distances.
double distance_from(const Mesh& mesh, ElementKind kind, std::span<const Element> elements,
                     std::span<const Vec3> points) {
    double sum = 0;
    for (const Vec3& p : points) {
        double nearest = std::numeric_limits<double>::infinity();
        for (const Element& e : elements) nearest = std::min(nearest, distance_to(mesh, kind, e, p));
        sum += nearest;
    }
    return points.empty() ? 0 : sum / static_cast<double>(points.size());
}

/// A length that tells how large an anchor is.
double width_of(const Anchor& anchor) {
    return anchor.kind == ElementKind::faces ? std::sqrt(anchor.size) : anchor.size;
}

bool same_maker(const Tag& a, const Tag& b) { return a.use == b.use && a.maker == b.maker; }
bool same_makers(std::span<const Tag> a, std::span<const Tag> b) {
    return std::ranges::equal(a, b, same_maker);  // both sorted, by makers first
}

Error lost(const char* why) { return {ErrorCode::lost, why, ""}; }
Error gone() {
    return lost("what it holds on to is not there any more; choose it anew, or bring back what stood above");
}
Error several() {
    return lost(
        "there are several places that it could hold on to, and none of them lies where it was; choose it anew");
}

/// The whole of a spot, or several of them.
class WholeFinder {
  public:
    WholeFinder(const Mesh& mesh, const Spots& spots) : mesh_(mesh), spots_(spots) {}

    Result<std::vector<Element>> find(const Anchor& anchor) const {
        return spots_.knows(anchor.tags) ? by_tags(anchor) : where_it_lay(anchor);
    }

  private:
    Result<std::vector<Element>> by_tags(const Anchor& anchor) const {
        std::vector<const Spot*> same;
        for (const Spot& spot : spots_.all())
            if (spot.tags == anchor.tags) same.push_back(&spot);
        if (same.empty()) return gone();
        std::vector<Element> out;
        if (anchor.alike == 1) {  // all that has these tags, also where something parts it now
            for (const Spot* spot : same) out.insert(out.end(), spot->elements.begin(), spot->elements.end());
            return out;
        }
        // As near to where it lay as half the way to what was next to it, and no other nearly as near.
        std::vector<std::pair<double, const Spot*>> order;
        for (const Spot* spot : same)
            order.emplace_back(distance_from(mesh_, anchor.kind, spot->elements, anchor.points), spot);
        std::ranges::sort(order);
        if (!(order.front().first < anchor.apart / 2)) return same.size() < anchor.alike ? gone() : several();
        if (order.size() > 1 && order[1].first < 2 * order.front().first) return several();
        return order.front().second->elements;
    }

    /// Between faces of the same makers, and nowhere else than it was.
    Result<std::vector<Element>> where_it_lay(const Anchor& anchor) const {
        const double near = nearly * width_of(anchor);
        std::vector<const Spot*> found;
        for (const Spot& spot : spots_.all()) {
            if (!same_makers(spot.tags, anchor.tags)) continue;
            if (std::fabs(size_of(mesh_, anchor.kind, spot.elements) - anchor.size) > about_as_large * anchor.size)
                continue;
            if (distance_from(mesh_, anchor.kind, spot.elements, anchor.points) <= near) found.push_back(&spot);
        }
        if (found.empty()) return gone();
        if (found.size() > 1) return several();
        return found.front()->elements;
    }

    const Mesh& mesh_;
    const Spots& spots_;
};

/// Elements by where they are: those that lie in the ones that were chosen, where these were divided since. Where faces
/// have the tags still, between those only; else between faces of the same makers.
Result<std::vector<Element>> find_some(const Anchor& anchor, const Mesh& mesh, const Spots& spots) {
    const auto n = static_cast<std::size_t>(points_of(anchor.kind));
    Mesh chosen;
    std::vector<Element> was;
    for (std::size_t k = 0; k + n <= anchor.points.size(); k += n) {
        Element e{};
        for (std::size_t i = 0; i < n; ++i) e[i] = chosen.points.push_back(anchor.points[k + i]);
        was.push_back(e);
    }
    const double near = 1e-9 * bounds(mesh).diagonal();
    auto lies_in = [&](const Element& e) {
        return std::ranges::any_of(was, [&](const Element& w) {
            for (std::size_t i = 0; i < n; ++i)
                if (distance_to(chosen, anchor.kind, w, mesh.points[e[i]]) > near) return false;
            return true;
        });
    };
    const bool by_tags = spots.knows(anchor.tags);
    std::vector<Element> out;
    for (const Spot& group : spots.groups())
        if (by_tags ? group.tags == anchor.tags : same_makers(group.tags, anchor.tags))
            std::ranges::copy_if(group.elements, std::back_inserter(out), lies_in);
    const double size = size_of(mesh, anchor.kind, out);
    if (out.empty() || std::fabs(size - anchor.size) > about_as_large * anchor.size) return gone();
    return out;
}

/// The anchor of elements by where they are.
Anchor anchor_of_some(ElementKind kind, const std::vector<Tag>& tags, std::span<const Element> elements,
                      const Mesh& mesh) {
    Anchor anchor{.kind = kind, .tags = tags, .whole = false};
    anchor.size = size_of(mesh, kind, elements);
    for (const Element& e : elements)
        for (int k = 0; k < points_of(kind); ++k) anchor.points.push_back(mesh.points[e[static_cast<std::size_t>(k)]]);
    return anchor;
}

}  // namespace

std::vector<Anchor> anchors_of_flat_face(const std::array<Vec3, 3>& corners, const Mesh& mesh, const Tags& tags) {
    const NamedElements named = elements_at(ElementKind::faces, corners);
    const Selection one = carried_over(named.selection, named.mesh, mesh);
    if (one.empty()) return {};
    constexpr double flat = 0.01, smooth = 20;  // degrees, from face to face
    const Selection face = within_creases(mesh, one, flat);
    // A facet of something round is no face to hold on to.
    if (within_creases(mesh, one, smooth).elements.size() != face.elements.size()) return {};
    return anchors_of(face, mesh, tags);
}

std::vector<Anchor> anchors_of(const Selection& selection, const Mesh& mesh, const Tags& tags) {
    const ElementKind kind = selection.kind;
    const Spots spots(mesh, tags, kind);
    auto chosen_of = [&](const Spot& spot) {
        std::vector<Element> out;
        std::ranges::copy_if(spot.elements, std::back_inserter(out),
                             [&](const Element& e) { return selection.contains(e); });
        return out;
    };
    std::vector<Anchor> out;
    std::set<Element> held;
    for (const Spot& spot : spots.all()) {
        if (chosen_of(spot).size() != spot.elements.size()) continue;
        held.insert(spot.elements.begin(), spot.elements.end());
        Anchor anchor{.kind = kind, .tags = spot.tags, .points = middles_of(mesh, kind, spot.elements)};
        anchor.size = size_of(mesh, kind, spot.elements);
        anchor.apart = std::numeric_limits<double>::infinity();
        for (const Spot& other : spots.all()) {
            if (&other == &spot || other.tags != spot.tags) continue;
            ++anchor.alike;
            anchor.apart = std::min(anchor.apart, distance_from(mesh, kind, other.elements, anchor.points));
        }
        if (anchor.alike == 1) anchor.apart = 0;
        out.push_back(std::move(anchor));
    }
    for (const Spot& group : spots.groups()) {
        std::vector<Element> left = chosen_of(group);
        std::erase_if(left, [&](const Element& e) { return held.contains(e); });
        if (!left.empty()) out.push_back(anchor_of_some(kind, group.tags, left, mesh));
    }
    return out;
}

Result<Selection> held_by(std::span<const Anchor> anchors, const Mesh& mesh, const Tags& tags) {
    Selection out;
    if (anchors.empty()) return out;
    out.kind = anchors.front().kind;
    const Spots spots(mesh, tags, out.kind);
    const WholeFinder whole(mesh, spots);
    for (const Anchor& anchor : anchors) {
        if (anchor.kind != out.kind) return lost("it holds on to elements of different kinds");
        auto found = anchor.whole ? whole.find(anchor) : find_some(anchor, mesh, spots);
        if (!found) return found.error();
        out.add(*found);
    }
    return out;
}

}  // namespace anvil
