#pragma once

#include <algorithm>
#include <array>
#include <vector>

#include "core/arrange/point_table.h"
#include "core/arrange/soup.h"

namespace anvil {

/// Every pair of a face of one operand and a face of another one that have anything in common, sorted; nothing where it
/// was stopped.
std::optional<std::vector<FaceContact>> find_contacts(const Operand& a, const Operand& b, Progress& progress);

/// Two faces of different planes that meet in more than a shared corner or edge: in one point, or between two.
struct Crossing {
    FaceId a, b;
    VertexId p, q;  ///< ends of the segment; q is not valid where they only touch in p
};

/// What a new point was made of: an edge (its two ends, the lower first) and a face, or two edges.
struct PointDefinition {
    std::array<std::uint32_t, 4> n;  ///< low, high, face, no_edge | low, high, low, high
    bool operator==(const PointDefinition&) const = default;
    static constexpr std::uint32_t no_edge = 0xffffffffu;
    /// Whether the point lies within the edge between two points of the soup.
    bool on_edge(VertexId a, VertexId b) const {
        const std::uint32_t low = std::min(a, b).value(), high = std::max(a, b).value();
        return (n[0] == low && n[1] == high) || (n[3] != no_edge && n[2] == low && n[3] == high);
    }
};

struct DefinitionHash {
    std::size_t operator()(const PointDefinition& k) const {
        std::uint64_t h = 0;
        for (std::uint32_t v : k.n) h = (h ^ v) * 0x9e3779b97f4a7c15ull, h ^= h >> 29;
        return h;
    }
};

/// Steps 2 and 3: which faces meet, and in which points. Points are already identified.
struct Crossings {
    std::vector<Crossing> segments;
    std::vector<std::pair<FaceId, FaceId>> coplanar;  ///< pairs of one plane that overlap or touch
    /// Faces whose edges are an edge of another operand's face too: nothing crosses there, but more than two faces
    /// meet.
    std::vector<FaceId> at_common_edge;
    std::vector<PointDefinition> definitions;  ///< per added point
    std::vector<VertexId> touched;  ///< input points that lie on a face of which they are no corner, or are common
};

/// Contacts of one operand with itself (a == b) or with another one.
struct ContactList {
    std::uint32_t a, b;
    const std::vector<FaceContact>* contacts;
};

class EarlierArrangement;

/// Gives the contacts' new points to the table. `earlier`: has some of them already; may be null. Fails only where it
/// was stopped.
Result<Crossings> find_crossings(const Soup& soup, std::span<const ContactList> contacts, PointTable& points,
                                 EarlierArrangement* earlier, Progress& progress);

}  // namespace anvil
