// The command line: cuts.
#include "tests/cli/bench.h"

using namespace anvil;
using namespace anvil::test;

TEST_CASE("cut plane: one side, both, and what is wrong about it is said") {
    const Bench bench;
    Ran r = bench.run("cut plane a.stl -o front.ply --origin 1,0,0 --normal x --keep front --json report.json");
    CHECK(r.status == 0);
    CHECK(bench.report("report.json")["operation"] == "cut");
    CHECK(bench.report("report.json")["result"]["volume"].get<double>() == Approx(48));
    CHECK(bench.run("cut plane a.stl -o back.ply --origin 1,0,0 --normal 2,0,0 --keep back").status == 0);
    CHECK(signed_volume(*read_mesh(bench.path("back.ply"))) == Approx(16));
    CHECK(bench.run("cut plane a.stl -o half-%d.stl --origin 1,0,0 --normal=-1,0,0 --keep both").status == 0);
    CHECK(signed_volume(*read_mesh(bench.path("half-1.stl"))) == Approx(48));
    CHECK(signed_volume(*read_mesh(bench.path("half-2.stl"))) == Approx(16));
    // Lengths of a file in inches, of the plane in mm.
    CHECK(bench.run("cut plane a.stl -o inch.ply --unit in --origin 25.4,0,0 --normal x --keep back").status == 0);
    CHECK(signed_volume(*read_mesh(bench.path("inch.ply"))) == Approx(16 * 25.4 * 25.4 * 25.4));
    const std::pair<const char*, const char*> wrong[] = {
        {"cut plane a.stl -o no.ply --origin 9,0,0 --normal x --keep front", "it would leave nothing of the body"},
        {"cut plane a.stl -o no.ply --origin 1,0 --normal x --keep front", "\"origin\" takes a place: x,y,z, in mm"},
        {"cut plane a.stl -o no.ply --origin 1,0,0 --normal 0,0,0 --keep front", "\"normal\" points nowhere"},
        {"cut plane a.stl -o no.ply --origin 1,0,0 --normal w --keep front", "\"normal\" takes a direction"},
        {"cut plane a.stl -o no.ply --origin 1,0,0 --normal x --keep left", "left"},
        {"cut plane a.stl -o no.ply --origin 1,0,0 --normal x", "--keep is required"},
        {"cut plane none.stl -o no.ply --origin 1,0,0 --normal x --keep back", "none.stl"}};
    for (const auto& [command, said] : wrong) {
        INFO(command);
        r = bench.run(command);
        CHECK(r.status != 0);
        CHECK(r.err.find(said) != std::string::npos);
        CHECK(!bench.exists("no.ply"));
    }
    // A plane that misses says how far away it is, and the mesh is written as it was.
    r = bench.run("cut plane a.stl -o same.ply --origin 9,0,0 --normal x --keep both");
    CHECK(r.status == 0);
    CHECK(r.err.find("It cuts nothing: it is 5 mm away from the body.") != std::string::npos);
    CHECK(signed_volume(*read_mesh(bench.path("same.ply"))) == Approx(64));
}

TEST_CASE("do: cuts by their settings; those that want something selected are not offered") {
    const Bench bench;
    CHECK(bench.run("do drill a.stl at=2,2,4 normal=z diameter=1 -o hole.ply").status == 0);
    CHECK(signed_volume(*read_mesh(bench.path("hole.ply"))) == Approx(64 - 3.14159 / 4 * 4).epsilon(1e-2));
    CHECK(bench.run("do cut-outline a.stl origin=2,2,4 width=1 length=2 way=depth depth=1 -o pocket.ply").status == 0);
    CHECK(signed_volume(*read_mesh(bench.path("pocket.ply"))) == Approx(62));
    CHECK(bench.run("do clear-residue a.stl islands=0.5 -o clear.ply").status == 0);
    CHECK(bench.run("do merge-flat a.stl -o flat.ply").status == 0);
    CHECK(read_mesh(bench.path("flat.ply"))->faces.size() == 12);
    CHECK(bench.run("do symmetry a.stl at=1 -o twice.ply").status == 0);
    CHECK(signed_volume(*read_mesh(bench.path("twice.ply"))) == Approx(96));
    CHECK(bench.run("do cut-plane a.stl planes=bed bed_x=2 bed_y=4 bed_z=2 -o bed-%d.stl").status == 0);
    CHECK(bench.exists("bed-4.stl"));
    CHECK(!bench.exists("bed-5.stl"));
    Ran r = bench.run("do notch a.stl -o no.ply");
    CHECK(r.status == 2);
    CHECK(r.err.find("there is no kind \"notch\"") != std::string::npos);
    r = bench.run("do drill a.stl -o no.ply");
    CHECK(r.status == 4);
    CHECK(r.err.find("no place to drill at is set") != std::string::npos);
    CHECK(!bench.exists("no.ply"));
}
