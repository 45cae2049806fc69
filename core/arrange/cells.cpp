// Based on: Q. Zhou, E. Grinspun, D. Zorin, A. Jacobson, "Mesh Arrangements for Solid Geometry" (2016): cells from
// the order of faces round each edge, winding numbers spread from cell to cell. We depart from it in letting whole
// patches stand for their faces, in sheets, which are wound around nothing, and in the way of linking surfaces that do
// not hang together (link_pieces.cpp).
#include "core/arrange/cells.h"

#include <tbb/parallel_for.h>

#include <algorithm>
#include <array>
#include <atomic>
#include <map>

#include "core/arrange/link_pieces.h"
#include "core/mesh/disjoint_sets.h"

namespace anvil {
namespace {

/// Joins the two sides that look into the same wedge at an edge, for all edges.
void join_at_edges(std::span<const Wing> wings, DisjointSets& sides, const Progress& progress) {
    tbb::parallel_for(tbb::blocked_range<std::size_t>(0, wings.size(), 4096), [&](const auto& range) {
        if (progress.cancelled()) return;
        std::size_t from = range.begin();
        while (from > 0 && from < range.end() && same_edge(wings[from - 1], wings[from])) ++from;  // begins before
        while (from < range.end()) {
            std::size_t last = from;
            for (; last + 1 < wings.size() && same_edge(wings[from], wings[last + 1]); ++last)
                sides.join_beside_others(wings[last].side_ahead(), wings[last + 1].side_behind());
            sides.join_beside_others(wings[last].side_ahead(), wings[from].side_behind());
            from = last + 1;
        }
    });
}

/// Joins the elements that meet at edges: as their sides are joined, those next to each other look into one wedge.
void join_surfaces(std::uint32_t elements, DisjointSets& sides, DisjointSets& surfaces, const Progress& progress) {
    for (std::uint32_t side = 0; side < 2 * elements; ++side) {
        if (side % 65536 == 0 && progress.cancelled()) return;
        surfaces.join(side / 2, sides.find(side) / 2);
    }
}

Error does_not_close(const FaceSource& s) {
    return {
        ErrorCode::open_operand,
        "the faces do not close: inside and outside cannot be told apart near face " + std::to_string(s.face.value()),
        "operand " + std::to_string(s.operand + 1), static_cast<int>(s.operand)};
}

/// Elements between cells: one at least for each pair of cells that any lies between. Most lie between the same few.
std::vector<std::uint32_t> find_passages(std::span<const Cells::Sides> of) {
    constexpr std::size_t places = 256;
    std::array<std::uint32_t, places> seen;
    seen.fill(0);
    std::vector<std::uint32_t> out;
    for (std::uint32_t e = 0; e < of.size(); ++e) {
        std::uint32_t& last = seen[(of[e][0] * 31 + of[e][1]) % places];
        if (e > 0 && of[last] == of[e]) continue;
        last = e;
        out.push_back(e);
    }
    return out;
}

/// Spreads winding numbers from the outside, where all are 0, from cell to cell. Of no use where it was stopped.
void spread_winding(Cells& cells, const Elements& elements, std::span<const Cells::Sides> of, std::uint32_t outside,
                    const Progress& progress) {
    auto stopped = [&](std::size_t i) { return i % 65536 == 0 && progress.cancelled(); };
    cells.winding.assign(std::size_t{cells.count} * cells.operands, 0);
    const std::vector<std::uint32_t> passages = find_passages(of);
    if (progress.cancelled()) return;
    // Passages at each cell.
    std::vector<std::uint32_t> start(cells.count + 1, 0), at_cell(2 * passages.size());
    for (const std::uint32_t e : passages)
        for (std::uint32_t cell : of[e]) ++start[cell + 1];
    for (std::uint32_t c = 0; c < cells.count; ++c) start[c + 1] += start[c];
    std::vector<std::uint32_t> fill(start.begin(), start.end() - 1);
    for (const std::uint32_t e : passages) {
        if (stopped(e)) return;
        for (std::uint32_t cell : of[e]) at_cell[fill[cell]++] = e;
    }

    std::vector<char> known(cells.count, 0);
    std::vector<std::uint32_t> stack{outside};
    known[outside] = 1;
    auto row = [&](std::uint32_t cell) {
        return cells.winding.begin() + static_cast<long>(std::size_t{cell} * cells.operands);
    };
    while (!stack.empty()) {
        const std::uint32_t cell = stack.back();
        stack.pop_back();
        for (std::uint32_t i = start[cell]; i < start[cell + 1]; ++i) {
            if (stopped(i)) return;
            const std::uint32_t e = at_cell[i];
            const bool from_front = of[e][0] == cell;
            const std::uint32_t other = of[e][from_front ? 1 : 0];
            if (known[other]) continue;
            std::copy(row(cell), row(cell) + cells.operands, row(other));
            elements.for_each_jump(e, [&](std::uint32_t o, int jump) { row(other)[o] += from_front ? jump : -jump; });
            known[other] = 1;
            stack.push_back(other);
        }
    }
}

/// By operand: by how much its winding number goes up; those by which it stays are not listed. Sorted.
using Jumps = std::vector<std::pair<std::uint32_t, int>>;

Jumps jumps_between(const Cells& cells, const Cells::Sides& sides) {
    const auto before = cells.winding_of(sides[0]), behind = cells.winding_of(sides[1]);
    Jumps out;
    for (std::uint32_t o = 0; o < cells.operands; ++o)
        if (before[o] != behind[o]) out.emplace_back(o, behind[o] - before[o]);
    return out;
}

void find_jumps(const Elements& elements, std::uint32_t e, Jumps& out) {
    out.clear();
    elements.for_each_jump(e, [&](std::uint32_t o, int jump) {
        const auto at = std::ranges::lower_bound(out, o, {}, &Jumps::value_type::first);
        if (at != out.end() && at->first == o)
            at->second += jump;
        else
            out.insert(at, {o, jump});
    });
    std::erase_if(out, [](const auto& jump) { return jump.second == 0; });
}

/// Whether an element makes those jumps. `own`: room for its own.
bool agrees(const Elements& elements, std::uint32_t e, const Jumps& expected, Jumps& own) {
    std::size_t count = 0;
    Jumps::value_type one;
    elements.for_each_jump(e, [&](std::uint32_t o, int jump) {
        if (count++ == 0) one = {o, jump};
    });
    if (count == 1) return expected.size() == 1 && expected.front() == one;  // nearly always
    find_jumps(elements, e, own);
    return own == expected;
}

/// Every face must agree with what was spread; an operand that does not close cannot. Returns the first that does not.
/// Most faces lie between the same few cells, whose numbers of all operands are compared once.
std::optional<std::uint32_t> find_contradiction(const Cells& cells, const Elements& elements,
                                                std::span<const Cells::Sides> of, const Progress& progress) {
    std::atomic<std::uint32_t> first{elements.count()};
    tbb::parallel_for(tbb::blocked_range<std::uint32_t>(0, elements.count(), 8192), [&](const auto& range) {
        if (progress.cancelled()) return;
        std::map<Cells::Sides, Jumps> known;
        const Jumps* expected = nullptr;
        Jumps own;
        for (std::uint32_t e = range.begin(); e < range.end(); ++e) {
            if (!expected || of[e] != of[e - 1]) {
                const auto [at, fresh] = known.try_emplace(of[e]);
                if (fresh) at->second = jumps_between(cells, of[e]);
                expected = &at->second;
            }
            if (agrees(elements, e, *expected, own)) continue;
            for (std::uint32_t lowest = first; e < lowest && !first.compare_exchange_weak(lowest, e);) {
            }
            return;
        }
    });
    return first < elements.count() ? std::optional<std::uint32_t>(first) : std::nullopt;
}

/// What is to be known of sheets: what they part, and where they end.
void note_sheets(Cells& cells, const Soup& soup, const Elements& elements, std::span<const Wing> wings,
                 std::span<const Cells::Sides> of) {
    for (std::uint32_t o = 0; o < soup.size(); ++o) cells.is_sheet.push_back(soup.operand(o).sheet);
    cells.sheets = {{}};
    std::map<std::vector<std::uint32_t>, std::uint32_t> number{{{}, 0}};
    for (std::uint32_t e = 0; e < elements.count(); ++e) {
        if (of[e][0] == of[e][1]) continue;
        std::vector<std::uint32_t> here;
        elements.for_each_source(e, [&](std::uint32_t o, bool) {
            if (cells.is_sheet[o]) here.push_back(o);
        });
        std::sort(here.begin(), here.end());
        here.erase(std::unique(here.begin(), here.end()), here.end());
        const auto [at, fresh] = number.try_emplace(here, static_cast<std::uint32_t>(cells.sheets.size()));
        if (fresh) cells.sheets.push_back(here);
        cells.walls.push_back({std::min(of[e][0], of[e][1]), std::max(of[e][0], of[e][1]), at->second});
    }
    std::sort(cells.walls.begin(), cells.walls.end());
    cells.walls.erase(std::unique(cells.walls.begin(), cells.walls.end()), cells.walls.end());
    for_each_run(wings, same_edge, [&](std::span<const Wing> here) {
        if (here.size() != 1) return;
        const std::uint32_t e = here[0].element;
        cells.open_ends.push_back({here[0].low, here[0].high, of[e][0], elements.a_source(e).operand});
    });
}

}  // namespace

Result<Cells> find_cells(const Soup& soup, const PointTable& points, const ActiveFaces& active, const SubFaces& faces,
                         const Patches& patches, std::span<const Wing> wings, Progress& progress) {
    const Elements elements(soup, points, active, faces, patches);
    const std::uint32_t n = elements.count();
    if (progress.cancelled()) return cancelled_error();
    DisjointSets sides(2 * std::size_t{n} + 1), surfaces(std::size_t{n} + 1);  // behind them, the outside
    join_at_edges(wings, sides, progress);
    join_surfaces(n, sides, surfaces, progress);
    if (progress.cancelled()) return cancelled_error();
    progress.part(0.5);
    if (!link_pieces(soup, elements, surfaces, sides, progress)) return cancelled_error();

    Cells cells;
    cells.operands = soup.size();
    std::vector<std::uint32_t> cell_of;
    cells.count = sides.number(cell_of);
    if (progress.cancelled()) return cancelled_error();
    std::vector<Cells::Sides> of(n);
    for (std::uint32_t e = 0; e < n; ++e) of[e] = {cell_of[2 * e], cell_of[2 * e + 1]};
    spread_winding(cells, elements, of, cell_of[2 * n], progress);
    if (progress.cancelled()) return cancelled_error();
    const auto e = find_contradiction(cells, elements, of, progress);
    if (progress.cancelled()) return cancelled_error();
    if (e) return does_not_close(elements.a_source(*e));
    if (std::ranges::any_of(soup.operands(), [](const auto& o) { return o->sheet; }))
        note_sheets(cells, soup, elements, wings, of);
    const auto middle = of.begin() + static_cast<long>(faces.size());
    cells.of_face.assign(of.begin(), middle);
    cells.of_patch.assign(middle, of.end());
    return cells;
}

}  // namespace anvil
