#pragma once

#include <string>

#include "core/combine/combine.h"
#include "core/inspect/inspect.h"
#include "core/mesh/measures.h"
#include "fuzz/byte_meshes.h"

namespace anvil::fuzz {

/// What is wrong with a result; empty for nothing. `surface`: it need not close.
inline std::string flaw(const Combined& combined, bool surface) {
    for (std::size_t k = 0; k < combined.pieces(); ++k) {
        Progress progress;
        const auto inspection = inspect(combined.piece(k), progress);
        if (!inspection) return "the inspection failed";
        for (int kind = 0; kind < finding_kinds; ++kind) {
            const auto f = static_cast<FindingKind>(kind);
            const bool allowed = surface && f != FindingKind::self_intersections &&
                                 f != FindingKind::degenerate_faces && f != FindingKind::zero_length_edges &&
                                 f != FindingKind::duplicate_faces;
            if (!allowed && inspection->counts[static_cast<std::size_t>(kind)] > 0)
                return "piece " + std::to_string(k + 1) + " has " + std::string(word(f));
        }
    }
    if (combined.empty && combined.reason.empty()) return "nothing is left, without a reason";
    return "";
}

/// Combines what the bytes say in every way. Returns what went wrong; empty for nothing.
inline std::string broken_promise(std::span<const std::uint8_t> data) {
    Bytes bytes(data);
    const Mesh a = mesh_from(bytes), b = mesh_from(bytes);
    const Mesh* operands[] = {&a, &b};
    double volume[std::size(all_operations)] = {};
    const Precision precision = bytes.below(2) ? Precision::single_precision : Precision::double_precision;
    const ContactRule contact = bytes.below(4) == 0 ? ContactRule::join : ContactRule::separate;
    for (std::size_t k = 0; k < std::size(all_operations); ++k) {
        const Operation operation = all_operations[k];
        if (operation == Operation::gather) continue;
        Progress progress;
        const auto result = combine(operation, operands, progress, {precision, contact, bytes.below(2) == 1});
        if (!result) return std::string(word(operation)) + " failed: " + result.error().sentence();
        if (const std::string wrong = flaw(*result, result->surface); !wrong.empty())
            return std::string(word(operation)) + ": " + wrong;
        volume[k] = signed_volume(result->mesh);
    }
    auto of = [&](Operation operation) {
        return volume[static_cast<std::size_t>(std::ranges::find(all_operations, operation) -
                                               std::begin(all_operations))];
    };
    // vol(A or B) = vol(A less B) + vol(B less A) + vol(A and B); bodies that touch are moved apart a little.
    const double sum = of(Operation::difference) + of(Operation::reverse_difference) + of(Operation::intersection);
    const double slack = contact == ContactRule::join ? 0.2 : precision == Precision::single_precision ? 2e-2 : 1e-3;
    if (std::fabs(of(Operation::union_of) - sum) > slack)
        return "volumes do not add up: " + std::to_string(of(Operation::union_of)) + " and " + std::to_string(sum);
    return "";
}

}  // namespace anvil::fuzz
