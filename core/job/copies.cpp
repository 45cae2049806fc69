#include "core/job/copies.h"

#include "core/base/number_text.h"

namespace anvil {

Result<Mesh> copied(const Mesh& one, std::span<const Transform> places) {
    constexpr double most = 20e6;
    if (const double faces = static_cast<double>(one.faces.size()) * static_cast<double>(places.size()); faces > most)
        return Error{ErrorCode::out_of_range,
                     "all copies together would have " + short_text(faces / 1e6) +
                         " million faces; at most 20 million are made: make fewer, or the operand simpler",
                     ""};
    Mesh out;
    out.points.reserve(one.points.size() * places.size());
    out.faces.reserve(one.faces.size() * places.size());
    for (const Transform& place : places) append(out, transformed(one, place));
    return out;
}

}  // namespace anvil
