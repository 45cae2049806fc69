#pragma once

#include <compare>
#include <cstdint>
#include <memory>
#include <span>
#include <string>
#include <string_view>
#include <type_traits>
#include <unordered_map>

#include "core/mesh/mesh.h"

namespace anvil {

/// What a result was made of, in 128 bits: the same content has the same key. Two contents share one by chance once in
/// 2^64 of them.
struct ContentKey {
    std::uint64_t high = 0, low = 0;
    auto operator<=>(const ContentKey&) const = default;
};

/// Adds up what a result is made of. Every text and list is added with its length, so that none runs into the next.
class KeyMaker {
  public:
    /// `what`: the kind of result, with a number that goes up whenever it is worked out otherwise.
    explicit KeyMaker(std::string_view what) { add(what); }
    KeyMaker& add(std::string_view text);
    KeyMaker& add(const ContentKey& key) { return add_raw(&key, sizeof key); }
    KeyMaker& add(double v) { return add_raw(&v, sizeof v); }
    KeyMaker& add(const Vec3& p) { return add(p.x).add(p.y).add(p.z); }
    KeyMaker& add(const Mesh& mesh);
    template <class Number>
    requires(std::is_enum_v<Number> || std::is_integral_v<Number>) KeyMaker& add(Number n) {
        const auto wide = static_cast<std::int64_t>(n);
        return add_raw(&wide, sizeof wide);
    }
    template <class T>
    KeyMaker& add_list(const std::vector<T>& list) {
        add(list.size());
        for (const T& element : list) add(element);
        return *this;
    }
    ContentKey key() const;

  private:
    KeyMaker& add_raw(const void* bytes, std::size_t count);
    std::string bytes_;
};

/// Keys of meshes that nobody changes any more, each worked out once. Not thread-safe.
class MeshKeys {
  public:
    ContentKey of(const std::shared_ptr<const Mesh>& mesh);

  private:
    struct Known {
        std::weak_ptr<const Mesh> mesh;
        ContentKey key;
    };
    std::unordered_map<const Mesh*, Known> known_;
};

}  // namespace anvil
