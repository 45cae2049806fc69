#pragma once

#include <string>
#include <vector>

#include "core/inspect/accepted.h"
#include "core/job/settings.h"

namespace anvil {

/// The findings that may stay, of a part as it is before it is placed, or of the job's result where `part` is empty.
/// They keep them under "accepted".
std::vector<AcceptedFinding> accepted_findings(const JobSettings& settings, const std::string& part);
/// Adds to them what is not among them.
void accept_findings(JobSettings& settings, const std::string& part, std::span<const AcceptedFinding> findings);
/// Takes from them, so that they are told again.
void take_back_findings(JobSettings& settings, const std::string& part, std::span<const AcceptedFinding> findings);

}  // namespace anvil
