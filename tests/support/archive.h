#pragma once

#include <filesystem>
#include <string>
#include <utility>
#include <vector>

namespace anvil::test {

/// Writes a zip with these entries: name, bytes.
void write_zip(const std::filesystem::path& file, const std::vector<std::pair<std::string, std::string>>& entries);

}  // namespace anvil::test
