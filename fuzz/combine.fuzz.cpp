// Small meshes with integer coordinates out of arbitrary bytes, combined: whatever they are, the result must be sound
// and the volumes must add up. Run by ./anvil fuzz; what it found is kept in fuzz/cases and run again by the tests.
#include "fuzz/combine_case.h"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    const std::string broken = anvil::fuzz::broken_promise({data, size});
    if (broken.empty()) return 0;
    std::fprintf(stderr, "broken promise: %s\n", broken.c_str());
    std::abort();
}
