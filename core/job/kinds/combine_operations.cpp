// The operations of the arrangement, each a kind. They have nothing to set: what acts, and where it stands, is their
// use.
#include "core/job/kinds/kind.h"

namespace anvil {
namespace {

const struct CombineOperations {
    CombineOperations() {
        for (const Operation operation : all_operations)
            RegisterKind({.word = std::string(word(operation)), .of = KindClass::combine, .operation = operation});
    }
} combine_operations;

}  // namespace
}  // namespace anvil
