// Small meshes with integer coordinates out of arbitrary bytes, mended: whatever they are, they must end print-ready,
// or as sheets that are told to be ones, or as nothing. Run by ./anvil fuzz mend; cases are kept in fuzz/cases/mend.
#include "fuzz/mend_case.h"

#include <cstdio>
#include <cstdlib>

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    const std::string broken = anvil::fuzz::broken_mend_promise({data, size});
    if (broken.empty()) return 0;
    std::fprintf(stderr, "broken promise: %s\n", broken.c_str());
    std::abort();
}
