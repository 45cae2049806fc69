#pragma once

#include <map>
#include <memory>
#include <utility>
#include <vector>

namespace anvil {

struct FaceContact;
struct Operand;

/// Keeps the contacts between operands from one arrangement to the next: where one operand moved, only its own are
/// found anew. Not thread-safe.
class ContactCache {
  public:
    using Pair = std::pair<std::shared_ptr<const Operand>, std::shared_ptr<const Operand>>;
    std::map<Pair, std::shared_ptr<const std::vector<FaceContact>>> of;  ///< by the operands in their order
};

}  // namespace anvil
