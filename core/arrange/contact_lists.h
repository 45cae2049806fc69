#pragma once

#include <optional>

#include "core/arrange/operand.h"
#include "core/base/sort.h"

namespace anvil {

/// Runs a search of pairs of faces on many threads and sorts what it finds, so that the order does not depend on them.
/// `search(prepare, test)` is called once; it calls prepare(number of tasks), then test(task, i, j) for every pair, and
/// returns whether it was not stopped. `contact(i, j)` gives the contact of two faces, nothing where they have none.
template <class Search, class FindContact>
std::optional<std::vector<FaceContact>> gather_contacts(const Search& search, const FindContact& contact) {
    std::vector<std::vector<FaceContact>> per_task;
    const bool complete = search([&](std::size_t tasks) { per_task.resize(tasks); },
                                 [&](std::size_t task, std::uint32_t i, std::uint32_t j) {
                                     if (const std::optional<Contact> c = contact(i, j))
                                         per_task[task].push_back({FaceId(i), FaceId(j), *c});
                                 });
    if (!complete) return std::nullopt;
    return merged_by_number(
        std::move(per_task), [](const FaceContact& c) { return c.a.value(); },
        [](const FaceContact& x, const FaceContact& y) { return x.b < y.b; });
}

}  // namespace anvil
