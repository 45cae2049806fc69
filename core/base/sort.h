#pragma once

#include <algorithm>
#include <array>
#include <bit>
#include <cstdint>
#include <vector>

namespace anvil {

/// Sorts stably by the bits [from, to) of key(element), an unsigned number, in passes of at most 11 bits.
template <class T, class Key>
void sort_by_bits(std::vector<T>& list, const Key& key, int from, int to) {
    const int passes = (to - from + 10) / 11;
    if (list.size() < 2 || passes == 0) return;
    const int width = (to - from + passes - 1) / passes;
    const auto mask = (std::uint32_t{1} << width) - 1;
    std::vector<T> other(list.size());
    std::vector<std::uint32_t> start;
    for (int shift = from; shift < to; shift += width) {
        auto digit = [&](const T& t) { return static_cast<std::uint32_t>(key(t) >> shift) & mask; };
        start.assign(std::size_t{mask} + 2, 0);
        for (const T& t : list) ++start[digit(t) + 1];
        for (std::size_t d = 0; d < mask; ++d) start[d + 1] += start[d];
        for (const T& t : list) other[start[digit(t)]++] = t;
        list.swap(other);
    }
}

/// Sorts by number(element), an unsigned 32-bit number, and elements with the same number by `less`. In linear time
/// where few have the same number.
template <class T, class Number, class Less>
void sort_by_number(std::vector<T>& list, const Number& number, const Less& less) {
    if (list.size() < 64) {
        std::sort(list.begin(), list.end(),
                  [&](const T& a, const T& b) { return number(a) != number(b) ? number(a) < number(b) : less(a, b); });
        return;
    }
    std::uint32_t low = number(list.front()), high = low;
    for (const T& t : list) low = std::min(low, number(t)), high = std::max(high, number(t));
    sort_by_bits(
        list, [&](const T& t) { return number(t) - low; }, 0, std::bit_width(high - low));
    for (auto first = list.begin(); first != list.end();) {
        auto last = first + 1;
        while (last != list.end() && number(*last) == number(*first)) ++last;
        if (last - first > 1) std::sort(first, last, less);
        first = last;
    }
}

/// So many elements, sorted like that. `for_each(visit, last)` calls visit(element) for each, every time in the same
/// order; it is called up to three times, so that no list to sort from has to be made. `last`: it will not be again.
template <class T, class ForEach, class Number, class Less>
std::vector<T> sorted_by_number(std::size_t count, const ForEach& for_each, const Number& number, const Less& less) {
    std::uint32_t low = 0xffffffffu, high = 0;
    for_each([&](const T& t) { low = std::min(low, number(t)), high = std::max(high, number(t)); }, false);
    std::vector<T> out;
    if (count < 64 || (high - low) / 8 > count) {
        out.reserve(count);
        for_each([&](const T& t) { out.push_back(t); }, true);
        sort_by_number(out, number, less);
        return out;
    }
    std::vector<std::size_t> end(std::size_t{high - low} + 2, 0);
    for_each([&](const T& t) { ++end[number(t) - low + 1]; }, false);
    for (std::size_t n = 1; n < end.size(); ++n) end[n] += end[n - 1];
    out.resize(count);
    for_each([&](const T& t) { out[end[number(t) - low]++] = t; }, true);
    for (std::size_t n = 0, from = 0; n + 1 < end.size(); from = end[n++])
        if (end[n] - from > 1)
            std::sort(out.begin() + static_cast<std::ptrdiff_t>(from),
                      out.begin() + static_cast<std::ptrdiff_t>(end[n]), less);
    return out;
}

/// All elements of some lists, sorted like that. The lists are used up, each as soon as it is copied, so that there is
/// never room for more than twice of all.
template <class T, class Number, class Less>
std::vector<T> merged_by_number(std::vector<std::vector<T>> lists, const Number& number, const Less& less) {
    std::size_t count = 0;
    for (const auto& list : lists) count += list.size();
    auto for_each = [&](const auto& visit, bool last) {
        for (auto& list : lists) {
            for (const T& t : list) visit(t);
            if (last) list = {};
        }
    };
    return sorted_by_number<T>(count, for_each, number, less);
}

}  // namespace anvil
