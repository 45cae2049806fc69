#include "core/job/bundles.h"

#include <algorithm>

namespace anvil {
namespace {

auto at(std::vector<Step>& steps, std::size_t i) { return steps.begin() + static_cast<long>(i); }

}  // namespace

std::size_t bundle_end(std::span<const Step> steps, std::size_t i) {
    std::size_t end = i + 1;
    while (end < steps.size() && steps[end].depth > steps[i].depth) ++end;
    return end;
}

std::optional<std::size_t> bundle_head(std::span<const Step> steps, std::size_t i) {
    for (std::size_t k = i; k-- > 0;)
        if (steps[k].depth < steps[i].depth) return k;
    return std::nullopt;
}

bool counts_in_bundle(Operation op) { return !is_trim(op) && op != Operation::scribe && op != Operation::gather; }

bool put_in_bundle(std::vector<Step>& steps, std::size_t i) {
    if (i == 0 || steps[i - 1].depth < steps[i].depth) return false;
    const std::size_t end = bundle_end(steps, i);
    if (std::any_of(at(steps, i), at(steps, end), [](const Step& s) { return s.depth >= deepest_bundle; }))
        return false;
    for (std::size_t k = i; k < end; ++k) ++steps[k].depth;
    return true;
}

std::optional<std::size_t> take_out_of_bundle(std::vector<Step>& steps, std::size_t i) {
    const auto head = bundle_head(steps, i);
    if (!head) return std::nullopt;
    const std::size_t end = bundle_end(steps, i), behind = bundle_end(steps, *head);
    for (std::size_t k = i; k < end; ++k) --steps[k].depth;
    std::rotate(at(steps, i), at(steps, end), at(steps, behind));
    return i + (behind - end);
}

std::size_t move_step(std::vector<Step>& steps, std::size_t i, std::size_t to) {
    const std::size_t end = bundle_end(steps, i), count = end - i;
    if (to >= i && to <= end) return i;
    int deeper = (to < steps.size() ? steps[to].depth : 0) - steps[i].depth;
    for (std::size_t k = i; k < end; ++k) deeper = std::min(deeper, deepest_bundle - steps[k].depth);
    for (std::size_t k = i; k < end; ++k) steps[k].depth += deeper;
    if (to < i) {
        std::rotate(at(steps, to), at(steps, i), at(steps, end));
        return to;
    }
    std::rotate(at(steps, i), at(steps, end), at(steps, to));
    return to - count;
}

}  // namespace anvil
