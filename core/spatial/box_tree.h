#pragma once

#include <tbb/parallel_for.h>

#include <algorithm>
#include <array>
#include <atomic>
#include <bit>
#include <cmath>
#include <cstdint>
#include <limits>
#include <span>
#include <type_traits>
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
    FloatBox(const float (&l)[3], const float (&h)[3]) {
        std::copy(l, l + 3, low);
        std::copy(h, h + 3, high);
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
    float size2() const {
        float sum = 0;
        for (int k = 0; k < 3; ++k) sum += (high[k] - low[k]) * (high[k] - low[k]);
        return sum;
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
    /// A float that is not above v, and at most three places below it.
    static float at_most(double v) {
        const float f = std::min(static_cast<float>(v), std::numeric_limits<float>::max());
        return f - std::fabs(f) * 0x1p-23f - std::numeric_limits<float>::denorm_min();
    }
};

/// A hierarchy of axis-aligned boxes over numbered items, kept in single precision: it finds all items whose boxes
/// meet, and now and then one whose box only nearly does.
/// Built in parallel; the same boxes give the same tree, whatever the number of threads.
///
/// Based on: C. Lauterbach et al., "Fast BVH Construction on GPUs" (2009): items sorted along a space-filling curve and
/// split where its bits change. We depart from it near the leaves, which are filled evenly.
class BoxTree {
  public:
    BoxTree() = default;
    explicit BoxTree(std::span<const Box> boxes);
    /// Over the boxes of all faces.
    BoxTree(std::span<const Vec3> points, std::span<const Triangle> faces);
    /// The same for faces that are to be renumbered along the tree's space-filling curve, so that neighbours in space
    /// become neighbours in memory: `order` is filled with the old number of each face, the tree has the new ones. Of
    /// no use where it was stopped.
    BoxTree(std::span<const Vec3> points, std::span<const Triangle> faces, std::vector<std::uint32_t>& order,
            const Progress& progress);

    /// How many items lie side by side in a leaf, at most.
    static constexpr std::uint32_t leaf_size = 4;
    using FourTruths = std::int32_t __attribute__((vector_size(16)));
    /// A bit for each place that is all ones.
    static unsigned bits_of(const FourTruths& t) {
#ifdef __SSE__
        return static_cast<unsigned>(__builtin_ia32_movmskps(std::bit_cast<Four>(t)));
#else
        return (t[0] & 1u) | (t[1] & 2u) | (t[2] & 4u) | (t[3] & 8u);
#endif
    }

    bool empty() const { return nodes_.empty(); }
    std::uint32_t leaf_count() const { return static_cast<std::uint32_t>(leaves_.size()); }
    /// An item of a leaf; places that a leaf has no item for say 0.
    std::uint32_t item(std::uint32_t leaf, std::uint32_t place) const { return leaves_[leaf].item[place]; }
    /// Around everything; empty for an empty tree.
    FloatBox bounds() const { return empty() ? FloatBox{} : nodes_[0].box(); }

    /// Calls visit(item) for every item whose box and the nodes above it `enter(box)` lets through.
    template <class Enter, class Visit>
    void descend(const Enter& enter, const Visit& visit) const {
        if (nodes_.empty()) return;
        std::uint32_t stack[128];
        int top = 0;
        stack[top++] = 0;
        while (top > 0) {
            const Node& node = nodes_[stack[--top]];
            if (!enter(node.box())) continue;
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
        stack[top++] = {to_box(nodes_[0].box()), 0};
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
            Entry near{to_box(nodes_[node.first].box()), node.first};
            Entry far{to_box(nodes_[node.first + 1].box()), node.first + 1};
            if (far.d2 < near.d2) std::swap(near, far);
            stack[top++] = far;
            stack[top++] = near;
        }
        return within2;
    }

    /// Calls visit(task, i, j), i < j, once for every pair of items whose boxes meet (and maybe nearly meet). Tasks run
    /// in parallel, and within a task calls come in a fixed order; `begin(tasks)` is called first with their number.
    /// Returns false where it was stopped. `drop(a, b, pairs)`: which of these pairs of items of the leaves a and b
    /// are not wanted, that of their places i and j as bit 4 i + j; others may be among them.
    template <class Begin, class Visit, class Drop>
    bool self_pairs(const Begin& begin, const Visit& visit, Progress* progress, const Drop& drop) const {
        return each_pair<true>(*this, begin, visit, progress, drop);
    }
    template <class Begin, class Visit>
    bool self_pairs(const Begin& begin, const Visit& visit, Progress* progress = nullptr) const {
        return self_pairs(begin, visit, progress, nothing_dropped);
    }
    /// The same for every pair of an item i of this tree and an item j of the other one. `marks`: what `holding` gave
    /// of this tree; pairs without an item that it was asked for are not looked for. `beside(of_other, item, box)`:
    /// whether an item of this tree, or of the other one, certainly meets nothing within a box that is much smaller
    /// than its own; such pairs are not looked for. A large slanted face has a box in which most of it is not.
    template <class Begin, class Visit, class Beside>
    bool pairs(const BoxTree& other, const Begin& begin, const Visit& visit, Progress* progress,
               std::span<const char> marks, const Beside& beside) const {
        return each_pair<false>(other, begin, visit, progress, nothing_dropped, marks, beside);
    }
    template <class Begin, class Visit>
    bool pairs(const BoxTree& other, const Begin& begin, const Visit& visit, Progress* progress = nullptr,
               std::span<const char> marks = {}) const {
        return each_pair<false>(other, begin, visit, progress, nothing_dropped, marks);
    }
    /// Marks the parts of the tree that hold any item for which wanted(item). In linear time.
    template <class Wanted>
    std::vector<char> holding(const Wanted& wanted) const {
        std::vector<char> out(nodes_.size(), 0);
        for (std::size_t i = nodes_.size(); i-- > 0;) {  // children come after their parents
            const Node& node = nodes_[i];
            if (node.count == 0) out[i] = out[node.first] | out[node.first + 1];
            for (std::uint32_t k = 0; k < node.count && !out[i]; ++k) out[i] = wanted(leaves_[node.first].item[k]);
        }
        return out;
    }

  private:
    using Four = float __attribute__((vector_size(16)));
    /// Each half is read as four floats at once, hence the order.
    struct alignas(16) Node {
        float low[3] = {HUGE_VALF, HUGE_VALF, HUGE_VALF};
        std::uint32_t first = 0;  // the leaf, or the left child; the right one follows it
        float high[3] = {-HUGE_VALF, -HUGE_VALF, -HUGE_VALF};
        std::uint32_t count = 0;  // items of a leaf; 0 for an inner node

        FloatBox box() const { return {low, high}; }
        void add(const FloatBox& b) {
            FloatBox both = box();
            both.add(b);
            std::copy(both.low, both.low + 3, low);
            std::copy(both.high, both.high + 3, high);
        }
        bool meets(const Node& o) const {
            const auto a = std::bit_cast<std::array<Four, 2>>(*this), b = std::bit_cast<std::array<Four, 2>>(o);
            return (bits_of((a[0] <= b[1]) & (b[0] <= a[1])) & 7) == 7;
        }
    };
    static_assert(sizeof(Node) == 32);
    /// Boxes side by side, so that one can be tested against all of a leaf at once; unused places are empty boxes.
    struct Leaf {
        Four low[3], high[3];
        std::uint32_t item[leaf_size];

        FloatBox box(std::uint32_t i) const {
            FloatBox b;
            for (int k = 0; k < 3; ++k) b.low[k] = low[k][i], b.high[k] = high[k][i];
            return b;
        }
    };
    using NodePair = std::pair<std::uint32_t, std::uint32_t>;
    static unsigned nothing_dropped(std::uint32_t, std::uint32_t, unsigned) { return 0; }
    static bool none_beside(bool, std::uint32_t, const FloatBox&) { return false; }
    void build(std::vector<FloatBox> boxes, std::vector<std::uint32_t>* new_order, const Progress* progress = nullptr);
    /// Pairs of nodes that together lead to all pairs of items; in an order that does not depend on the threads.
    std::vector<NodePair> pair_tasks(const BoxTree& other, bool same) const;

    /// One step of the dual descent: a node with itself opens into three pairs, two inner nodes of one tree into four;
    /// of other nodes the larger one opens.
    template <class Push>
    void open_pair(const BoxTree& other, bool same, const NodePair& p, const Push& push) const {
        const auto [a, b] = p;
        const Node &na = nodes_[a], &nb = other.nodes_[b];
        if (same && a == b) {
            push(NodePair{na.first, na.first});
            push(NodePair{na.first + 1, na.first + 1});
            push(NodePair{na.first, na.first + 1});
        } else if (same && na.count == 0 && nb.count == 0) {
            for (std::uint32_t i = 0; i < 4; ++i) push(NodePair{na.first + i / 2, nb.first + i % 2});
        } else if (nb.count > 0 || (na.count == 0 && na.box().size2() >= nb.box().size2())) {
            push(NodePair{na.first, b});
            push(NodePair{na.first + 1, b});
        } else {
            push(NodePair{a, nb.first});
            push(NodePair{a, nb.first + 1});
        }
    }
    /// Whether this is a leaf that is much larger than a node of the other tree, and beside(item) holds for all of it.
    template <class Beside>
    bool large_and_beside(const Node& leaf, const Node& node, const Beside& beside) const {
        if (leaf.count == 0 || leaf.box().size2() < 16 * node.box().size2()) return false;
        for (std::uint32_t i = 0; i < leaf.count; ++i)
            if (!beside(leaves_[leaf.first].item[i])) return false;
        return true;
    }
    /// `same`: each pair of items of one tree once; else all pairs of two trees, which may be the same object.
    template <bool same, class Begin, class Visit, class Drop, class Beside = decltype(none_beside)>
    bool each_pair(const BoxTree& other, const Begin& begin, const Visit& visit, Progress* progress, const Drop& drop,
                   std::span<const char> marks = {}, const Beside& beside = none_beside) const {
        auto may_meet = [&](const NodePair& p) {
            if (!marks.empty() && !marks[p.first]) return false;
            const Node &a = nodes_[p.first], &b = other.nodes_[p.second];
            if (!a.meets(b)) return false;
            if constexpr (!std::is_same_v<Beside, decltype(none_beside)>) {
                if (other.large_and_beside(b, a, [&](std::uint32_t j) { return beside(true, j, a.box()); }))
                    return false;
                if (large_and_beside(a, b, [&](std::uint32_t i) { return beside(false, i, b.box()); })) return false;
            }
            return true;
        };
        const std::vector<NodePair> tasks = pair_tasks(other, same);
        begin(tasks.size());
        std::atomic<std::size_t> done{0};
        tbb::parallel_for(std::size_t{0}, tasks.size(), [&](std::size_t task) {
            NodePair stack[512];  // three more for each level at most
            stack[0] = tasks[task];
            std::size_t top = may_meet(tasks[task]);
            std::uint64_t steps = 0;
            while (top > 0) {
                const NodePair p = stack[--top];
                if ((++steps & 255) == 0 && progress && progress->cancelled()) return;
                const Node &a = nodes_[p.first], &b = other.nodes_[p.second];
                if (a.count == 0 || b.count == 0) {
                    open_pair(other, same, p, [&](const NodePair& q) {
                        stack[top] = q;  // no branch, which would be mispredicted half of the time
                        top += may_meet(q);
                    });
                    continue;
                }
                const Leaf &la = leaves_[a.first], &lb = other.leaves_[b.first];
                // A bit for each of the sixteen pairs; empty boxes meet nothing.
                unsigned bits = 0;
                for (std::uint32_t i = 0; i < leaf_size; ++i) {
                    const FourTruths met = (lb.low[0] <= la.high[0][i]) & (lb.high[0] >= la.low[0][i]) &
                                           (lb.low[1] <= la.high[1][i]) & (lb.high[1] >= la.low[1][i]) &
                                           (lb.low[2] <= la.high[2][i]) & (lb.high[2] >= la.low[2][i]);
                    bits |= bits_of(met) << (leaf_size * i);
                }
                if (same && p.first == p.second) bits &= 0b0000'1000'1100'1110;
                if (bits != 0) bits &= ~drop(a.first, b.first, bits);
                for (; bits != 0; bits &= bits - 1) {
                    const int bit = std::countr_zero(bits);
                    const std::uint32_t x = la.item[bit / 4], y = lb.item[bit % 4];
                    if (same)
                        visit(task, std::min(x, y), std::max(x, y));
                    else
                        visit(task, x, y);
                }
            }
            if (progress) progress->part(static_cast<double>(++done) / static_cast<double>(tasks.size()));
        });
        return !(progress && progress->cancelled());
    }

    std::vector<Node> nodes_;
    std::vector<Leaf> leaves_;
};

}  // namespace anvil
