#pragma once

#include <boost/container/small_vector.hpp>
#include <span>

namespace anvil {

/// A list that mostly has few elements: up to so many ask for no memory.
template <class T, std::size_t few = 16>
using Few = boost::container::small_vector<T, few>;

template <class T>
std::span<T> span_of(boost::container::small_vector_base<T>& list) {
    return {list.data(), list.size()};
}
template <class T>
std::span<const T> span_of(const boost::container::small_vector_base<T>& list) {
    return {list.data(), list.size()};
}

}  // namespace anvil
