// Writes the demonstration as files: anvil-demo-files FOLDER
#include <cstdio>

#include "core/io/mesh_file.h"
#include "core/job/job_file.h"
#include "demo/lantern.h"

int main(int argc, char** argv) {
    if (argc != 2) {
        std::fprintf(stderr, "anvil-demo-files: give the folder to write to\n");
        return 2;
    }
    const std::filesystem::path folder = argv[1];
    std::error_code trouble;
    std::filesystem::create_directories(folder, trouble);
    for (const auto& written : {anvil::write_job(anvil::demo::signal_lantern(), folder / "signal-lantern.anvil"),
                                anvil::write_mesh(anvil::demo::scanned_bracket(), folder / "scanned-bracket.ply")})
        if (!written) {
            std::fprintf(stderr, "anvil-demo-files: %s\n", written.error().sentence().c_str());
            return 4;
        }
    return 0;
}
