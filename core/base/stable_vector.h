#pragma once

#include <cstddef>
#include <memory>
#include <vector>

namespace anvil {

/// A list whose elements stay in place while it grows, in blocks of one size. Those of a std::deque hold a few elements
/// each, and a million elements are long in giving them back.
template <class T>
class StableVector {
  public:
    std::size_t size() const { return size_; }
    T& operator[](std::size_t i) { return blocks_[i / block][i % block]; }
    const T& operator[](std::size_t i) const { return blocks_[i / block][i % block]; }
    /// Adds so many.
    void grow(std::size_t count) {
        size_ += count;
        while (blocks_.size() * block < size_) blocks_.push_back(std::make_unique<T[]>(block));
    }

  private:
    static constexpr std::size_t block = 256;
    std::vector<std::unique_ptr<T[]>> blocks_;
    std::size_t size_ = 0;
};

}  // namespace anvil
