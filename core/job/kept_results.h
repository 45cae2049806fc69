#pragma once

#include <cstddef>
#include <list>
#include <map>
#include <memory>

#include "core/job/content_key.h"

namespace anvil {

/// Results of every kind by the keys of what they were made of, up to a budget of bytes: what was used least goes
/// first, what is used in the present round never does. Not thread-safe.
class KeptResults {
  public:
    /// Null where it is not kept. `T` is the type that it was kept as: keys tell kinds of results apart.
    template <class T>
    std::shared_ptr<const T> find(const ContentKey& key) {
        return std::static_pointer_cast<const T>(find_any(key));
    }
    /// `bytes`: about what it takes.
    template <class T>
    std::shared_ptr<const T> keep(const ContentKey& key, std::shared_ptr<const T> result, std::size_t bytes) {
        keep_any(key, result, bytes);
        return result;
    }
    void begin_round() { ++round_; }
    void forget();
    std::size_t bytes() const { return bytes_; }
    std::size_t budget() const { return budget_; }
    void set_budget(std::size_t bytes);

  private:
    struct Kept {
        ContentKey key;
        std::shared_ptr<const void> result;
        std::size_t bytes = 0;
        std::uint64_t round = 0;  // in which it was used last
    };
    std::shared_ptr<const void> find_any(const ContentKey& key);
    void keep_any(const ContentKey& key, std::shared_ptr<const void> result, std::size_t bytes);
    void drop_over_budget();

    std::list<Kept> kept_;  // what was used last comes first
    std::map<ContentKey, std::list<Kept>::iterator> place_;
    std::size_t bytes_ = 0, budget_ = std::size_t{512} << 20;
    std::uint64_t round_ = 0;
};

}  // namespace anvil
