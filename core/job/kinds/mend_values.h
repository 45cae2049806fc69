#pragma once

#include "core/job/kinds/kind.h"

namespace anvil {

/// What a step of the kind *mend* has set.
struct MendSettings {
    std::vector<Repair> repairs{};        ///< in the order of the plan
    MendOptions options{};                ///< in the coordinates of its list; precision and contact rule are the job's
    std::vector<std::string> answered{};  ///< what is decided, and not asked again; also what is not known here

    /// Every repair, on all of the body.
    bool is_whole_plan() const { return repairs.size() == whole_plan().size() && options.places.empty(); }
};
Values values_of(const MendSettings& settings);
/// Precondition: the values are checked.
MendSettings mend_settings(const Values& values);

/// What the kind *mend* does.
Result<Treated> treat_by_mending(const std::shared_ptr<const Mesh>& body, const Values& values,
                                 const TreatSettings& settings, Progress& progress);

/// The values of a step that is one edit by hand; its kind is the word of the tool.
Values values_of(const HandEdit& edit);

}  // namespace anvil
