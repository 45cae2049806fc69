#include "core/arrange/operands.h"

#include <tbb/parallel_for.h>

#include "core/base/memory.h"

namespace anvil {

std::vector<MadeOperand> make_operands(std::size_t count, const std::function<MadeOperand(std::size_t)>& make) {
    std::vector<MadeOperand> made(count, cancelled_error());
    tbb::parallel_for(std::size_t{0}, count, [&](std::size_t i) {
        // An exception would stop the loops within the others half-way, too.
        made[i] = with_memory_checked([&] { return make(i); });
    });
    return made;
}

Result<std::vector<std::shared_ptr<const Operand>>> all_of(std::vector<MadeOperand> made) {
    std::vector<std::shared_ptr<const Operand>> out;
    for (MadeOperand& one : made) {
        if (!one) {
            Error error = one.error();
            if (!error.is_cancel() && error.code != ErrorCode::out_of_memory)
                error.operand = static_cast<int>(out.size());
            return error;
        }
        out.push_back(std::move(*one));
    }
    return out;
}

}  // namespace anvil
