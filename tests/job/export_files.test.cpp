// What a job delivers as files: pieces, other parts, all or nothing.
#include "core/job/export_files.h"

#include "core/io/mesh_file.h"
#include "core/job/edit_lists.h"
#include "tests/job/jobs.h"

using namespace anvil;
using namespace anvil::test;

namespace {

/// A block in two pieces, and a lid beside it.
struct Delivery {
    Job job;
    TempFolder folder;
    Delivery() {
        add(job, "block", make_box({0, 0, 0}, {20, 10, 10}));
        add_combining(job, Operation::split, add(job, "slab", make_box({5, -1, -1}, {10, 11, 11})));
        const std::string lid = add(job, "lid/top", make_box({0, 0, 0}, {20, 10, 1}));
        edit_part(job, lid, [](Part& p) { p.bench = {{0, 0, 30}, {}}; });
        job.results.push_back(lid);
    }
    std::string path(const char* name) const { return (folder / name).string(); }
    Result<Exported> written(const char* name) const {
        Evaluator evaluator;
        return export_files(job, test::evaluated(evaluator, job), path(name));
    }
    double volume_of(const char* name) const { return signed_volume(welded(*read_mesh(path(name)))); }
};

}  // namespace

TEST_CASE("each piece and each other part has a file of its own, or all are bodies of one") {
    const Delivery d;
    const auto apart = d.written("block.stl");
    REQUIRE(apart);
    CHECK(apart->files == std::vector{d.path("block-1.stl"), d.path("block-2.stl"), d.path("block-lid-top.stl")});
    CHECK(d.volume_of("block-1.stl") + d.volume_of("block-2.stl") == Approx(2000));
    CHECK(d.volume_of("block-lid-top.stl") == Approx(200));
    CHECK(bounds(*read_mesh(d.path("block-lid-top.stl"))).low == Vec3{0, 0, 30});
    CHECK_FALSE(std::filesystem::exists(d.path("block.stl")));
    const auto together = d.written("block.3mf");
    REQUIRE(together);
    CHECK(together->files == std::vector{d.path("block.3mf")});
    CHECK(together->bodies == 3);
    const auto bodies = read_meshes(d.path("block.3mf"));
    REQUIRE(bodies);
    CHECK((*bodies)[0].name == "block 1");
    CHECK((*bodies)[2].name == "lid/top");
}

TEST_CASE("where one of the files cannot be written, none is replaced") {
    const Delivery d;
    write_bytes(d.path("block-1.stl"), "as it was");
    std::filesystem::create_directory(d.path("block-lid-top.stl"));
    const auto failed = d.written("block.stl");
    REQUIRE(!failed);
    CHECK(failed.error().sentence().find("block-lid-top.stl") != std::string::npos);
    CHECK(read_bytes(d.path("block-1.stl")) == "as it was");
    CHECK_FALSE(std::filesystem::exists(d.path("block-2.stl")));
    CHECK(!d.written("no/such/folder/block.stl"));
    CHECK(!d.written("block.xyz"));
}
