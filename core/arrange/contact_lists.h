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
    // Contacts are large: what is sorted is where each of them lies.
    struct Place {
        FaceId a, b;
        std::uint32_t task, index;
    };
    std::vector<Place> order;
    for (std::uint32_t task = 0; task < per_task.size(); ++task)
        for (std::uint32_t i = 0; i < per_task[task].size(); ++i)
            order.push_back({per_task[task][i].a, per_task[task][i].b, task, i});
    sort_by_number(
        order, [](const Place& p) { return p.a.value(); }, [](const Place& x, const Place& y) { return x.b < y.b; });
    std::vector<FaceContact> all;
    all.reserve(order.size());
    for (const Place& p : order) all.push_back(per_task[p.task][p.index]);
    return all;
}

}  // namespace anvil
