// What the fuzz target checks (fuzz/mend_case.h), on the cases that it found and on some random ones.
#include "fuzz/mend_case.h"
#include "tests/support/support.h"

using namespace anvil;
using namespace anvil::test;

TEST_CASE("cases that the fuzz target found are mended") {
    for (const auto& entry : std::filesystem::directory_iterator(ANVIL_FUZZ_CASES "/mend")) {
        const std::string bytes = read_bytes(entry.path());
        INFO(entry.path().filename().string());
        CHECK(fuzz::broken_mend_promise({reinterpret_cast<const std::uint8_t*>(bytes.data()), bytes.size()}) == "");
    }
}

TEST_CASE("small meshes of random bytes on a grid are mended, or told to be sheets") {
    for (unsigned seed = 0; seed < 600; ++seed) {
        std::mt19937 random(seed);
        std::vector<std::uint8_t> bytes(20 + random() % 60);
        for (std::uint8_t& b : bytes) b = static_cast<std::uint8_t>(random());
        INFO("seed " << seed);
        CHECK(fuzz::broken_mend_promise(bytes) == "");
    }
}
