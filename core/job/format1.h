#pragma once

#include "core/job/job_text.h"
#include "core/mend/hand_edit.h"

// The job as files of format 1 have it: read, and made into one of today.
namespace anvil::format1 {

/// Repairs that a part gets before any step sees it.
struct Mending {
    std::string id;
    bool on = true;
    std::vector<Repair> repairs{};  ///< in the order of the plan
    std::vector<HandEdit> edits{};  ///< by hand; where there are any, there are no repairs
    MendOptions options{};          ///< in the part's own coordinates; precision and contact rule are the job's
    std::vector<Question::About> answered{};        ///< what is decided, and not asked again
    std::vector<std::string> answered_elsewhere{};  ///< the same of questions that this version does not know
    Extra extra{};
};

struct Part {
    std::string id, name;
    std::shared_ptr<const Mesh> mesh;  ///< as it came, before its mendings
    Placement placement{};
    Extra extra{};
    std::vector<Mending> mendings{};  ///< each on what the one before left
    bool closes_sheets = false;
};

struct Step {
    std::string id;
    Operation operation = Operation::union_of;
    std::string part;  ///< id of the operand
    bool on = true;
    int depth =
        0;  ///< what has a depth of 1 more than a step before it lies in the bundle of that: it acts on its part
    Extra extra{};
};
inline constexpr int deepest_bundle = 16;

struct Job {
    std::string base;  ///< id of the part that the steps start from; empty in an empty job
    std::vector<Part> parts{};
    std::vector<Step> steps{};
    JobSettings settings{};
    Extra extra{};

    const Part* find_part(std::string_view id) const {
        const auto at = std::ranges::find(parts, id, &Part::id);
        return at == parts.end() ? nullptr : &*at;
    }
};

/// Safe on hostile text. The format is that of `text`.
Result<Job> read(std::string_view text, const MeshOfEntry& mesh);

/// The job of today that gives the same result, bit for bit: the part in work uses the base and has the steps; for each
/// bundle there is a part that uses its operand and has the bundle's steps.
anvil::Job upgraded(const Job& job);

}  // namespace anvil::format1
