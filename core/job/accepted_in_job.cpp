#include "core/job/accepted_in_job.h"

#include <algorithm>
#include <set>

namespace anvil {
namespace {

void write(JobSettings& settings, const std::string& part, std::vector<AcceptedFinding> findings) {
    if (findings.empty())
        settings.accepted.erase(part);
    else
        settings.accepted[part] = std::move(findings);
}

}  // namespace

std::vector<AcceptedFinding> accepted_findings(const JobSettings& settings, const std::string& part) {
    const auto own = settings.accepted.find(part);
    return own == settings.accepted.end() ? std::vector<AcceptedFinding>() : own->second;
}

void accept_findings(JobSettings& settings, const std::string& part, std::span<const AcceptedFinding> findings) {
    std::vector<AcceptedFinding> all = accepted_findings(settings, part);
    all.insert(all.end(), findings.begin(), findings.end());
    std::ranges::sort(all, ByKindAndPlace{});
    all.erase(std::unique(all.begin(), all.end()), all.end());
    write(settings, part, std::move(all));
}

void take_back_findings(JobSettings& settings, const std::string& part, std::span<const AcceptedFinding> findings) {
    std::vector<AcceptedFinding> all = accepted_findings(settings, part);
    const std::set<AcceptedFinding, ByKindAndPlace> taken(findings.begin(), findings.end());
    std::erase_if(all, [&](const AcceptedFinding& f) { return taken.contains(f); });
    write(settings, part, std::move(all));
}

}  // namespace anvil
