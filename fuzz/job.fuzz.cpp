// job.json out of arbitrary text, of both formats: a job or one sentence, and what was read is written the same again.
// The text itself is mutated, not an archive whose checksums would guard it.
#include <cstdio>
#include <cstdlib>

#include "core/job/job_text.h"
#include "core/mesh/primitives.h"

namespace {

using namespace anvil;

void broken(const char* what) {
    std::fprintf(stderr, "broken promise: %s\n", what);
    std::abort();
}

void look_at(std::string_view data) {
    const auto mesh = [](const std::string&) -> Result<std::shared_ptr<const Mesh>> {
        static const auto box = std::make_shared<const Mesh>(make_box({0, 0, 0}, {1, 1, 1}));
        return box;
    };
    const auto job = job_from_text(data, mesh);
    if (!job) {
        if (job.error().text.empty()) broken("an error without a sentence");
        return;
    }
    const std::string text = job_text(*job);
    const auto again = job_from_text(text, mesh);
    if (!again) broken("a job that was written cannot be read");
    if (job_text(*again) != text) broken("a job changes from file to file");
}

}  // namespace

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    look_at({reinterpret_cast<const char*>(data), size});
    return 0;
}
