// job.json out of arbitrary text: a job or one sentence, and what was read is written the same again. The text itself
// is mutated, not an archive whose checksums would guard it.
#include <cstdio>
#include <cstdlib>

#include "core/job/job_text.h"
#include "core/mesh/primitives.h"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    using namespace anvil;
    const auto mesh = [](const std::string&) -> Result<std::shared_ptr<const Mesh>> {
        static const auto box = std::make_shared<const Mesh>(make_box({0, 0, 0}, {1, 1, 1}));
        return box;
    };
    const auto job = job_from_text({reinterpret_cast<const char*>(data), size}, mesh);
    auto broken = [](const char* what) {
        std::fprintf(stderr, "broken promise: %s\n", what);
        std::abort();
    };
    if (!job) {
        if (job.error().text.empty()) broken("an error without a sentence");
        return 0;
    }
    const std::string text = job_text(*job);
    const auto again = job_from_text(text, mesh);
    if (!again) broken("a job that was written cannot be read");
    if (job_text(*again) != text) broken("a job changes from file to file");
    return 0;
}
