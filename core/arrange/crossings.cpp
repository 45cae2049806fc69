#include "core/arrange/crossings.h"

#include <algorithm>
#include <array>
#include <tuple>
#include <unordered_map>

#include <tbb/parallel_for.h>

#include "core/exact/predicates.h"
#include "core/spatial/box_tree.h"
#include "core/spatial/triangle_contact.h"

namespace anvil {
namespace {

struct FoundContact {
    FaceId a, b;
    Contact contact;
};

/// What defines a new point: an edge (two points) and a face, or two edges.
struct PointKey {
    std::array<std::uint32_t, 4> n;  // low, high, face, none | low, high, low, high
    bool operator==(const PointKey&) const = default;
};
constexpr std::uint32_t no_edge = 0xffffffffu;

struct PointKeyHash {
    std::size_t operator()(const PointKey& k) const {
        std::uint64_t h = 0;
        for (std::uint32_t v : k.n) h = (h ^ v) * 0x9e3779b97f4a7c15ull, h ^= h >> 29;
        return h;
    }
};

std::array<std::uint32_t, 2> edge_key(const Triangle& t, int k) {
    const std::uint32_t a = t[k].value(), b = t[(k + 1) % 3].value();
    return {std::min(a, b), std::max(a, b)};
}

PointKey key_of(const Soup& soup, const FoundContact& found, const ContactPoint& c) {
    const Triangle &a = soup.faces[found.a], &b = soup.faces[found.b];
    if (c.kind == ContactPoint::edge_edge) {
        auto first = edge_key(a, c.i), second = edge_key(b, c.j);
        if (second < first) std::swap(first, second);
        return {{first[0], first[1], second[0], second[1]}};
    }
    const auto edge = edge_key(c.side == 0 ? a : b, c.i);
    return {{edge[0], edge[1], (c.side == 0 ? found.b : found.a).value(), no_edge}};
}

HomogeneousPoint construct(const Soup& soup, const PointKey& key) {
    auto point = [&](std::uint32_t v) -> const Vec3& { return soup.points[VertexId(v)]; };
    const Vec3 &p = point(key.n[0]), &q = point(key.n[1]);
    if (key.n[3] == no_edge) {
        const FaceId f(key.n[2]);
        return line_plane_point(p, q, soup.corner(f, 0), soup.corner(f, 1), soup.corner(f, 2));
    }
    // Two crossing edges span a plane; any axis along which it has area will do.
    const Vec3 &r = point(key.n[2]), &s = point(key.n[3]);
    const int axis = projection_axis(p, q, r) >= 0 ? projection_axis(p, q, r) : projection_axis(p, q, s);
    return line_line_point(p, q, r, s, axis);
}

std::vector<FoundContact> find_contacts(const Soup& soup, const BoxTree& tree, Progress& progress, bool& complete) {
    const std::vector<PlaneFilter> planes = face_planes(soup.points.raw(), soup.faces.raw());
    std::vector<std::vector<FoundContact>> per_task;
    complete = tree.self_pairs([&](std::size_t tasks) { per_task.resize(tasks); },
                               [&](std::size_t task, std::uint32_t i, std::uint32_t j) {
                                   const Contact c = triangle_contact(soup.points.raw(), soup.faces[FaceId(i)],
                                                                      soup.faces[FaceId(j)], &planes[i], &planes[j]);
                                   if (c.beyond_shared()) per_task[task].push_back({FaceId(i), FaceId(j), c});
                               },
                               &progress);
    std::vector<FoundContact> all;
    for (auto& list : per_task) all.insert(all.end(), list.begin(), list.end());
    std::sort(all.begin(), all.end(),
              [](const FoundContact& x, const FoundContact& y) { return std::tie(x.a, x.b) < std::tie(y.a, y.b); });
    return all;
}

}  // namespace

Result<Crossings> find_crossings(const Soup& soup, const BoxTree& tree, PointTable& points, Progress& progress) {
    bool complete = false;
    const std::vector<FoundContact> contacts = find_contacts(soup, tree, progress, complete);
    if (!complete) return cancelled_error();

    Crossings out;
    out.touched.assign(soup.points.size(), 0);
    std::vector<PointKey> fresh;
    std::unordered_map<PointKey, std::uint32_t, PointKeyHash> number;
    // Until the new points are in the table they go by their number behind the input points.
    const std::uint32_t base = static_cast<std::uint32_t>(soup.points.size());
    auto resolve = [&](const FoundContact& found, const ContactPoint& c) {
        if (c.kind == ContactPoint::vertex) {
            const VertexId v = soup.faces[c.side == 0 ? found.a : found.b][c.i];
            out.touched[v.value()] = 1;
            return v;
        }
        const PointKey key = key_of(soup, found, c);
        const auto [at, is_new] = number.try_emplace(key, static_cast<std::uint32_t>(fresh.size()));
        if (is_new) fresh.push_back(key);
        return VertexId(base + at->second);
    };
    for (const FoundContact& found : contacts) {
        if (found.contact.kind == Contact::coplanar) {
            out.coplanar.emplace_back(found.a, found.b);
            for (FaceId f : {found.a, found.b})
                for (VertexId v : soup.faces[f]) out.touched[v.value()] = 1;
            continue;
        }
        Crossing crossing{found.a, found.b, resolve(found, found.contact.points[0]), VertexId()};
        if (found.contact.count == 2) crossing.q = resolve(found, found.contact.points[1]);
        out.segments.push_back(crossing);
    }

    std::vector<HomogeneousPoint> constructed(fresh.size());
    tbb::parallel_for(std::size_t{0}, fresh.size(), [&](std::size_t i) {
        if (progress.cancelled()) return;
        constructed[i] = construct(soup, fresh[i]);
    });
    if (progress.cancelled()) return cancelled_error();
    for (HomogeneousPoint& p : constructed) points.add(std::move(p));
    points.identify(out.touched);
    for (Crossing& c : out.segments) {
        c.p = points.same_as(c.p);
        if (c.q.valid()) c.q = points.same_as(c.q);
        if (c.p == c.q) c.q = VertexId();
    }
    return out;
}

}  // namespace anvil
