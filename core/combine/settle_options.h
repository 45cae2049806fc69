#pragma once

#include <memory>
#include <optional>
#include <string_view>
#include <vector>

namespace anvil {

class ProvenFaces;

/// What to do where bodies only touch, along an edge or in a point.
enum class ContactRule {
    separate,  ///< each body stays behind by the smallest step that keeps them apart
    join,      ///< a bridge of the smallest size that holds is added
};

/// "separate", "join".
std::string_view word(ContactRule rule);
std::optional<ContactRule> contact_rule_from(std::string_view word);

/// Coordinates that the result is to have.
enum class Precision { single_precision, double_precision };

/// How a result is to be delivered.
struct SettleOptions {
    /// What the points are rounded to: what the format will hold that the result is written in.
    Precision precision = Precision::double_precision;
    /// What to do where the result touches itself.
    ContactRule contact = ContactRule::separate;
    /// Makes one flat region of faces of one material that lie in one plane side by side (see clean.h).
    bool merge_flush = false;
    /// Has what was proven of each piece told (see proven_faces.h), for `before` of the next result.
    bool tells_proven = false;
    /// What was proven of the pieces of an earlier result, which need not be proven again.
    std::vector<std::shared_ptr<const ProvenFaces>> before{};
};

}  // namespace anvil
