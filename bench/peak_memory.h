#pragma once

#include <optional>
#include <string>

namespace anvil::bench {

/// Megabytes of the largest resident set of a fresh process while it does one work once (`bench --work NAME`), its
/// inputs among them.
std::optional<double> peak_megabytes(const std::string& work);

/// Kilobytes of this process's largest resident set so far.
double own_peak();

}  // namespace anvil::bench
