#pragma once

#include <malloc.h>

#include <new>
#include <stdexcept>
#include <string>

#include "core/base/result.h"

namespace anvil {

/// For the start of a program: memory that was given back is kept for the next time instead of being returned to the
/// system, which would have to clear every page of it again. A live job asks for the same amounts over and over.
inline void keep_freed_memory() {
    mallopt(M_MMAP_THRESHOLD, 32 << 20);  // the most that it takes
    mallopt(M_TRIM_THRESHOLD, 1 << 30);
}

/// Runs work that returns a `Result`: the one boundary at which exceptions become errors like any other. Memory that
/// cannot be had is one, and so is whatever a library throws; nothing is lost, since what the work had built is given
/// back on the way out.
template <class Work>
auto with_memory_checked(const Work& work) -> decltype(work()) {
    try {
        return work();
    } catch (const std::bad_alloc&) {
    } catch (const std::length_error&) {  // a container was asked for more than it could ever hold
    } catch (const std::exception& e) {
        return Error{ErrorCode::unexpected,
                     std::string("it could not be worked out, by a fault of this program; nothing was changed (") +
                         e.what() + ")",
                     ""};
    }
    return Error{ErrorCode::out_of_memory,
                 "there is not enough memory for it; close other programs, or take parts with fewer faces", ""};
}

}  // namespace anvil
