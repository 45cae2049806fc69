#include "core/job/history.h"

namespace anvil {

void History::change(Job next, std::string name, std::string merge) {
    const bool merges = !merge.empty() && merge == merge_ && !undo_.empty();
    if (!merges) undo_.push_back({std::move(name), std::move(current_), serial_});
    current_ = std::move(next);
    serial_ = ++last_serial_;
    redo_.clear();
    merge_ = std::move(merge);
}

bool History::take_back_merge(const std::string& merge) {
    if (merge_ != merge || undo_.empty()) return false;
    current_ = std::move(undo_.back().job);
    serial_ = undo_.back().serial;
    undo_.pop_back();
    merge_.clear();
    return true;
}

void History::undo() {
    if (undo_.empty()) return;
    Entry entry = std::move(undo_.back());
    undo_.pop_back();
    redo_.push_back({entry.name, std::move(current_), serial_});
    current_ = std::move(entry.job);
    serial_ = entry.serial;
    merge_.clear();
}

void History::redo() {
    if (redo_.empty()) return;
    Entry entry = std::move(redo_.back());
    redo_.pop_back();
    undo_.push_back({entry.name, std::move(current_), serial_});
    current_ = std::move(entry.job);
    serial_ = entry.serial;
    merge_.clear();
}

}  // namespace anvil
