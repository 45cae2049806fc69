#pragma once

#include <functional>
#include <stdexcept>
#include <string>
#include <vector>

#include "core/base/result.h"

namespace anvil::bench {

/// One job for both sides. `ours` and `cgal` make a callable that does the work once and returns faces or defects;
/// making it is not measured.
struct Job {
    std::string name;
    std::vector<std::string> cases;
    std::function<std::function<std::size_t()>(const std::string&which)> ours, cgal;
};

template <class T>
T must(Result<T> result) {
    if (!result) throw std::runtime_error(result.error().sentence());
    return std::move(*result);
}

/// Inspecting and mending: each repair alone, and a whole plan.
std::vector<Job> mend_jobs();
/// Planes and outlines through large bodies.
std::vector<Job> cut_jobs();

}  // namespace anvil::bench
