#include "core/job/accepted_in_job.h"

#include <algorithm>
#include <set>

namespace anvil {
namespace {

using nlohmann::json;

/// An object of lists by the id of a part; the result's is the empty one, which no part has.
constexpr char setting[] = "accepted";

void write(Job& job, const std::string& part, std::span<const AcceptedFinding> findings) {
    json list = json::array();
    for (const AcceptedFinding& f : findings)
        list.push_back({{"kind", word(f.kind)}, {"place", {f.place.x, f.place.y, f.place.z}}});
    json& all = job.settings[setting];
    if (!all.is_object()) all = json::object();
    if (list.empty())
        all.erase(part);
    else
        all[part] = std::move(list);
    if (all.empty()) job.settings.erase(setting);
}

}  // namespace

std::vector<AcceptedFinding> accepted_findings(const Job& job, const std::string& part) {
    std::vector<AcceptedFinding> out;
    const auto all = job.settings.find(setting);
    if (all == job.settings.end() || !all->is_object()) return out;
    const auto own = all->find(part);
    if (own == all->end() || !own->is_array()) return out;
    // What a hand or a newer version wrote otherwise is as good as not accepted.
    for (const json& f : *own) {
        if (!f.is_object() || !f.contains("kind") || !f["kind"].is_string()) continue;
        const auto kind = finding_kind_from(f["kind"].get<std::string>());
        const auto place = f.find("place");
        if (!kind || place == f.end() || !place->is_array() || place->size() != 3) continue;
        if (!std::ranges::all_of(*place, [](const json& x) { return x.is_number(); })) continue;
        out.push_back({*kind, {(*place)[0].get<double>(), (*place)[1].get<double>(), (*place)[2].get<double>()}});
    }
    return out;
}

void accept_findings(Job& job, const std::string& part, std::span<const AcceptedFinding> findings) {
    std::vector<AcceptedFinding> all = accepted_findings(job, part);
    all.insert(all.end(), findings.begin(), findings.end());
    std::ranges::sort(all, ByKindAndPlace{});
    all.erase(std::ranges::unique(all).begin(), all.end());
    write(job, part, all);
}

void take_back_findings(Job& job, const std::string& part, std::span<const AcceptedFinding> findings) {
    std::vector<AcceptedFinding> all = accepted_findings(job, part);
    const std::set<AcceptedFinding, ByKindAndPlace> taken(findings.begin(), findings.end());
    std::erase_if(all, [&](const AcceptedFinding& f) { return taken.contains(f); });
    write(job, part, all);
}

}  // namespace anvil
