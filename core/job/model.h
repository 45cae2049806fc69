#pragma once

#include <algorithm>
#include <variant>

#include "core/job/kinds/kind.h"
#include "core/job/settings.h"
#include "core/mesh/placement.h"

namespace anvil {

/// How an operand is taken many times.
struct Copies {
    std::string kind;  ///< the word of a kind of copies
    Values values{};
    Extra unknown{};  ///< values that this version does not know; of a kind that it does not know, all
    Extra extra{};
};

/// A part that is made use of.
struct Use {
    std::string part;  ///< id
    Placement placement{};
    std::optional<Copies> copies{};
    bool closes_sheets = false;  ///< where it is open and encloses nothing it is taken with every border filled
    Extra extra{};
};

struct Step;
using Steps = std::vector<std::shared_ptr<const Step>>;

struct Step {
    std::string id, kind;
    bool on = true;
    Values values{};
    std::optional<Use> operand{};
    Steps steps{};    ///< grouped under it
    Extra unknown{};  ///< values that this version does not know; of a kind that it does not know, all
    Extra extra{};
};

struct StoredMesh {
    std::shared_ptr<const Mesh> mesh;
};

/// A body made from numbers, which can be changed at any time.
struct Shape {
    std::string kind;  ///< the word of a kind of shapes
    Values values{};
    Extra unknown{};  ///< values that this version does not know; of a kind that it does not know, all
    Extra extra{};
};

using PartSource = std::variant<StoredMesh, Use, Shape>;

struct Part {
    std::string id, name;
    PartSource source;
    Steps steps{};
    Placement bench{};  ///< where it lies while nothing uses it
    Extra extra{};

    /// Whether its body is its own, and not that of a part that it uses.
    bool has_own_body() const { return !std::holds_alternative<Use>(source); }
};

/// Parts and steps never change: copies of a job share what they have in common.
struct Job {
    std::vector<std::shared_ptr<const Part>> parts;
    std::vector<std::string> results{};  ///< ids of the parts to deliver, the first of which is in work
    JobSettings settings{};
    Extra extra{};
    /// Numbers of the last ids that were given: none is given again, so that nothing is taken for what is gone.
    int parts_given = 0, steps_given = 0;

    /// Empty where there is none.
    std::string work() const { return results.empty() ? std::string() : results.front(); }

    const Part* find_part(std::string_view id) const {
        const auto at = std::ranges::find_if(parts, [&](const auto& p) { return p->id == id; });
        return at == parts.end() ? nullptr : at->get();
    }
};

}  // namespace anvil
