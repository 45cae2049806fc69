#pragma once

#include <algorithm>
#include <cmath>
#include <cstdint>
#include <functional>
#include <limits>
#include <span>
#include <utility>
#include <vector>

#include "core/base/progress.h"
#include "core/base/vec3.h"
#include "core/mesh/mesh.h"

namespace anvil {

/// A box in single precision, rounded outward: it holds the box that it was made from.
struct FloatBox {
    float low[3] = {HUGE_VALF, HUGE_VALF, HUGE_VALF}, high[3] = {-HUGE_VALF, -HUGE_VALF, -HUGE_VALF};

    FloatBox() = default;
    explicit FloatBox(const Box& box) {
        for (int k = 0; k < 3; ++k) {
            low[k] = at_most(box.low[k]);
            high[k] = -at_most(-box.high[k]);
        }
    }
    void add(const FloatBox& b) {
        for (int k = 0; k < 3; ++k) {
            low[k] = std::min(low[k], b.low[k]);
            high[k] = std::max(high[k], b.high[k]);
        }
    }
    bool meets(const FloatBox& b) const {
        return low[0] <= b.high[0] && b.low[0] <= high[0] && low[1] <= b.high[1] && b.low[1] <= high[1] &&
               low[2] <= b.high[2] && b.low[2] <= high[2];
    }
    Box widened() const { return {{low[0], low[1], low[2]}, {high[0], high[1], high[2]}}; }
    double distance2(const Vec3& p) const {
        double sum = 0;
        for (int k = 0; k < 3; ++k) {
            const double d = std::max({double{low[k]} - p[k], 0.0, p[k] - double{high[k]}});
            sum += d * d;
        }
        return sum;
    }

    double distance2(const FloatBox& b) const {
        double sum = 0;
        for (int k = 0; k < 3; ++k) {
            const double d = std::max({double{low[k]} - b.high[k], 0.0, double{b.low[k]} - high[k]});
            sum += d * d;
        }
        return sum;
    }

  private:
    /// The largest float that is not above v.
    static float at_most(double v) {
        constexpr float largest = std::numeric_limits<float>::max();
        if (v >= double{largest}) return v == HUGE_VAL ? HUGE_VALF : largest;
        if (v < -double{largest}) return -HUGE_VALF;
        const auto f = static_cast<float>(v);
        return double{f} <= v ? f : std::nextafter(f, -HUGE_VALF);
    }
};

/// A hierarchy of axis-aligned boxes over numbered items, split at the middle item of the longest axis, kept in single
/// precision: it finds all items whose boxes meet, and now and then one whose box only nearly does.
/// Built in parallel; the same boxes give the same tree, whatever the number of threads.
class BoxTree {
  public:
    BoxTree() = default;
    explicit BoxTree(std::span<const Box> boxes);

    bool empty() const { return nodes_.empty(); }

    /// Calls visit(item) for every item whose box and the nodes above it `enter(box)` lets through.
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
                const Leaf& leaf = leaves_[node.first];
                for (std::uint32_t i = 0; i < node.count; ++i)
                    if (enter(leaf.box(i))) visit(leaf.item[i]);
            } else {
                stack[top++] = node.first;
                stack[top++] = node.first + 1;
            }
        }
    }
    /// Items whose boxes meet the given one (closed), and maybe some whose boxes nearly do.
    template <class Visit>
    void overlapping(const Box& box, const Visit& visit) const {
        const FloatBox query(box);
        descend([&](const FloatBox& b) { return b.meets(query); }, visit);
    }

    /// The smallest distance2(item) over all items, or `within2` where all are farther. `to_box(box)` is never more
    /// than distance2 of any item within that box.
    template <class ToBox, class Distance2>
    double nearest2(const ToBox& to_box, double within2, const Distance2& distance2) const {
        if (nodes_.empty()) return within2;
        struct Entry {
            double d2;
            std::uint32_t node;
        };
        Entry stack[128];
        int top = 0;
        stack[top++] = {to_box(nodes_[0].box), 0};
        while (top > 0) {
            const Entry entry = stack[--top];
            if (entry.d2 >= within2) continue;
            const Node& node = nodes_[entry.node];
            if (node.count > 0) {
                const Leaf& leaf = leaves_[node.first];
                for (std::uint32_t i = 0; i < node.count; ++i)
                    if (to_box(leaf.box(i)) < within2) within2 = std::min(within2, distance2(leaf.item[i]));
                continue;
            }
            Entry near{to_box(nodes_[node.first].box), node.first};
            Entry far{to_box(nodes_[node.first + 1].box), node.first + 1};
            if (far.d2 < near.d2) std::swap(near, far);
            stack[top++] = far;
            stack[top++] = near;
        }
        return within2;
    }

    /// Calls visit(task, i, j), i < j, once for every pair of items whose boxes meet (and maybe nearly meet). Tasks run
    /// in parallel, and within a task calls come in a fixed order; `begin(tasks)` is called first with their number.
    /// Returns false where it was stopped.
    bool self_pairs(const std::function<void(std::size_t tasks)>& begin,
                    const std::function<void(std::size_t task, std::uint32_t i, std::uint32_t j)>& visit,
                    Progress* progress = nullptr) const;

  private:
    struct Node {
        FloatBox box;
        std::uint32_t first = 0;  // the leaf, or the left child; the right one follows it
        std::uint32_t count = 0;  // items of a leaf; 0 for an inner node
    };
    static_assert(sizeof(Node) == 32);
    static constexpr std::uint32_t leaf_size = 4;
    /// Boxes side by side, so that one can be tested against all of a leaf at once; unused places are empty boxes.
    struct Leaf {
        using Four = float __attribute__((vector_size(16)));
        Four low[3], high[3];
        std::uint32_t item[leaf_size];

        FloatBox box(std::uint32_t i) const {
            FloatBox b;
            for (int k = 0; k < 3; ++k) b.low[k] = low[k][i], b.high[k] = high[k][i];
            return b;
        }
    };
    static std::pair<std::uint32_t, std::uint32_t> node_counts(std::uint32_t n);
    std::vector<Node> nodes_;
    std::vector<Leaf> leaves_;
};

/// The boxes of all faces.
std::vector<Box> face_boxes(std::span<const Vec3> points, std::span<const Triangle> faces);

}  // namespace anvil
