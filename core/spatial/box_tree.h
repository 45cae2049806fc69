#pragma once

#include <algorithm>
#include <cstdint>
#include <functional>
#include <span>
#include <utility>
#include <vector>

#include "core/base/progress.h"
#include "core/base/vec3.h"
#include "core/mesh/mesh.h"

namespace anvil {

/// A hierarchy of axis-aligned boxes over numbered items, split at the middle item of the longest axis.
/// Built in parallel; the same boxes give the same tree, whatever the number of threads.
class BoxTree {
  public:
    BoxTree() = default;
    explicit BoxTree(std::span<const Box> boxes);

    bool empty() const { return nodes_.empty(); }
    std::size_t item_count() const { return items_.size(); }

    /// Calls visit(item, its box) for every item of each leaf that `enter(box)` lets through.
    template <class Enter, class Visit>
    void descend(const Enter& enter, const Visit& visit) const {
        if (nodes_.empty()) return;
        std::uint32_t stack[128];
        int top = 0;
        stack[top++] = 0;
        while (top > 0) {
            const Node& node = nodes_[stack[--top]];
            if (!enter(node.box)) continue;
            if (node.count > 0) {
                for (std::uint32_t i = node.first; i < node.first + node.count; ++i) visit(items_[i], boxes_[i]);
            } else {
                stack[top++] = node.first;
                stack[top++] = node.first + 1;
            }
        }
    }
    /// Items whose boxes meet the given one (closed).
    template <class Visit>
    void overlapping(const Box& box, const Visit& visit) const {
        descend([&](const Box& b) { return b.meets(box); },
                [&](std::uint32_t item, const Box& own) {
                    if (own.meets(box)) visit(item);
                });
    }

    /// The smallest distance2(item) over all items, or `within2` where all are farther. distance2 is the squared
    /// distance of p to an item and never less than that to the item's box.
    template <class Distance2>
    double nearest2(const Vec3& p, double within2, const Distance2& distance2) const {
        if (nodes_.empty()) return within2;
        struct Entry {
            double d2;
            std::uint32_t node;
        };
        Entry stack[128];
        int top = 0;
        stack[top++] = {box_distance2(nodes_[0].box, p), 0};
        while (top > 0) {
            const Entry entry = stack[--top];
            if (entry.d2 >= within2) continue;
            const Node& node = nodes_[entry.node];
            if (node.count > 0) {
                for (std::uint32_t i = node.first; i < node.first + node.count; ++i)
                    if (box_distance2(boxes_[i], p) < within2) within2 = std::min(within2, distance2(items_[i]));
                continue;
            }
            Entry near{box_distance2(nodes_[node.first].box, p), node.first};
            Entry far{box_distance2(nodes_[node.first + 1].box, p), node.first + 1};
            if (far.d2 < near.d2) std::swap(near, far);
            stack[top++] = far;
            stack[top++] = near;
        }
        return within2;
    }

    /// Calls visit(task, i, j), i < j, once for every pair of items whose boxes meet. Tasks run in parallel, and
    /// within a task calls come in a fixed order; `begin(tasks)` is called first with their number. Returns false
    /// where it was stopped.
    bool self_pairs(const std::function<void(std::size_t tasks)>& begin,
                    const std::function<void(std::size_t task, std::uint32_t i, std::uint32_t j)>& visit,
                    Progress* progress = nullptr) const;

  private:
    static double box_distance2(const Box& box, const Vec3& p) {
        double sum = 0;
        for (int k = 0; k < 3; ++k) {
            const double d = std::max({box.low[k] - p[k], 0.0, p[k] - box.high[k]});
            sum += d * d;
        }
        return sum;
    }
    struct Node {
        Box box;
        std::uint32_t first = 0;  // of the items of a leaf, or the left child; the right one follows it
        std::uint32_t count = 0;  // items of a leaf; 0 for an inner node
    };
    std::vector<Node> nodes_;
    std::vector<std::uint32_t> items_;  // in the order of the leaves
    std::vector<Box> boxes_;            // of items_, in the same order
};

/// The boxes of all faces.
std::vector<Box> face_boxes(std::span<const Vec3> points, std::span<const Triangle> faces);

}  // namespace anvil
