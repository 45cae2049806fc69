#include "core/job/kept_results.h"

namespace anvil {

std::shared_ptr<const void> KeptResults::find_any(const ContentKey& key) {
    const auto at = place_.find(key);
    if (at == place_.end()) return nullptr;
    at->second->round = round_;
    kept_.splice(kept_.begin(), kept_, at->second);
    return at->second->result;
}

void KeptResults::keep_any(const ContentKey& key, std::shared_ptr<const void> result, std::size_t bytes) {
    if (const auto at = place_.find(key); at != place_.end()) {
        bytes_ -= at->second->bytes;
        kept_.erase(at->second);
    }
    kept_.push_front({key, std::move(result), bytes, round_});
    place_[key] = kept_.begin();
    bytes_ += bytes;
    drop_over_budget();
}

void KeptResults::forget() {
    kept_.clear();
    place_.clear();
    bytes_ = 0;
}

void KeptResults::set_budget(std::size_t bytes) {
    budget_ = bytes;
    drop_over_budget();
}

void KeptResults::drop_over_budget() {
    while (bytes_ > budget_ && kept_.back().round != round_) {
        bytes_ -= kept_.back().bytes;
        place_.erase(kept_.back().key);
        kept_.pop_back();
    }
}

}  // namespace anvil
