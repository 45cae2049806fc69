#include "core/spatial/box_tree.h"

#include <tbb/blocked_range.h>
#include <tbb/parallel_for.h>
#include <tbb/parallel_invoke.h>

#include <algorithm>
#include <atomic>

namespace anvil {
namespace {

constexpr std::uint32_t parallel_size = 4096;

}  // namespace

/// Nodes of subtrees over n and over n + 1 items, when every split is in the middle.
std::pair<std::uint32_t, std::uint32_t> BoxTree::node_counts(std::uint32_t n) {
    auto small = [](std::uint32_t m) { return m <= leaf_size; };
    if (small(n) && small(n + 1)) return {1, 1};
    const auto [half, half_more] = node_counts(n / 2);
    const std::uint32_t even = 1 + 2 * half, odd = 1 + half + half_more, even_more = 1 + 2 * half_more;
    if (n % 2 == 0) return {small(n) ? 1 : even, odd};
    return {small(n) ? 1 : odd, even_more};
}

BoxTree::BoxTree(std::span<const Box> boxes) {
    if (boxes.empty()) return;
    const auto n = static_cast<std::uint32_t>(boxes.size());
    // What the splits look at, packed together: centres in single precision, ties by number.
    struct Center {
        float at[3];
        std::uint32_t item;
    };
    std::vector<Center> centers(n);
    tbb::parallel_for(tbb::blocked_range<std::uint32_t>(0, n, parallel_size), [&](const auto& range) {
        for (std::uint32_t i = range.begin(); i != range.end(); ++i) {
            const Vec3 c = boxes[i].low * 0.5 + boxes[i].high * 0.5;
            centers[i] = {{static_cast<float>(c.x), static_cast<float>(c.y), static_cast<float>(c.z)}, i};
        }
    });
    auto node_count = [](std::uint32_t m) { return node_counts(m).first; };
    auto leaf_count = [&](std::uint32_t m) { return (node_count(m) + 1) / 2; };
    nodes_.resize(node_count(n));
    leaves_.resize(leaf_count(n));
    // Each subtree knows its ranges of nodes and leaves beforehand, so the halves can be built side by side. The two
    // children lie at `spare` and `spare + 1`; what the left one needs below itself comes next, then the right one's.
    auto build = [&](auto&& self, std::uint32_t node, std::uint32_t spare, std::uint32_t leaf, std::uint32_t first,
                     std::uint32_t count) -> void {
        if (count <= leaf_size) {
            Leaf& out = leaves_[leaf];
            for (std::uint32_t i = 0; i < leaf_size; ++i) {
                FloatBox box;
                if (i < count) {
                    out.item[i] = centers[first + i].item;
                    box = FloatBox(boxes[out.item[i]]);
                    nodes_[node].box.add(box);
                }
                for (int k = 0; k < 3; ++k) out.low[k][i] = box.low[k], out.high[k][i] = box.high[k];
            }
            nodes_[node].first = leaf;
            nodes_[node].count = count;
            return;
        }
        float low[3], high[3];
        for (int k = 0; k < 3; ++k) low[k] = high[k] = centers[first].at[k];
        for (std::uint32_t i = first + 1; i < first + count; ++i)
            for (int k = 0; k < 3; ++k) {
                low[k] = std::min(low[k], centers[i].at[k]);
                high[k] = std::max(high[k], centers[i].at[k]);
            }
        int axis = 0;
        for (int k = 1; k < 3; ++k)
            if (high[k] - low[k] > high[axis] - low[axis]) axis = k;
        const std::uint32_t left = count / 2;
        std::nth_element(centers.begin() + first, centers.begin() + first + left, centers.begin() + first + count,
                         [axis](const Center& a, const Center& b) {
                             return a.at[axis] != b.at[axis] ? a.at[axis] < b.at[axis] : a.item < b.item;
                         });
        nodes_[node].first = spare;
        const std::uint32_t left_spare = spare + 2, right_spare = left_spare + node_count(left) - 1;
        auto go_left = [&] { self(self, spare, left_spare, leaf, first, left); };
        auto go_right = [&] {
            self(self, spare + 1, right_spare, leaf + leaf_count(left), first + left, count - left);
        };
        if (count > parallel_size) {
            tbb::parallel_invoke(go_left, go_right);
        } else {
            go_left();
            go_right();
        }
        nodes_[node].box = nodes_[spare].box;
        nodes_[node].box.add(nodes_[spare + 1].box);
    };
    build(build, 0, 1, 0, 0, n);
}

bool BoxTree::self_pairs(const std::function<void(std::size_t)>& begin,
                         const std::function<void(std::size_t, std::uint32_t, std::uint32_t)>& visit,
                         Progress* progress) const {
    if (nodes_.empty()) {
        begin(0);
        return true;
    }
    auto size2 = [](const FloatBox& b) {
        float sum = 0;
        for (int k = 0; k < 3; ++k) sum += (b.high[k] - b.low[k]) * (b.high[k] - b.low[k]);
        return sum;
    };
    using NodePair = std::pair<std::uint32_t, std::uint32_t>;
    // One step of the dual descent: a node with itself opens into three pairs, two nodes open the larger one.
    auto expand = [&](const NodePair& p, auto&& push) {
        const auto [a, b] = p;
        const Node &na = nodes_[a], &nb = nodes_[b];
        if (a == b) {
            push(NodePair{na.first, na.first});
            push(NodePair{na.first + 1, na.first + 1});
            push(NodePair{na.first, na.first + 1});
        } else if (nb.count > 0 || (na.count == 0 && size2(na.box) >= size2(nb.box))) {
            push(NodePair{na.first, b});
            push(NodePair{na.first + 1, b});
        } else {
            push(NodePair{a, nb.first});
            push(NodePair{a, nb.first + 1});
        }
    };
    auto both_leaves = [&](const NodePair& p) { return nodes_[p.first].count > 0 && nodes_[p.second].count > 0; };
    auto meets = [&](const NodePair& p) { return nodes_[p.first].box.meets(nodes_[p.second].box); };

    // Breadth first until there are enough tasks to share out; their order does not depend on the threads.
    std::vector<NodePair> tasks{{0, 0}};
    constexpr std::size_t enough = 512;
    for (int round = 0; round < 24 && tasks.size() < enough; ++round) {
        std::vector<NodePair> next;
        bool any = false;
        for (const NodePair& p : tasks) {
            if (!meets(p)) continue;
            if (both_leaves(p)) {
                next.push_back(p);
            } else {
                any = true;
                expand(p, [&](const NodePair& q) { next.push_back(q); });
            }
        }
        tasks = std::move(next);
        if (!any) break;
    }
    begin(tasks.size());
    std::atomic<std::size_t> done{0};
    tbb::parallel_for(std::size_t{0}, tasks.size(), [&](std::size_t task) {
        std::vector<NodePair> stack{tasks[task]};
        std::uint64_t steps = 0;
        while (!stack.empty()) {
            const NodePair p = stack.back();
            stack.pop_back();
            if ((++steps & 255) == 0 && progress && progress->cancelled()) return;
            if (!meets(p)) continue;
            if (!both_leaves(p)) {
                expand(p, [&](const NodePair& q) { stack.push_back(q); });
                continue;
            }
            const Node &a = nodes_[p.first], &b = nodes_[p.second];
            const Leaf &la = leaves_[a.first], &lb = leaves_[b.first];
            for (std::uint32_t i = 0; i < a.count; ++i) {
                // Comparisons give all ones or zero in each place.
                const FloatBox box = la.box(i);
                const auto met = (lb.low[0] <= box.high[0]) & (lb.high[0] >= box.low[0]) & (lb.low[1] <= box.high[1]) &
                                 (lb.high[1] >= box.low[1]) & (lb.low[2] <= box.high[2]) & (lb.high[2] >= box.low[2]);
                for (std::uint32_t j = p.first == p.second ? i + 1 : 0; j < b.count; ++j)
                    if (met[j]) visit(task, std::min(la.item[i], lb.item[j]), std::max(la.item[i], lb.item[j]));
            }
        }
        if (progress) progress->part(static_cast<double>(++done) / static_cast<double>(tasks.size()));
    });
    return !(progress && progress->cancelled());
}

std::vector<Box> face_boxes(std::span<const Vec3> points, std::span<const Triangle> faces) {
    std::vector<Box> boxes(faces.size());
    tbb::parallel_for(tbb::blocked_range<std::size_t>(0, faces.size(), 4096), [&](const auto& range) {
        for (std::size_t f = range.begin(); f != range.end(); ++f)
            for (VertexId v : faces[f]) boxes[f].add(points[v.value()]);
    });
    return boxes;
}

}  // namespace anvil
