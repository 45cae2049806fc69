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
    Placement frame{};  ///< in the list: whose axes and origin the values mean; of kinds that go by the body, none
    Extra unknown{};    ///< values that this version does not know; of a kind that it does not know, all
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
    Steps steps{};          ///< grouped under it
    bool unlinked = false;  ///< where the part in work is moved its operand stays; else it goes along
    Extra unknown{};        ///< values that this version does not know; of a kind that it does not know, all
    Extra extra{};
};

/// Which of the separate bodies of a part: the number that it had, and what it looked like, by which it is found again.
struct PieceOf {
    std::uint32_t number = 0, count = 1;  ///< counted from 0, in the order of their first faces
    Vec3 middle{};                        ///< of the box round it
    double volume = 0;                    ///< mm3
};

/// A body that follows that of another part.
struct Link {
    std::string part;                    ///< id
    std::optional<std::string> as_of{};  ///< id of the step of its list up to which it is followed, before any step
                                         ///< where that is empty; none: to the end
    std::optional<PieceOf> piece{};
    Extra extra{};
};

struct StoredMesh {
    std::shared_ptr<const Mesh> mesh;
    std::optional<Link> copy_of{};  ///< what it was a link to before it was made a copy
};

/// A body made from numbers, which can be changed at any time.
struct Shape {
    std::string kind;  ///< the word of a kind of shapes
    Values values{};
    Extra unknown{};  ///< values that this version does not know; of a kind that it does not know, all
    Extra extra{};
};

using PartSource = std::variant<StoredMesh, Use, Shape, Link>;

struct Part {
    std::string id, name;
    PartSource source;
    Steps steps{};
    Placement bench{};   ///< where it lies while nothing uses it; of the part in work, where its list stands with all
                         ///< that is in it
    bool stays = false;  ///< it lies on the bench where something uses it, too
    Extra extra{};

    /// Whether its body is its own (also one that follows another part's), and not that of a part that it uses.
    bool has_own_body() const { return !std::holds_alternative<Use>(source); }
};

/// Parts and steps never change: copies of a job share what they have in common.
struct Job {
    std::vector<std::shared_ptr<const Part>> parts;
    std::vector<std::string> results{};  ///< ids of the parts to deliver: the one in work, and others as they lie on
                                         ///< the bench
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
