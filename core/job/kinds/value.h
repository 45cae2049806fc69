#pragma once

#include <cstdint>
#include <map>
#include <string>
#include <variant>
#include <vector>

#include "core/base/vec3.h"
#include "core/mesh/selection.h"

namespace anvil {

/// Who made a face, and what it is called there.
struct Tag {
    std::string use{};        ///< id of the step whose operand brought it in; empty for what is the body's own
    std::string maker{};      ///< id of the part or step that made it
    std::uint64_t local = 0;  ///< of the regions of a mesh between its creases: a key of their content; of a shape the
                              ///< number of a side
    auto operator<=>(const Tag&) const = default;
};

/// What a step holds on to in a body, told so that it is found again when what stands above the step changes: a set of
/// elements that hang together and lie on or between faces of the same tags (anchors.h).
struct Anchor {
    ElementKind kind = ElementKind::faces;
    std::vector<Tag> tags{};     ///< of the faces, or of those on both sides of the edges, or round the point; sorted
    bool whole = true;           ///< all that hangs together there; else the elements at `points` only
    std::vector<Vec3> points{};  ///< of all: places spread over it; else the elements' own, one behind the other
    double size = 0;             ///< mm or mm2 that it is long or large
    std::uint32_t alike = 1;     ///< how many such sets there were with these tags
    double apart = 0;            ///< mm to the next of them
    bool operator==(const Anchor&) const = default;
};

/// What a field of a step holds.
using Value = std::variant<bool, std::int64_t, double, std::string, std::vector<std::string>, std::vector<Vec3>,
                           std::vector<Anchor>, Vec3>;
/// By the names of the fields: what differs from the usual.
using Values = std::map<std::string, Value, std::less<>>;

}  // namespace anvil
