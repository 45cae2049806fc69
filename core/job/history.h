#pragma once

#include "core/job/model.h"

namespace anvil {

/// Undo and redo by keeping whole jobs: cheap, since they share what they have in common.
class History {
  public:
    explicit History(Job job = {}) : current_(std::move(job)) {}

    const Job& job() const { return current_; }
    /// Makes `next` the present job. `name` is what the menu says: "move bore". Changes of the same non-empty `merge`
    /// key in a row become one, as while dragging.
    void change(Job next, std::string name, std::string merge = {});
    /// Ends a row of merging changes: the next one starts a new entry.
    void end_merge() { merge_.clear(); }
    /// Takes a row of changes of that merge key back that has not ended; it cannot be redone. Whether there was one.
    bool take_back_merge(const std::string& merge);

    bool can_undo() const { return !undo_.empty(); }
    bool can_redo() const { return !redo_.empty(); }
    std::string undo_name() const { return undo_.empty() ? "" : undo_.back().name; }
    std::string redo_name() const { return redo_.empty() ? "" : redo_.back().name; }
    void undo();
    void redo();

    /// Whether anything changed since `mark_saved`.
    bool is_changed() const { return saved_ != serial_; }
    void mark_saved() { saved_ = serial_; }

  private:
    struct Entry {
        std::string name;
        Job job;
        std::size_t serial;
    };
    Job current_;
    std::vector<Entry> undo_, redo_;
    std::string merge_;
    std::size_t serial_ = 0, saved_ = 0, last_serial_ = 0;
};

}  // namespace anvil
