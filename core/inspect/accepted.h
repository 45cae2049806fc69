#pragma once

#include <span>
#include <vector>

#include "core/inspect/inspect.h"

namespace anvil {

/// A finding that was looked at and may stay. It is known again by its kind and its place, to the last digit: one that
/// moved is told anew.
struct AcceptedFinding {
    FindingKind kind{};
    Vec3 place;
    bool operator==(const AcceptedFinding&) const = default;
};
struct ByKindAndPlace {
    bool operator()(const AcceptedFinding& a, const AcceptedFinding& b) const {
        return a.kind != b.kind ? a.kind < b.kind : ByCoordinates{}(a.place, b.place);
    }
};

/// What is accepted with findings: themselves, and what only says the same in other words. With a hole these are its
/// open edges, with an open edge nothing more; a face back to back is a duplicate, too.
std::vector<AcceptedFinding> accepted_with(const Inspection& inspection, std::span<const Finding* const> findings);

/// Which findings of an inspection are accepted.
class Acceptance {
  public:
    Acceptance() = default;
    Acceptance(const Inspection& inspection, std::span<const AcceptedFinding> accepted);

    bool holds(const Finding& finding) const;
    std::size_t count(FindingKind kind) const { return counts_[static_cast<std::size_t>(kind)]; }
    std::size_t count() const;
    /// Whether every fault of the inspection is accepted.
    bool holds_all_faults() const { return all_faults_; }

  private:
    std::vector<AcceptedFinding> accepted_;  // sorted
    std::array<std::size_t, finding_kinds> counts_{};
    bool all_faults_ = true;
};

}  // namespace anvil
