#pragma once

#include <optional>
#include <span>
#include <vector>

#include "core/job/job.h"

namespace anvil {

// The steps are an outline: a step of depth d + 1 lies in the bundle of the nearest step before it of depth d, its
// head. What lies in a bundle acts on its head's operand, before the head acts on its own body.

/// The index behind the last step of the bundle of step i: i + 1 where there is none.
std::size_t bundle_end(std::span<const Step> steps, std::size_t i);
/// The head of the bundle that step i lies in; nothing at the top.
std::optional<std::size_t> bundle_head(std::span<const Step> steps, std::size_t i);
/// Whether a step's operation does something in a bundle, which only makes solids.
bool counts_in_bundle(Operation op);

/// Bundles within bundles end here.
inline constexpr int deepest_bundle = 16;

/// Puts a step, with its own bundle, into the bundle of the step before it of the same depth. False where there is
/// none, or where it would lie too deep.
bool put_in_bundle(std::vector<Step>& steps, std::size_t i);
/// Takes a step, with its own bundle, out of the one that it lies in, and puts it behind that. Returns its new index,
/// or nothing where it lies in none.
std::optional<std::size_t> take_out_of_bundle(std::vector<Step>& steps, std::size_t i);
/// Moves a step, with its bundle, in front of the step that has index `to` now (at most steps.size()), to lie in the
/// same bundle as that. Returns its new index.
std::size_t move_step(std::vector<Step>& steps, std::size_t i, std::size_t to);
/// Takes steps out for which `drop` says so, each with its bundle.
template <class Drop>
void drop_steps(std::vector<Step>& steps, const Drop& drop) {
    for (std::size_t i = steps.size(); i-- > 0;)
        if (drop(steps[i]))
            steps.erase(steps.begin() + static_cast<long>(i), steps.begin() + static_cast<long>(bundle_end(steps, i)));
}

}  // namespace anvil
