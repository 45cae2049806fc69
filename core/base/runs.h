#pragma once

#include <cstddef>
#include <span>

namespace anvil {

/// Calls visit(run) for every run of elements that are the same by `same(a, b)`, in a list where those stand side by
/// side.
template <class T, class Same, class Visit>
void for_each_run(std::span<T> list, const Same& same, const Visit& visit) {
    for (std::size_t from = 0; from < list.size();) {
        std::size_t to = from + 1;
        while (to < list.size() && same(list[from], list[to])) ++to;
        visit(list.subspan(from, to - from));
        from = to;
    }
}

/// For uses of edges, each with its lower and its higher point.
inline constexpr auto same_edge = [](const auto& a, const auto& b) { return a.low == b.low && a.high == b.high; };

}  // namespace anvil
