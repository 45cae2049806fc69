#pragma once

#include "core/base/progress.h"
#include "core/base/result.h"
#include "core/mesh/measures.h"

namespace anvil {

/// How far two surfaces are from each other.
struct Comparison {
    Measures a, b;
    double spacing = 0;             ///< mm: no point of a face is farther than this from a sample on it
    double a_to_b = 0, b_to_a = 0;  ///< largest sampled distance, mm; infinite where only one has faces
    double mean_a_to_b = 0, mean_b_to_a = 0;
    double seconds = 0;
    /// The two-sided Hausdorff distance of the samples; the true one is larger by `spacing` at most.
    double hausdorff() const { return a_to_b > b_to_a ? a_to_b : b_to_a; }
};

/// `spacing` in mm; 0 takes a 200th of the larger bounds' diagonal.
/// Precondition: coordinates are finite. Fails only where it was stopped.
Result<Comparison> compare(const Mesh& a, const Mesh& b, double spacing, Progress& progress);

}  // namespace anvil
