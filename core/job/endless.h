#pragma once

#include "core/job/segment.h"

namespace anvil {

/// The kind of the shape that a part is or follows, where that ends nowhere; null where it ends.
const Kind* endless_shape(const Job& job, std::string_view part);
/// Why a body that ends nowhere cannot act so, or with such a body; nothing where it can.
std::optional<Error> endless_trouble(Operation operation);
/// The error of a body that ends nowhere and is to be one by itself.
Error endless_body();
/// Makes a body that ends nowhere, shown as its shape is, as large as what it meets needs. `meets`: in the coordinates
/// that the body stands in.
void let_reach(Body& body, const Kind& kind, const Box& meets, KeptResults& kept);

}  // namespace anvil
