// Writing: all files of a run or none, links stay links, modes stay, and what a killed program left goes.
#include "core/io/file_batch.h"

#include <sys/stat.h>
#include <sys/wait.h>
#include <unistd.h>

#include <thread>

#include "core/io/mesh_file.h"
#include "tests/support/support.h"

using namespace anvil;
using namespace anvil::test;

namespace {
std::size_t entries(const TempFolder& folder) {
    return static_cast<std::size_t>(std::distance(std::filesystem::directory_iterator(folder.path()), {}));
}
}  // namespace

TEST_CASE("where one file of a batch cannot be written, none is replaced") {
    TempFolder folder;
    write_bytes(folder / "a", "old");
    {
        FileBatch batch;
        REQUIRE(batch.add("new", folder / "a"));
        const auto failed = batch.add("new", folder / "not-there" / "b");
        REQUIRE(!failed);
        CHECK(failed.error().code == ErrorCode::cannot_write);
        CHECK(failed.error().place.find("not-there") != std::string::npos);
    }
    CHECK(read_bytes(folder / "a") == "old");
    CHECK(entries(folder) == 1);
    FileBatch batch;
    REQUIRE(batch.add("one", folder / "a"));
    REQUIRE(batch.add("two", folder / "b"));
    CHECK(read_bytes(folder / "a") == "old");
    REQUIRE(batch.commit());
    CHECK(read_bytes(folder / "a") == "one");
    CHECK(read_bytes(folder / "b") == "two");
    CHECK(entries(folder) == 2);
}

TEST_CASE("a link stays a link, and a file's mode stays") {
    TempFolder folder;
    write_bytes(folder / "real", "old");
    REQUIRE(::chmod((folder / "real").c_str(), 0640) == 0);
    std::filesystem::create_symlink("real", folder / "link");
    REQUIRE(write_file("new", folder / "link"));
    CHECK(std::filesystem::is_symlink(folder / "link"));
    CHECK(read_bytes(folder / "real") == "new");
    struct stat now {};
    REQUIRE(::stat((folder / "real").c_str(), &now) == 0);
    CHECK((now.st_mode & 0777) == 0640);
}

TEST_CASE("a pipe or a device is written to and stays what it is") {
    // A report to /dev/full replaced the device by a file, and counted as written.
    TempFolder folder;
    REQUIRE(::mkfifo((folder / "pipe").c_str(), 0600) == 0);
    std::string read;
    std::thread reader([&] { read = read_bytes(folder / "pipe"); });
    const auto written = write_file("through", folder / "pipe");
    reader.join();
    REQUIRE(written);
    CHECK(read == "through");
    REQUIRE(std::filesystem::is_fifo(folder / "pipe"));
    CHECK(entries(folder) == 1);

    std::filesystem::create_directory(folder / "other");
    REQUIRE(::mkfifo((folder / "other" / "pipe").c_str(), 0600) == 0);  // of the same name
    std::string first, second;
    std::thread one([&] { first = read_bytes(folder / "pipe"); });
    std::thread two([&] { second = read_bytes(folder / "other" / "pipe"); });
    FileBatch both;
    const bool added = both.add("one", folder / "pipe").ok() && both.add("two", folder / "other" / "pipe").ok();
    const auto done = both.commit();
    one.join();
    two.join();
    CHECK(added);
    REQUIRE(done);
    CHECK(first == "one");
    CHECK(second == "two");

    write_bytes(folder / "a", "old");
    {
        FileBatch batch;
        REQUIRE(batch.add("new", folder / "a"));
        REQUIRE(batch.add("much", "/dev/full"));
        const auto failed = batch.commit();
        REQUIRE(!failed);
        CHECK(failed.error().code == ErrorCode::cannot_write);
    }
    CHECK(std::filesystem::is_character_file("/dev/full"));
    CHECK(read_bytes(folder / "a") == "old");
}

TEST_CASE("what a killed program left beside a file is taken away, a living one's is not") {
    TempFolder folder;
    const pid_t gone = ::fork();
    if (gone == 0) ::_exit(0);
    int status = 0;
    REQUIRE(::waitpid(gone, &status, 0) == gone);
    write_bytes(folder / ("a.stl.part-" + std::to_string(gone)), "half");
    write_bytes(folder / ("a.stl.part-" + std::to_string(gone) + ".k716aw"), "half");  // as the zip library leaves it
    write_bytes(folder / ("a.stl.part-" + std::to_string(::getppid())), "half");
    write_bytes(folder / ("a.stl.part-" + std::to_string(::getppid()) + ".k716aw"), "half");
    write_bytes(folder / "a.stl.part-one", "a name of somebody's own");
    REQUIRE(write_file("whole", folder / "a.stl"));
    CHECK(entries(folder) == 4);
    CHECK(!std::filesystem::exists(folder / ("a.stl.part-" + std::to_string(gone))));
    CHECK(!std::filesystem::exists(folder / ("a.stl.part-" + std::to_string(gone) + ".k716aw")));
}

TEST_CASE("one file by two names") {
    TempFolder folder;
    write_bytes(folder / "a", "x");
    std::filesystem::create_symlink("a", folder / "b");
    CHECK(same_file(folder / "a", folder / "b"));
    CHECK(same_file(folder / "new", folder.path() / "." / "new"));
    CHECK(!same_file(folder / "a", folder / "c"));
}
