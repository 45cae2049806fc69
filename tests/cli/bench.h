#pragma once

#include <nlohmann/json.hpp>

#include "core/io/mesh_file.h"
#include "tests/support/support.h"

namespace anvil::test {

using nlohmann::json;

/// What a run of the program gave.
struct Ran {
    int status;
    std::string out, err;
};

/// A folder with meshes in which the program is run.
class Bench {
  public:
    Bench() {
        REQUIRE(write_mesh(make_box({0, 0, 0}, {4, 4, 4}), path("a.stl")));
        REQUIRE(write_mesh(make_box({2, 2, 2}, {6, 6, 6}), path("b.ply")));
        REQUIRE(write_mesh(make_box({9, 9, 9}, {10, 10, 10}), path("far.obj")));
        Mesh open = make_box({0, 0, 0}, {4, 4, 4});
        open.faces.raw().pop_back();
        REQUIRE(write_mesh(open, path("open.off")));
        open.faces.raw().resize(2);
        REQUIRE(write_mesh(open, path("sheet.off")));
    }
    std::string path(const std::string& name) const { return (folder_ / name).string(); }
    Ran run(const std::string& arguments, const std::string& before = {}) const {
        const std::string command =
            before + "cd " + folder_.path().string() + " && { " ANVIL_CLI " " + arguments + "; } >out.txt 2>err.txt";
        const int status = std::system(command.c_str());
        return {WEXITSTATUS(status), read_bytes(folder_ / "out.txt"), read_bytes(folder_ / "err.txt")};
    }
    bool exists(const std::string& name) const { return std::filesystem::exists(folder_ / name); }
    json report(const std::string& name) const { return json::parse(read_bytes(folder_ / name)); }

  private:
    TempFolder folder_;
};

}  // namespace anvil::test
