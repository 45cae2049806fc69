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
