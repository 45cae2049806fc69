#include "core/spatial/box_tree.h"

#include <tbb/blocked_range.h>
#include <tbb/parallel_for.h>

#include <algorithm>
#include <array>
#include <bit>

#include "core/base/sort.h"

namespace anvil {
namespace {

constexpr std::uint32_t parallel_size = 4096;

/// An item's place on the space-filling curve: the bits of its box's centre, interleaved.
struct Place {
    std::uint64_t key;
    std::uint32_t item;
    bool operator<(const Place& o) const { return key != o.key ? key < o.key : item < o.item; }
};

/// Spreads the lower 21 bits so that two free bits follow each.
std::uint64_t spread(std::uint64_t v) {
    v = (v | v << 32) & 0x1f00000000ffffull;
    v = (v | v << 16) & 0x1f0000ff0000ffull;
    v = (v | v << 8) & 0x100f00f00f00f00full;
    v = (v | v << 4) & 0x10c30c30c30c30c3ull;
    return (v | v << 2) & 0x1249249249249249ull;
}

std::vector<Place> places(std::span<const FloatBox> boxes) {
    const auto n = static_cast<std::uint32_t>(boxes.size());
    auto center = [&](std::uint32_t i, int k) {
        return 0.5 * double{boxes[i].low[k]} + 0.5 * double{boxes[i].high[k]};
    };
    double low[3], extent = 0;
    for (int k = 0; k < 3; ++k) {
        double high = low[k] = center(0, k);
        for (std::uint32_t i = 1; i < n; ++i) {
            const double c = center(i, k);
            low[k] = std::min(low[k], c);
            high = std::max(high, c);
        }
        extent = std::max(extent, high - low[k]);
    }
    constexpr double steps = (1 << 21) - 1;
    const double scale = extent > 0 && std::isfinite(steps / extent) ? steps / extent : 0;
    std::vector<Place> out(n);
    tbb::parallel_for(tbb::blocked_range<std::uint32_t>(0, n, parallel_size), [&](const auto& range) {
        for (std::uint32_t i = range.begin(); i != range.end(); ++i) {
            std::uint64_t key = 0;
            for (int k = 0; k < 3; ++k) {
                const double step = (center(i, k) - low[k]) * scale;  // not a number only where boxes are infinite
                key |= spread(step > 0 ? static_cast<std::uint64_t>(std::min(step, steps)) : 0) << (2 - k);
            }
            out[i] = {key, i};
        }
    });
    return out;
}

/// By the upper 30 bits in three passes; what is equal there is mostly a handful, sorted in place.
void sort_places(std::vector<Place>& list) {
    if (list.size() < 2048) {
        std::sort(list.begin(), list.end());
        return;
    }
    sort_by_bits(
        list, [](const Place& p) { return p.key; }, 33, 63);
    for (std::size_t i = 0; i < list.size();) {
        std::size_t end = i + 1;
        while (end < list.size() && list[end].key >> 33 == list[i].key >> 33) ++end;
        if (end - i > 1) std::sort(list.begin() + static_cast<long>(i), list.begin() + static_cast<long>(end));
        i = end;
    }
}

/// How many of the `count` places from `first` on go to the left: where the curve's highest bit changes, near the
/// leaves so that these are full.
std::uint32_t left_count(std::span<const Place> list, std::uint32_t first, std::uint32_t count) {
    if (count <= 32) return ((count / 2 + 3) / 4) * 4;
    const std::uint64_t differing = list[first].key ^ list[first + count - 1].key;
    if (differing == 0) return (count / 8) * 4;
    const int bit = 63 - std::countl_zero(differing);
    const auto from = list.begin() + first;
    return static_cast<std::uint32_t>(
        std::partition_point(from, from + count, [bit](const Place& p) { return (p.key >> bit & 1) == 0; }) - from);
}

}  // namespace

BoxTree::BoxTree(std::span<const Box> boxes) {
    std::vector<FloatBox> own(boxes.size());
    tbb::parallel_for(tbb::blocked_range<std::size_t>(0, boxes.size(), parallel_size), [&](const auto& range) {
        for (std::size_t i = range.begin(); i != range.end(); ++i) own[i] = FloatBox(boxes[i]);
    });
    build(std::move(own), nullptr);
}

static std::vector<FloatBox> boxes_of(std::span<const Vec3> points, std::span<const Triangle> faces) {
    std::vector<FloatBox> own(faces.size());
    tbb::parallel_for(tbb::blocked_range<std::size_t>(0, faces.size(), parallel_size), [&](const auto& range) {
        for (std::size_t f = range.begin(); f != range.end(); ++f) {
            Box box;
            for (VertexId v : faces[f]) box.add(points[v.value()]);
            own[f] = FloatBox(box);
        }
    });
    return own;
}

BoxTree::BoxTree(std::span<const Vec3> points, std::span<const Triangle> faces) {
    build(boxes_of(points, faces), nullptr);
}

BoxTree::BoxTree(std::span<const Vec3> points, std::span<const Triangle> faces, std::vector<std::uint32_t>& order,
                 const Progress& progress) {
    build(boxes_of(points, faces), &order, &progress);
}

void BoxTree::build(std::vector<FloatBox> boxes, std::vector<std::uint32_t>* new_order, const Progress* progress) {
    auto stopped = [&] { return progress && progress->cancelled(); };
    if (new_order) new_order->clear();
    if (boxes.empty() || stopped()) return;
    std::vector<Place> order = places(boxes);
    if (stopped()) return;
    sort_places(order);
    if (stopped()) return;
    if (new_order)
        for (const Place& p : order) new_order->push_back(p.item);

    struct Subtree {
        std::uint32_t slot, first, count;  // the node that it hangs on, and its range of places
        std::vector<Node> nodes;           // numbered from 0, its root; leaves too
        std::vector<Leaf> leaves;
    };
    auto fill_leaf = [&](Node& node, std::vector<Leaf>& leaves, std::uint32_t first, std::uint32_t count) {
        Leaf& leaf = leaves.emplace_back();
        for (std::uint32_t i = 0; i < leaf_size; ++i) {
            FloatBox box;
            leaf.item[i] = 0;
            if (i < count) {
                leaf.item[i] = new_order ? first + i : order[first + i].item;
                box = boxes[order[first + i].item];
                node.add(box);
            }
            for (int k = 0; k < 3; ++k) leaf.low[k][i] = box.low[k], leaf.high[k][i] = box.high[k];
        }
        node.first = static_cast<std::uint32_t>(leaves.size() - 1);
        node.count = count;
    };
    auto grow = [&](auto&& self, Subtree& tree, std::uint32_t node, std::uint32_t first, std::uint32_t count) -> void {
        if (count <= leaf_size) {
            fill_leaf(tree.nodes[node], tree.leaves, first, count);
            return;
        }
        const std::uint32_t left = left_count(order, first, count);
        const auto child = static_cast<std::uint32_t>(tree.nodes.size());
        tree.nodes.resize(child + 2);
        tree.nodes[node].first = child;
        self(self, tree, child, first, left);
        self(self, tree, child + 1, first + left, count - left);
        tree.nodes[node].add(tree.nodes[child].box());
        tree.nodes[node].add(tree.nodes[child + 1].box());
    };

    // The upper nodes first; below them subtrees, each by itself.
    std::vector<Subtree> subtrees;
    std::vector<std::uint32_t> upper;
    nodes_.resize(1);
    auto divide = [&](auto&& self, std::uint32_t node, std::uint32_t first, std::uint32_t count) -> void {
        if (count <= parallel_size) {
            subtrees.push_back({node, first, count, {}, {}});
            return;
        }
        const std::uint32_t left = left_count(order, first, count);
        const auto child = static_cast<std::uint32_t>(nodes_.size());
        nodes_.resize(child + 2);
        nodes_[node].first = child;
        upper.push_back(node);
        self(self, child, first, left);
        self(self, child + 1, first + left, count - left);
    };
    divide(divide, 0, 0, static_cast<std::uint32_t>(boxes.size()));
    tbb::parallel_for(std::size_t{0}, subtrees.size(), [&](std::size_t i) {
        Subtree& tree = subtrees[i];
        tree.nodes.resize(1);
        if (stopped()) return;
        tree.nodes.reserve(tree.count);
        tree.leaves.reserve(tree.count / 3 + 1);
        grow(grow, tree, 0, tree.first, tree.count);
    });
    order = {};
    boxes = {};
    std::size_t node_total = nodes_.size(), leaf_total = 0;
    for (const Subtree& tree : subtrees) node_total += tree.nodes.size() - 1, leaf_total += tree.leaves.size();
    nodes_.reserve(node_total);
    leaves_.reserve(leaf_total);
    for (Subtree& tree : subtrees) {
        const auto node_base = static_cast<std::uint32_t>(nodes_.size()) - 1;
        const auto leaf_base = static_cast<std::uint32_t>(leaves_.size());
        for (Node& node : tree.nodes) node.first += node.count > 0 ? leaf_base : node_base;
        nodes_[tree.slot] = tree.nodes[0];
        nodes_.insert(nodes_.end(), tree.nodes.begin() + 1, tree.nodes.end());
        leaves_.insert(leaves_.end(), tree.leaves.begin(), tree.leaves.end());
        tree = {};
    }
    for (std::size_t i = upper.size(); i-- > 0;) {  // children come after their parents
        Node& node = nodes_[upper[i]];
        node.add(nodes_[node.first].box());
        node.add(nodes_[node.first + 1].box());
    }
}

std::vector<BoxTree::NodePair> BoxTree::pair_tasks(const BoxTree& other, bool same) const {
    if (empty() || other.empty()) return {};
    std::vector<NodePair> tasks{{0, 0}};
    // Enough for many threads, and no more than the smaller tree is worth.
    const std::size_t enough = std::clamp(std::min(leaf_count(), other.leaf_count()) / 4, 1u, 512u);
    for (int round = 0; round < 24 && tasks.size() < enough; ++round) {
        std::vector<NodePair> next;
        bool any = false;
        for (const NodePair& p : tasks) {
            const Node &a = nodes_[p.first], &b = other.nodes_[p.second];
            if (!a.meets(b)) continue;
            if (a.count > 0 && b.count > 0) {
                next.push_back(p);
            } else {
                any = true;
                open_pair(other, same, p, [&](const NodePair& q) { next.push_back(q); });
            }
        }
        tasks = std::move(next);
        if (!any) break;
    }
    return tasks;
}

}  // namespace anvil
