#pragma once

#include <memory>
#include <unordered_map>

#include "core/combine/rounding.h"

namespace anvil {

/// Faces of which it is proven that no two meet where they should not: the rounded sub-faces of a result, and the
/// untouched faces of operands beside them. That holds wherever the same ones stand beside each other again, so after a
/// change only what is new is to be proven.
class ProvenFaces {
  public:
    /// Precondition: they are proven, and no rounded point fell on a point of a patch.
    ProvenFaces(const Arrangement& arrangement, const Extraction& extraction, const RoundedFaces& rounded);

    /// Per rounded face, whether it is one of the sub-faces: the same corners, bit for bit, and the same of them points
    /// of operands.
    std::vector<char> among(const RoundedFaces& rounded) const;
    /// Per face of an operand, whether it is one of the untouched ones; null where none is.
    const std::vector<char>* of_operand(const Operand& operand) const;
    std::size_t bytes() const;

  private:
    struct Key {
        std::uint64_t low = 0, high = 0;
        bool operator==(const Key&) const = default;
    };
    static std::vector<Key> keys_of(const RoundedFaces& rounded);
    std::size_t slot_of(const Key& key) const;

    std::vector<Key> keys_;  // by their bits; one that is 0 is none
    struct Untouched {
        std::weak_ptr<const Operand> operand;
        std::vector<char> faces;
    };
    std::unordered_map<const Operand*, Untouched> untouched_;
};

/// What of a result was not proven before.
struct FreshFaces {
    std::vector<char> known;               ///< per rounded face, whether it was
    std::vector<std::uint32_t> sub_faces;  ///< rounded faces that were not
    std::vector<FaceId> untouched;         ///< faces of patches that were not, by their numbers in the soup
};
/// Nothing where so much is new that proving all is as good.
std::optional<FreshFaces> find_fresh(const Arrangement& arrangement, const Extraction& extraction,
                                     const RoundedFaces& rounded, const ProvenFaces& before);

}  // namespace anvil
