#include "core/spatial/box_tree.h"

#include <tbb/blocked_range.h>
#include <tbb/parallel_for.h>
#include <tbb/parallel_invoke.h>

#include <algorithm>
#include <atomic>
#include <numeric>

namespace anvil {
namespace {

constexpr std::uint32_t leaf_size = 4;
constexpr std::uint32_t parallel_size = 4096;

/// Nodes of a subtree over n items, when every split is in the middle.
std::uint32_t node_count(std::uint32_t n) {
    if (n <= leaf_size) return 1;
    return 1 + node_count(n / 2) + node_count(n - n / 2);
}

}  // namespace

BoxTree::BoxTree(std::span<const Box> boxes) : boxes_(boxes.begin(), boxes.end()) {
    if (boxes.empty()) return;
    items_.resize(boxes.size());
    std::iota(items_.begin(), items_.end(), 0u);
    nodes_.resize(node_count(static_cast<std::uint32_t>(boxes.size())));
    // Each subtree knows its range of nodes beforehand, so the halves can be built side by side. The two children
    // lie at `spare` and `spare + 1`; what the left one needs below itself comes next, then the right one's.
    auto build = [&](auto&& self, std::uint32_t node, std::uint32_t spare, std::uint32_t first,
                     std::uint32_t count) -> void {
        Box box, centers;
        for (std::uint32_t i = first; i < first + count; ++i) {
            box.add(boxes_[items_[i]]);
            centers.add(boxes_[items_[i]].low * 0.5 + boxes_[items_[i]].high * 0.5);
        }
        nodes_[node].box = box;
        if (count <= leaf_size) {
            nodes_[node].first = first;
            nodes_[node].count = count;
            return;
        }
        const Vec3 size = centers.size();
        const int axis = size.x >= size.y && size.x >= size.z ? 0 : size.y >= size.z ? 1 : 2;
        const std::uint32_t left = count / 2;
        std::nth_element(items_.begin() + first, items_.begin() + first + left, items_.begin() + first + count,
                         [&](std::uint32_t a, std::uint32_t b) {
                             const double ca = boxes_[a].low[axis] * 0.5 + boxes_[a].high[axis] * 0.5;
                             const double cb = boxes_[b].low[axis] * 0.5 + boxes_[b].high[axis] * 0.5;
                             return ca != cb ? ca < cb : a < b;
                         });
        nodes_[node].first = spare;
        const std::uint32_t left_spare = spare + 2, right_spare = left_spare + node_count(left) - 1;
        auto go_left = [&] { self(self, spare, left_spare, first, left); };
        auto go_right = [&] { self(self, spare + 1, right_spare, first + left, count - left); };
        if (count > parallel_size) {
            tbb::parallel_invoke(go_left, go_right);
        } else {
            go_left();
            go_right();
        }
    };
    build(build, 0, 1, 0, static_cast<std::uint32_t>(boxes.size()));
}

bool BoxTree::self_pairs(const std::function<void(std::size_t)>& begin,
                         const std::function<void(std::size_t, std::uint32_t, std::uint32_t)>& visit,
                         Progress* progress) const {
    if (nodes_.empty()) {
        begin(0);
        return true;
    }
    using NodePair = std::pair<std::uint32_t, std::uint32_t>;
    // One step of the dual descent: a node with itself opens into three pairs, two nodes open the larger one.
    auto expand = [&](const NodePair& p, auto&& push) {
        const auto [a, b] = p;
        const Node &na = nodes_[a], &nb = nodes_[b];
        if (a == b) {
            push(NodePair{na.first, na.first});
            push(NodePair{na.first + 1, na.first + 1});
            push(NodePair{na.first, na.first + 1});
        } else if (nb.count > 0 ||
                   (na.count == 0 && dot(na.box.size(), na.box.size()) >= dot(nb.box.size(), nb.box.size()))) {
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
            for (std::uint32_t i = a.first; i < a.first + a.count; ++i)
                for (std::uint32_t j = p.first == p.second ? i + 1 : b.first; j < b.first + b.count; ++j)
                    if (boxes_[items_[i]].meets(boxes_[items_[j]]))
                        visit(task, std::min(items_[i], items_[j]), std::max(items_[i], items_[j]));
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
