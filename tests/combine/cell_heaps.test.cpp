// Heaps of bodies made of cubes on a grid of half millimetres, so that nearly all sides are flush and cross at corners
// and edges: what comes of them is judged by counting cells, and by an inspection of each piece.
#include <tbb/global_control.h>

#include <array>
#include <map>
#include <random>
#include <set>

#include "tests/support/support.h"

using namespace anvil;
using namespace anvil::test;

namespace {

constexpr int heap_samples = 4;
using GridCell = std::array<int, 3>;
using CellSet = std::set<GridCell>;

/// The boundary of cubes of 1 mm: their sides, each cut along a diagonal drawn by chance.
Mesh boundary_of_cells(const CellSet& cells, std::mt19937& random) {
    Mesh mesh;
    std::map<GridCell, VertexId> number;
    auto point = [&](const GridCell& p) {
        const auto [at, is_new] = number.try_emplace(p, VertexId(mesh.points.size()));
        if (is_new) mesh.points.push_back({double(p[0]), double(p[1]), double(p[2])});
        return at->second;
    };
    for (const GridCell& cell : cells)
        for (std::size_t axis = 0; axis < 3; ++axis)
            for (const int side : {0, 1}) {
                GridCell beside = cell;
                beside[axis] += side == 1 ? 1 : -1;
                if (cells.contains(beside)) continue;
                VertexId v[4];
                for (const int k : {0, 1, 2, 3}) {
                    GridCell corner = cell;
                    corner[axis] += side;
                    if (k == 1 || k == 2) ++corner[(axis + 1) % 3];
                    if (k >= 2) ++corner[(axis + 2) % 3];
                    v[side == 1 ? k : 3 - k] = point(corner);
                }
                const std::size_t first = random() % 2;
                mesh.faces.push_back({v[first], v[first + 1], v[first + 2]});
                mesh.faces.push_back({v[first], v[first + 2], v[(first + 3) % 4]});
            }
    return mesh;
}

struct Heap {
    std::vector<Mesh> bodies;
    std::vector<CellSet> halves;  // the cells of half a millimetre in each
};

/// Blocks of cubes, some with a hole through them; some lie half a cube beside the others' grid.
Heap heap(std::mt19937& random) {
    auto up_to = [&](int most) { return std::uniform_int_distribution(0, most)(random); };
    Heap out;
    const int count = 2 + up_to(3), slide = up_to(1);
    for (int body = 0; body < count; ++body) {
        GridCell low, high;
        for (std::size_t axis = 0; axis < 3; ++axis) {
            low[axis] = up_to(3);
            high[axis] = axis == 2 ? low[axis] + 1 + up_to(2) : 18 - up_to(4);
        }
        const bool has_hole = up_to(1) == 1;
        const int hole_x = low[0] + 3 + up_to(5), hole_y = low[1] + 3 + up_to(5);
        const int by_x = slide * up_to(1), by_y = slide * up_to(1);  // half millimetres
        CellSet cells, halves;
        for (int x = low[0]; x < high[0]; ++x)
            for (int y = low[1]; y < high[1]; ++y)
                for (int z = low[2]; z < high[2]; ++z) {
                    if (has_hole && x >= hole_x && x < hole_x + 3 && y >= hole_y && y < hole_y + 4) continue;
                    cells.insert({x, y, z});
                    for (const int part : {0, 1, 2, 3, 4, 5, 6, 7})
                        halves.insert({2 * x + by_x + part % 2, 2 * y + by_y + part / 2 % 2, 2 * z + part / 4});
                }
        out.bodies.push_back(moved(boundary_of_cells(cells, random), {by_x * 0.5, by_y * 0.5, 0}));
        out.halves.push_back(std::move(halves));
    }
    return out;
}

double volume_of(const CellSet& halves) { return static_cast<double>(halves.size()) / 8; }

Combined combined_heap(Operation operation, const Heap& heap, const SettleOptions& options) {
    std::vector<const Mesh*> operands;
    for (const Mesh& m : heap.bodies) operands.push_back(&m);
    Progress progress;
    auto done = combine(operation, operands, progress, options);
    REQUIRE(done);
    return std::move(*done);
}

/// Each piece is sound, and together they are as large as the cells.
void check_heap(const Combined& result, double expected) {
    double sum = 0;
    for (std::size_t k = 0; !result.empty && k < result.pieces(); ++k) {
        const Mesh piece = result.piece(k);
        CHECK(inspected(piece).print_ready);
        sum += signed_volume(piece);
    }
    CHECK(sum == Approx(expected).margin(1e-3));
}

}  // namespace

TEST_CASE("heaps of blocks whose sides are flush are as large as their cells, a sample", "[sample]") {
    const std::uint32_t seed = seed_of_run();
    std::mt19937 random(seed);
    WARN("heaps of cells: seed " << seed);
    for (int k = 0; k < heap_samples; ++k) {
        const Heap one = heap(random);
        SettleOptions options;
        options.precision = random() % 2 ? Precision::single_precision : Precision::double_precision;
        options.contact = random() % 2 ? ContactRule::separate : ContactRule::join;
        options.merge_flush = random() % 2 == 0;
        INFO("seed " << seed << ": heap " << k << " of " << one.bodies.size());
        CellSet all, first_alone = one.halves[0], common = one.halves[0];
        for (const CellSet& cells : one.halves) all.insert(cells.begin(), cells.end());
        for (std::size_t body = 1; body < one.halves.size(); ++body) {
            for (const GridCell& cell : one.halves[body]) first_alone.erase(cell);
            std::erase_if(common, [&](const GridCell& cell) { return !one.halves[body].contains(cell); });
        }
        check_heap(combined_heap(Operation::union_of, one, options), volume_of(all));
        check_heap(combined_heap(Operation::difference, one, options), volume_of(first_alone));
        check_heap(combined_heap(Operation::intersection, one, options), volume_of(common));
        check_heap(combined_heap(Operation::pieces, one, options), volume_of(all));
    }
}

TEST_CASE("one thread and many settle pieces of a heap alike") {
    std::mt19937 random(17);
    for (int k = 0; k < 3; ++k) {
        const Heap one = heap(random);
        const Combined many = combined_heap(Operation::pieces, one, {});
        const tbb::global_control single(tbb::global_control::max_allowed_parallelism, 1);
        const Combined few = combined_heap(Operation::pieces, one, {});
        CHECK(many.mesh.points.raw() == few.mesh.points.raw());
        CHECK(many.mesh.faces.raw() == few.mesh.faces.raw());
        CHECK(many.piece_start == few.piece_start);
        CHECK(many.source == few.source);
    }
}
