#include "core/combine/report.h"

#include <algorithm>
#include <array>
#include <map>
#include <set>
#include <tuple>

#include "core/base/sort.h"
#include "core/combine/surface_edges.h"
#include "core/combine/surface_lines.h"

namespace anvil {
namespace {

/// An edge of a curve.
struct Link {
    std::uint32_t a, b;
    VertexId from, to;
    auto key() const { return std::tie(a, b, from, to); }
};

/// Finds the edges at which faces of different operands meet by the edges' numbers.
class LinksByNumber {
  public:
    explicit LinksByNumber(const Arrangement& arrangement) : a_(arrangement) {}

    /// Adds those of a piece, but for links that its edges have from pieces before. Precondition: it has_edge_numbers.
    /// Of no use where it was stopped.
    void add(const Extraction& piece, std::vector<Link>& links, const Progress& progress) {
        at_.assign(a_.edges.count, Here());
        for (std::uint32_t f = 0; f < piece.corners.size(); ++f) {
            if (f % 65536 == 0 && progress.cancelled()) return;
            const std::uint32_t operand = piece.source[f].operand;
            for (std::uint32_t k = 0; k < 3; ++k) {
                Here& here = at_[edge_number(a_, piece, f, k)];
                here.place = 4 * f + k;
                here.first = std::min(here.first, operand);
                here.last = std::max(here.last, operand);
            }
        }
        known_.resize(a_.edges.count);
        for (std::uint32_t edge = 0; edge < at_.size(); ++edge) {
            const auto [place, a, b] = at_[edge];
            if (a >= b || known_[edge] == std::pair(a, b)) continue;
            known_[edge] = {a, b};
            const Triangle& t = piece.corners[place >> 2];
            const VertexId v = t[place & 3], w = t[((place & 3) + 1) % 3];
            links.push_back({a, b, std::min(v, w), std::max(v, w)});
        }
    }

  private:
    struct Here {
        std::uint32_t place = 0, first = 0xffffffffu, last = 0;  // 4 * face + corner, and the operands of its faces
    };
    const Arrangement& a_;
    std::vector<Here> at_;                                        // per edge, of the piece
    std::vector<std::pair<std::uint32_t, std::uint32_t>> known_;  // per edge: the operands of its last link
};

/// The edges at which faces of different operands meet, and those along which a line is drawn.
std::vector<Link> find_links(const Arrangement& arrangement, std::span<const Extraction> pieces,
                             std::span<const std::uint32_t> drawn, const Progress& progress) {
    const SurfaceLines lines(arrangement, drawn);
    std::vector<Link> links;
    constexpr std::size_t few = 8;  // pieces, whose links are merged as they come
    LinksByNumber by_number(arrangement);
    for (const Extraction& piece : pieces) {
        const auto old = static_cast<std::ptrdiff_t>(links.size());
        auto operand = [&](const EdgeUse& use) { return piece.source[use.face].operand; };
        auto by_operand = [&](const EdgeUse& x, const EdgeUse& y) {
            return std::pair(operand(x), piece.plane[x.face]) < std::pair(operand(y), piece.plane[y.face]);
        };
        if (drawn.empty() && has_edge_numbers(arrangement, piece))
            by_number.add(piece, links, progress);
        else
            SurfaceEdges(arrangement, piece, progress).for_each([&](std::span<const EdgeUse> here) {
                if (drawn.empty() && here.size() == 2 && operand(here[0]) == operand(here[1])) return;  // most
                const auto [first, last] = std::minmax_element(here.begin(), here.end(), by_operand);
                const std::uint32_t a = operand(*first), b = operand(*last);
                if (a != b || lines.at(first->low, first->high, piece.plane[first->face]))
                    links.push_back({a, b, first->low, first->high});
            });
        if (progress.cancelled()) return {};
        if (pieces.size() > few) continue;
        const auto middle = links.begin() + old;
        auto before = [](const Link& x, const Link& y) { return x.key() < y.key(); };
        // Those of two operands come sorted.
        if (!std::is_sorted(middle, links.end(), before)) std::sort(middle, links.end(), before);
        std::inplace_merge(links.begin(), middle, links.end(), before);
    }
    if (!std::ranges::is_sorted(links, {}, &Link::key)) std::ranges::sort(links, {}, &Link::key);
    links.erase(
        std::unique(links.begin(), links.end(), [](const Link& x, const Link& y) { return x.key() == y.key(); }),
        links.end());
    return links;
}

/// Chains the links of one pair of operands: from ends and forks first, then round what is left.
void chain(const Arrangement& arrangement, std::span<const Link> links, std::vector<CrossingCurve>& curves) {
    struct End {
        VertexId v;
        std::size_t link;
    };
    std::vector<End> ends;
    ends.reserve(2 * links.size());
    for (std::size_t i = 0; i < links.size(); ++i) ends.push_back({links[i].from, i}), ends.push_back({links[i].to, i});
    sort_by_number(
        ends, [](const End& e) { return e.v.value(); }, [](const End& x, const End& y) { return x.link < y.link; });
    // Per link, where the ends at its two points begin.
    std::vector<std::array<std::uint32_t, 2>> first_end(links.size());
    for (std::size_t i = 0, begin = 0; i < ends.size(); ++i) {
        if (ends[i].v != ends[begin].v) begin = i;
        const std::size_t link = ends[i].link;
        first_end[link][links[link].from == ends[i].v ? 0 : 1] = static_cast<std::uint32_t>(begin);
    }
    std::vector<char> used(links.size(), 0);
    auto walk = [&](VertexId start, std::size_t first) {
        CrossingCurve curve{links[first].a, links[first].b, {arrangement.points.approx(start)}, false};
        VertexId v = start;
        for (std::size_t i = first;;) {
            used[i] = 1;
            v = links[i].from == v ? links[i].to : links[i].from;
            if (v == start) {
                curve.closed = true;
                break;
            }
            curve.points.push_back(arrangement.points.approx(v));
            const End* here = &ends[first_end[i][links[i].from == v ? 0 : 1]];
            const auto left = static_cast<std::size_t>(ends.data() + ends.size() - here);
            if (left < 2 || here[1].v != v || (left > 2 && here[2].v == v)) break;
            const std::size_t next = used[here[0].link] ? here[1].link : here[0].link;
            if (used[next]) break;
            i = next;
        }
        curves.push_back(std::move(curve));
    };
    auto same_end = [](const End& x, const End& y) { return x.v == y.v; };
    for_each_run(std::span<const End>(ends), same_end, [&](std::span<const End> here) {
        if (here.size() == 2) return;
        for (const End& end : here)
            if (!used[end.link]) walk(end.v, end.link);
    });
    for (std::size_t i = 0; i < links.size(); ++i)
        if (!used[i]) walk(links[i].from, i);
}

}  // namespace

double CrossingCurve::length() const {
    double sum = 0;
    for (std::size_t i = 0; i + 1 < points.size(); ++i) sum += norm(points[i + 1] - points[i]);
    return closed ? sum + norm(points.front() - points.back()) : sum;
}

std::vector<CrossingCurve> crossing_curves(const Arrangement& arrangement, std::span<const Extraction> pieces,
                                           std::span<const std::uint32_t> drawn, const Progress& progress) {
    const std::vector<Link> links = find_links(arrangement, pieces, drawn, progress);
    std::vector<CrossingCurve> curves;
    auto same_pair = [](const Link& x, const Link& y) { return x.a == y.a && x.b == y.b; };
    for_each_run(std::span(links), same_pair, [&](std::span<const Link> here) { chain(arrangement, here, curves); });
    return curves;
}

std::vector<FlushArea> flush_areas(const Arrangement& a, const Progress& progress) {
    std::map<std::tuple<std::uint32_t, std::uint32_t, bool>, std::pair<FlushArea, double>> found;  // with the largest
    for (std::size_t f = 0; f < a.faces.size(); ++f) {
        const auto sources = a.faces.sources[a.faces.source[f]];
        if (sources.size() < 2) continue;
        const Triangle& t = a.faces.corners[f];
        const Vec3 &p = a.points.approx(t[0]), &q = a.points.approx(t[1]), &r = a.points.approx(t[2]);
        const double area = norm(cross(q - p, r - p)) / 2;
        std::set<std::pair<std::uint32_t, bool>> sides;  // there may be a million sources of one operand
        for (const FaceSource& x : sources) sides.emplace(x.operand, x.reversed);
        std::set<std::tuple<std::uint32_t, std::uint32_t, bool>> pairs;
        for (const auto& [x, x_reversed] : sides) {
            if (progress.cancelled()) return {};  // where thousands lie on each other, each face has millions of pairs
            for (const auto& [y, y_reversed] : sides)
                if (x < y) pairs.emplace(x, y, x_reversed != y_reversed);
        }
        for (const auto& key : pairs) {
            const auto& [first, second, facing] = key;
            auto& [flush, largest] =
                found.try_emplace(key, FlushArea{first, second, facing, 0, {}}, -1.0).first->second;
            flush.area += area;
            if (area > largest) largest = area, flush.place = (p + q + r) * (1.0 / 3);
        }
    }
    std::vector<FlushArea> out;
    for (const auto& [key, value] : found) out.push_back(value.first);
    return out;
}

}  // namespace anvil
