#include "core/inspect/accepted.h"

#include <algorithm>
#include <set>

namespace anvil {
namespace {

/// The edges round a rim, each as its two points, the lower number first.
std::set<std::pair<VertexId, VertexId>> edges_round(std::span<const VertexId> rim) {
    std::set<std::pair<VertexId, VertexId>> edges;
    for (std::size_t k = 0; k < rim.size(); ++k) edges.insert(std::minmax(rim[k], rim[(k + 1) % rim.size()]));
    return edges;
}

}  // namespace

std::vector<AcceptedFinding> accepted_with(const Inspection& inspection, const Finding& finding) {
    std::vector<AcceptedFinding> out{{finding.kind, finding.place}};
    if (finding.kind == FindingKind::holes) {
        const auto rim = edges_round(finding.vertices);
        for (const Finding& f : inspection.findings)
            if (f.kind == FindingKind::open_edges && rim.contains(std::minmax(f.vertices[0], f.vertices[1])))
                out.push_back({f.kind, f.place});
    }
    if (finding.kind == FindingKind::doubled_faces)
        for (const Finding& f : inspection.findings)
            if (f.kind == FindingKind::duplicate_faces && f.faces == finding.faces) out.push_back({f.kind, f.place});
    return out;
}

Acceptance::Acceptance(const Inspection& inspection, std::span<const AcceptedFinding> accepted)
    : accepted_(accepted.begin(), accepted.end()) {
    std::ranges::sort(accepted_, ByKindAndPlace{});
    for (const Finding& f : inspection.findings) counts_[static_cast<std::size_t>(f.kind)] += holds(f);
    for (int k = 0; k < finding_kinds; ++k)
        if (const auto kind = static_cast<FindingKind>(k); is_fault(kind) && count(kind) < inspection.count(kind))
            all_faults_ = false;
}

bool Acceptance::holds(const Finding& finding) const {
    return std::ranges::binary_search(accepted_, AcceptedFinding{finding.kind, finding.place}, ByKindAndPlace{});
}

std::size_t Acceptance::count() const {
    std::size_t all = 0;
    for (const std::size_t n : counts_) all += n;
    return all;
}

}  // namespace anvil
