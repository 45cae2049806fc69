#pragma once

#include <compare>
#include <cstddef>
#include <cstdint>
#include <vector>

namespace anvil {

/// An index that only fits the array it was made for: VertexId cannot be passed where FaceId is meant, and
/// neither becomes an integer without saying so. Four bytes.
template <class Tag>
class Index {
  public:
    using Value = std::uint32_t;
    constexpr Index() = default;
    constexpr explicit Index(std::size_t value) : value_(static_cast<Value>(value)) {}
    constexpr Value value() const { return value_; }
    constexpr bool valid() const { return value_ != none; }
    constexpr auto operator<=>(const Index&) const = default;
    Index& operator++() {
        ++value_;
        return *this;
    }

  private:
    static constexpr Value none = 0xffffffffu;
    Value value_ = none;
};

using VertexId = Index<struct VertexTag>;
using FaceId = Index<struct FaceTag>;

/// A vector that is indexed by one index type only.
template <class Id, class T>
class IdVector {
  public:
    IdVector() = default;
    explicit IdVector(std::size_t n, const T& value = T()) : data_(n, value) {}

    T& operator[](Id id) { return data_[id.value()]; }
    const T& operator[](Id id) const { return data_[id.value()]; }
    std::size_t size() const { return data_.size(); }
    bool empty() const { return data_.empty(); }
    void reserve(std::size_t n) { data_.reserve(n); }
    void resize(std::size_t n, const T& value = T()) { data_.resize(n, value); }
    void clear() { data_.clear(); }
    Id push_back(T value) {
        data_.push_back(std::move(value));
        return Id(data_.size() - 1);
    }
    auto begin() { return data_.begin(); }
    auto end() { return data_.end(); }
    auto begin() const { return data_.begin(); }
    auto end() const { return data_.end(); }
    /// The plain array below, for bulk reading and writing.
    std::vector<T>& raw() { return data_; }
    const std::vector<T>& raw() const { return data_; }
    bool operator==(const IdVector&) const = default;

  private:
    std::vector<T> data_;
};

/// `for (auto f : ids<FaceId>(n))`
template <class Id>
class IdRange {
  public:
    explicit IdRange(std::size_t n) : n_(n) {}
    struct Iterator {
        Id id;
        Id operator*() const { return id; }
        Iterator& operator++() {
            ++id;
            return *this;
        }
        bool operator!=(const Iterator& o) const { return id != o.id; }
    };
    Iterator begin() const { return {Id(0)}; }
    Iterator end() const { return {Id(n_)}; }

  private:
    std::size_t n_;
};
template <class Id>
IdRange<Id> ids(std::size_t n) {
    return IdRange<Id>(n);
}

}  // namespace anvil
