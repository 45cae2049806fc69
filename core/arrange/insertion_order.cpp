// Based on: N. Amenta, S. Choi, G. Rote, "Incremental Constructions con BRIO" (2003); J. Shewchuk, B. Brown, "Fast
// Segment Insertion and Incremental Construction of Constrained Delaunay Triangulations" (2015).
#include "core/arrange/insertion_order.h"

#include <algorithm>
#include <numeric>

namespace anvil {
namespace {

constexpr std::size_t smallest_round = 32;

std::uint32_t scattered(std::uint32_t id) {  // the finalizer of MurmurHash3: A. Appleby, public domain
    id = (id ^ (id >> 16)) * 0x85ebca6bu;
    id = (id ^ (id >> 13)) * 0xc2b2ae35u;
    return id ^ (id >> 16);
}

/// Halves points across an axis; the lower half comes first where it goes up.
std::size_t halve(std::span<PlanePoint> points, bool across_u, bool up) {
    const std::size_t half = points.size() / 2;
    std::nth_element(points.begin(), points.begin() + static_cast<std::ptrdiff_t>(half), points.end(),
                     [&](const PlanePoint& a, const PlanePoint& b) {
                         const double x = across_u ? a.u : a.v, y = across_u ? b.u : b.v;
                         if (x != y) return up ? x < y : x > y;
                         return a.id < b.id;
                     });
    return half;
}

void along_hilbert_curve(std::span<PlanePoint> points, bool across_u, bool up_first, bool up_second) {
    if (points.size() < 2) return;
    const std::size_t half = halve(points, across_u, up_first);
    const auto near = points.first(half), far = points.subspan(half);
    const std::size_t a = halve(near, !across_u, up_second), b = halve(far, !across_u, !up_second);
    along_hilbert_curve(near.first(a), !across_u, up_second, up_first);
    along_hilbert_curve(near.subspan(a), across_u, up_first, up_second);
    along_hilbert_curve(far.first(b), across_u, up_first, up_second);
    along_hilbert_curve(far.subspan(b), !across_u, !up_second, !up_first);
}

}  // namespace

Few<std::size_t> put_in_insertion_order(std::span<PlanePoint> points) {
    std::ranges::sort(points, {}, [](const PlanePoint& p) { return std::pair(scattered(p.id), p.id); });
    Few<std::size_t> ends;
    for (std::size_t end = points.size(); end > 0; end = end > smallest_round ? end / 3 : 0) ends.push_back(end);
    std::ranges::reverse(ends);
    std::size_t begin = 0;
    for (const std::size_t end : ends) {
        along_hilbert_curve(points.subspan(begin, end - begin), true, true, true);
        begin = end;
    }
    return ends;
}

Few<std::uint32_t> by_chance(std::size_t count) {
    Few<std::uint32_t> order(count);
    std::iota(order.begin(), order.end(), 0u);
    std::ranges::sort(order, {}, [](std::uint32_t i) { return std::pair(scattered(i), i); });
    return order;
}

}  // namespace anvil
