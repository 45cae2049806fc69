#include "core/inspect/accepted.h"

#include <algorithm>
#include <set>

namespace anvil {
std::vector<AcceptedFinding> accepted_with(const Inspection& inspection, std::span<const Finding* const> findings) {
    std::vector<AcceptedFinding> out;
    std::set<std::pair<VertexId, VertexId>> rims;  // edges, the lower number first
    std::set<std::vector<FaceId>> doubled;
    for (const Finding* f : findings) {
        out.push_back({f->kind, f->place});
        if (f->kind == FindingKind::holes)
            for (std::size_t k = 0; k < f->vertices.size(); ++k)
                rims.insert(std::minmax(f->vertices[k], f->vertices[(k + 1) % f->vertices.size()]));
        if (f->kind == FindingKind::doubled_faces) doubled.insert(f->faces);
    }
    for (const Finding& f : inspection.findings)
        if ((f.kind == FindingKind::open_edges && rims.contains(std::minmax(f.vertices[0], f.vertices[1]))) ||
            (f.kind == FindingKind::duplicate_faces && doubled.contains(f.faces)))
            out.push_back({f.kind, f.place});
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
