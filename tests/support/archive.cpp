#include "tests/support/archive.h"

#include <zip.h>

#include <catch2/catch.hpp>

namespace anvil::test {

void write_zip(const std::filesystem::path& file, const std::vector<std::pair<std::string, std::string>>& entries) {
    zip_t* archive = zip_open(file.c_str(), ZIP_CREATE | ZIP_TRUNCATE, nullptr);
    REQUIRE(archive);
    for (const auto& [name, bytes] : entries)
        zip_file_add(archive, name.c_str(), zip_source_buffer(archive, bytes.data(), bytes.size(), 0), 0);
    REQUIRE(zip_close(archive) == 0);
}

}  // namespace anvil::test
