#include "core/arrange/crossings.h"

#include <algorithm>
#include <array>
#include <atomic>
#include <bit>

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

/// New points by what defines them, numbered as they come; a table of numbers without a node for each.
class NewPoints {
  public:
    /// Makes room for so many more.
    void reserve(std::size_t more) {
        const std::size_t wanted = std::bit_ceil(2 * (all_.size() + more) + 16);
        if (wanted <= slots_.size()) return;
        slots_.assign(wanted, none);
        for (std::uint32_t i = 0; i < all_.size(); ++i) slots_[slot(all_[i])] = i;
    }
    /// Precondition: there is room.
    std::uint32_t number(const PointDefinition& key) {
        std::uint32_t& number = slots_[slot(key)];
        if (number == none) {
            number = static_cast<std::uint32_t>(all_.size());
            all_.push_back(key);
        }
        return number;
    }
    std::vector<PointDefinition> take() { return std::move(all_); }

  private:
    static constexpr std::uint32_t none = 0xffffffffu;
    /// Where a definition stands, or would.
    std::size_t slot(const PointDefinition& key) const {
        const std::size_t mask = slots_.size() - 1;
        std::size_t i = DefinitionHash()(key) & mask;
        while (slots_[i] != none && !(all_[slots_[i]] == key)) i = (i + 1) & mask;
        return i;
    }
    std::vector<PointDefinition> all_;
    std::vector<std::uint32_t> slots_;
};

/// Returns it rounded.
Vec3 define(ExactPoint& exact, const Soup& soup, const PointDefinition& key) {
    auto point = [&](std::uint32_t v) -> const Vec3& { return soup.point(VertexId(v)); };
    const Vec3 &p = point(key.n[0]), &q = point(key.n[1]);
    if (key.n[3] == PointDefinition::no_edge) {
        const FaceId f(key.n[2]);
        return exact.define_by_line_and_plane(p, q, soup.corner(f, 0), soup.corner(f, 1), soup.corner(f, 2));
    }
    // Two crossing edges span a plane; any axis along which it has area will do.
    const Vec3 &r = point(key.n[2]), &s = point(key.n[3]);
    const int axis = projection_axis(p, q, r) >= 0 ? projection_axis(p, q, r) : projection_axis(p, q, s);
    return exact.define_by_lines(p, q, r, s, axis);
}

}  // namespace

std::optional<std::vector<FaceContact>> find_contacts(const Operand& a, const Operand& b, Progress& progress) {
    const auto &points_a = a.mesh.points.raw(), &points_b = b.mesh.points.raw();
    const auto &faces_a = a.mesh.faces.raw(), &faces_b = b.mesh.faces.raw();
    auto beside = [&](bool of_b, std::uint32_t face, const FloatBox& box) {
        return plane_surely_misses(
            of_b ? corner_points(points_b, faces_b[face]) : corner_points(points_a, faces_a[face]), box);
    };
    return gather_contacts([&](const auto& prepare,
                               const auto& test) { return a.tree.pairs(b.tree, prepare, test, &progress, {}, beside); },
                           [&](std::uint32_t i, std::uint32_t j) -> std::optional<Contact> {
                               const Contact c = triangle_contact(corner_points(points_a, faces_a[i]),
                                                                  corner_points(points_b, faces_b[j]));
                               return c.kind != Contact::apart ? std::optional(c) : std::nullopt;
                           });
}

Result<Crossings> find_crossings(const Soup& soup, std::span<const ContactList> lists, PointTable& points,
                                 EarlierArrangement* earlier, Progress& progress) {
    Crossings out;
    NewPoints new_points;
    // Until the new points are in the table they go by their number behind the input points.
    const std::uint32_t base = static_cast<std::uint32_t>(points.input_count());
    std::vector<char> touched(base, 0);
    auto touch = [&](VertexId v) { std::atomic_ref<char>(touched[v.value()]).store(1, std::memory_order_relaxed); };
    auto resolve = [&](const FoundContact& found, const ContactPoint& c) {
        if (c.kind == ContactPoint::vertex) {
            const VertexId v = (c.side == 0 ? found.corners_a : found.corners_b)[c.i];
            touch(v);
            return v;
        }
        return VertexId(base + new_points.number(key_of(found, c)));
    };
    for (const ContactList& list : lists) {
        const Mesh &mesh_a = soup.operand(list.a).mesh, &mesh_b = soup.operand(list.b).mesh;
        auto found_at = [&](std::size_t i) {
            const FaceContact& pair = (*list.contacts)[i];
            return FoundContact{soup.global(list.a, pair.a), soup.global(list.b, pair.b),
                                soup.global(list.a, mesh_a.faces[pair.a]), soup.global(list.b, mesh_b.faces[pair.b]),
                                pair.contact};
        };
        // What needs no new points is told side by side.
        struct Part {
            std::vector<FaceId> at_common_edge;
            std::vector<std::pair<FaceId, FaceId>> coplanar;
            std::vector<std::size_t> crossing;
        };
        constexpr std::size_t block = 4096;
        std::vector<Part> parts(list.contacts->size() / block + 1);
        tbb::parallel_for(std::size_t{0}, parts.size(), [&](std::size_t k) {
            if (progress.cancelled()) return;
            Part& part = parts[k];
            for (std::size_t i = k * block, end = std::min(list.contacts->size(), i + block); i < end; ++i) {
                const FoundContact found = found_at(i);
                const FaceContact& pair = (*list.contacts)[i];
                if (list.a != list.b) {
                    // Corners that two operands have in common must become one point.
                    const CornerPoints ca = corner_points(mesh_a.points.raw(), mesh_a.faces[pair.a]),
                                       cb = corner_points(mesh_b.points.raw(), mesh_b.faces[pair.b]);
                    int common = 0;
                    for (std::size_t p = 0; p < 3; ++p)
                        for (std::size_t q = 0; q < 3; ++q)
                            if (*ca[p] == *cb[q]) {
                                touch(found.corners_a[p]);
                                touch(found.corners_b[q]);
                                ++common;
                            }
                    if (pair.contact.kind == Contact::conforming && common == 2)
                        for (FaceId f : {found.a, found.b}) part.at_common_edge.push_back(f);
                }
                if (pair.contact.kind == Contact::conforming) continue;
                if (pair.contact.kind == Contact::coplanar) {
                    part.coplanar.emplace_back(found.a, found.b);
                    for (const Triangle* t : {&found.corners_a, &found.corners_b}) std::ranges::for_each(*t, touch);
                } else {
                    part.crossing.push_back(i);
                }
            }
        });
        std::size_t crossing_pairs = 0;
        for (const Part& part : parts) crossing_pairs += part.crossing.size();
        new_points.reserve(2 * crossing_pairs);
        for (const Part& part : parts) {
            if (progress.cancelled()) return cancelled_error();
            out.at_common_edge.insert(out.at_common_edge.end(), part.at_common_edge.begin(), part.at_common_edge.end());
            out.coplanar.insert(out.coplanar.end(), part.coplanar.begin(), part.coplanar.end());
            for (const std::size_t i : part.crossing) {
                const FoundContact found = found_at(i);
                Crossing crossing{found.a, found.b, resolve(found, found.contact.points[0]), VertexId()};
                if (found.contact.count == 2) crossing.q = resolve(found, found.contact.points[1]);
                out.segments.push_back(crossing);
            }
        }
        if (progress.cancelled()) return cancelled_error();
    }
    for (const VertexId v : ids<VertexId>(touched.size()))
        if (touched[v.value()]) out.touched.push_back(v);

    std::vector<PointDefinition> fresh = new_points.take();
    if (earlier) earlier->match(fresh);
    points.add_all(fresh.size(), [&](std::size_t i, ExactPoint& exact, Vec3& approx) {
        if (progress.cancelled()) return;
        if (const ExactPoint* known = earlier ? earlier->point(i, approx) : nullptr)
            exact = *known;
        else
            approx = define(exact, soup, fresh[i]);
    });
    if (progress.cancelled()) return cancelled_error();
    points.identify(out.touched, progress);
    if (progress.cancelled()) return cancelled_error();
    out.definitions = std::move(fresh);
    for (Crossing& c : out.segments) {
        c.p = points.same_as(c.p);
        if (c.q.valid()) c.q = points.same_as(c.q);
        if (c.p == c.q) c.q = VertexId();
    }
    return out;
}

}  // namespace anvil
