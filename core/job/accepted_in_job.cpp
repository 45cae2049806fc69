#include "core/job/accepted_in_job.h"

#include <algorithm>
#include <set>

namespace anvil {
namespace {

void write(Job& job, const std::string& part, std::vector<AcceptedFinding> findings) {
    if (findings.empty())
        job.settings.accepted.erase(part);
    else
        job.settings.accepted[part] = std::move(findings);
}

}  // namespace

std::vector<AcceptedFinding> accepted_findings(const Job& job, const std::string& part) {
    const auto own = job.settings.accepted.find(part);
    return own == job.settings.accepted.end() ? std::vector<AcceptedFinding>() : own->second;
}

void accept_findings(Job& job, const std::string& part, std::span<const AcceptedFinding> findings) {
    std::vector<AcceptedFinding> all = accepted_findings(job, part);
    all.insert(all.end(), findings.begin(), findings.end());
    std::ranges::sort(all, ByKindAndPlace{});
    all.erase(std::unique(all.begin(), all.end()), all.end());
    write(job, part, std::move(all));
}

void take_back_findings(Job& job, const std::string& part, std::span<const AcceptedFinding> findings) {
    std::vector<AcceptedFinding> all = accepted_findings(job, part);
    const std::set<AcceptedFinding, ByKindAndPlace> taken(findings.begin(), findings.end());
    std::erase_if(all, [&](const AcceptedFinding& f) { return taken.contains(f); });
    write(job, part, std::move(all));
}

}  // namespace anvil
