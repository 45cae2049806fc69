// What the fuzz target checks (fuzz/combine_case.h), on the cases that it found and on some random ones.
#include "fuzz/combine_case.h"
#include "tests/support/support.h"

using namespace anvil;
using namespace anvil::test;

TEST_CASE("cases that the fuzz target found keep every promise") {
    std::vector<std::filesystem::path> files;
    for (const auto& entry : std::filesystem::directory_iterator(ANVIL_FUZZ_CASES "/combine"))
        files.push_back(entry.path());
    std::sort(files.begin(), files.end());
    for (const auto& file : files) {
        const std::string bytes = read_bytes(file);
        INFO(file.filename().string());
        CHECK(fuzz::broken_promise({reinterpret_cast<const std::uint8_t*>(bytes.data()), bytes.size()}) == "");
    }
}

TEST_CASE("small meshes of random bytes on a grid keep every promise") {
    for (unsigned seed = 0; seed < 300; ++seed) {
        std::mt19937 random(seed);
        std::vector<std::uint8_t> bytes(20 + random() % 120);
        for (std::uint8_t& b : bytes) b = static_cast<std::uint8_t>(random());
        INFO("seed " << seed);
        CHECK(fuzz::broken_promise(bytes) == "");
    }
}
