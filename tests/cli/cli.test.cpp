// The program itself, run as a user runs it: arguments, exit statuses, what is written and what is not.
#include "core/job/job_file.h"
#include "demo/lantern.h"
#include "tests/cli/bench.h"

using namespace anvil;
using namespace anvil::test;

TEST_CASE("combine writes the result and a report of it") {
    const Bench bench;
    for (const auto& [operation, volume] : {std::pair("union", 120.0), {"difference", 56.0}, {"intersection", 8.0}}) {
        const Ran r = bench.run(std::string("combine ") + operation + " a.stl b.ply -o out.off --json report.json");
        INFO(r.err);
        CHECK(r.status == 0);
        const json j = bench.report("report.json");
        CHECK(j["operation"] == operation);
        CHECK(j["empty"] == false);
        CHECK(j["seconds"].get<double>() >= 0);
        CHECK(j["messages"].is_array());
        CHECK(j["result"]["volume"].get<double>() == Approx(volume));
        CHECK(j["result"]["print_ready"] == true);
        CHECK(j["result"]["findings"]["open_edges"] == 0);
        CHECK(j["result"]["file"] == "out.off");
        CHECK(j["result"]["bounds"].size() == 2);
        CHECK(signed_volume(*read_mesh(bench.path("out.off"))) == Approx(volume));
    }
}

TEST_CASE("the number of threads can be limited, and changes nothing in the result") {
    const Bench bench;
    for (const char* threads : {"1", "2", "7"}) {
        const std::string name = std::string("by") + threads + ".off";
        const Ran r = bench.run("combine pieces a.stl b.ply -o " + name + " --threads " + threads);
        INFO(r.err);
        CHECK(r.status == 1);  // pieces share walls
        CHECK(read_bytes(bench.path(name)) == read_bytes(bench.path("by1.off")));
    }
    for (const char* threads : {"0", "-2", "many", "99999999999"})
        CHECK(bench.run(std::string("inspect a.stl --threads ") + threads).status == 2);
}

TEST_CASE("combine takes more than two operands, and every ending") {
    const Bench bench;
    for (const char* ending : {"stl", "obj", "ply", "off"}) {
        const std::string out = std::string("out.") + ending;
        CHECK(bench.run("combine union a.stl b.ply far.obj -o " + out).status == 0);
        CHECK(signed_volume(*read_mesh(bench.path(out))) == Approx(121));
    }
}

TEST_CASE("an empty result is a valid file with no faces, status 0, and the reason") {
    const Bench bench;
    const Ran r = bench.run("combine intersection a.stl far.obj -o none.stl --json report.json");
    CHECK(r.status == 0);
    const json j = bench.report("report.json");
    CHECK(j["empty"] == true);
    CHECK(j["reason"] == "The operands have no volume in common.");
    CHECK(read_mesh(bench.path("none.stl"))->empty());
}

TEST_CASE("inspect: 0 for print-ready, 1 for findings, facts at the top level") {
    const Bench bench;
    CHECK(bench.run("inspect a.stl").status == 0);
    const Ran r = bench.run("inspect open.off --json report.json");
    CHECK(r.status == 1);
    CHECK(r.out.find("3 open edges") != std::string::npos);
    const json j = bench.report("report.json");
    CHECK(j["operation"] == "inspect");
    CHECK(j["print_ready"] == false);
    CHECK(j["triangles"] == 11);
    CHECK(j["vertices"] == 8);
    for (const char* kind : {"open_edges", "holes", "nonmanifold_edges", "nonmanifold_vertices", "misoriented_edges",
                             "zero_length_edges", "degenerate_faces", "duplicate_faces", "self_intersections",
                             "t_junctions", "interior_faces", "inverted_shells"})
        CHECK(j["findings"].contains(kind));
    CHECK(j["findings"]["open_edges"] == 3);
    CHECK(j["findings"]["holes"] == 1);
}

TEST_CASE("mend: what was done is told, and the file stands as the next program reads it") {
    const Bench bench;
    for (const std::string out : {"mended.stl", "mended.ply"}) {
        const Ran r = bench.run("mend open.off -o " + out + " --json m.json");
        CHECK(r.status == 0);
        CHECK(r.err.find("note: 1 hole was filled with 1 face") != std::string::npos);
        const json j = bench.report("m.json");
        CHECK(j["operation"] == "mend");
        CHECK(j["before"]["findings"]["open_edges"] == 3);
        CHECK(j["result"]["print_ready"] == true);
        CHECK(j["repairs"].size() == 12);
        CHECK(j["repairs"][8]["repair"] == "holes");
        CHECK(j["repairs"][8]["changed"] == 1);
        CHECK(j["repairs"][8]["places"].size() == 1);
        CHECK(bench.run("inspect " + out + " --html page.html").status == 0);
    }
    CHECK(bench.run("mend open.off -o o.stl --only orient,weld --json o.json").status == 1);
    CHECK(bench.report("o.json")["repairs"].size() == 2);
    CHECK(bench.run("mend open.off -o o.stl --max-hole 1").status == 1);
    CHECK(bench.run("mend a.stl -o o.stl").err.find("There was nothing to mend.") != std::string::npos);
    CHECK(bench.run("mend open.off -o o.stl --only solder").status == 2);
    CHECK(bench.run("mend none.off -o o.stl").status == 3);
    CHECK(bench.run("mend --help").out.find("t-junctions   splits borders") != std::string::npos);
}

TEST_CASE("a result that touches itself is separated or joined, and stands as it is written") {
    const Bench bench;
    REQUIRE(write_mesh(make_box({4, 4, 0}, {8, 8, 4}), bench.path("edge.ply")));
    for (const std::string out : {"out.ply", "out.stl"}) {
        CHECK(bench.run("combine union a.stl edge.ply -o " + out + " --json s.json").status == 0);
        CHECK(bench.report("s.json")["result"]["shells"] == 2);
        CHECK(bench.report("s.json")["pinched_edges"] == 1);
        CHECK(bench.run("combine union a.stl edge.ply --contact join -o " + out + " --json j.json").status == 0);
        CHECK(bench.report("j.json")["result"]["shells"] == 1);
        CHECK(bench.run("inspect " + out + " --html page.html").status == 0);
    }
    CHECK(bench.run("combine union a.stl edge.ply --contact glue -o out.ply").status == 2);
}

TEST_CASE("an open operand is closed, and the report says what was assumed") {
    const Bench bench;
    const Ran r = bench.run("combine union open.off b.ply -o out.stl --json r.json");
    CHECK(r.status == 0);
    CHECK(r.err.find("Operand 1: It was open: 1 hole was closed") != std::string::npos);
    CHECK(bench.report("r.json")["result"]["volume"] == Approx(64 + 64 - 8));
}

TEST_CASE("compare tells volumes, areas and distances, sampled at the spacing that it states") {
    const Bench bench;
    REQUIRE(write_mesh(make_box({0.5, 0, 0}, {4.5, 4, 4}), bench.path("moved.ply")));
    const Ran r = bench.run("compare a.stl moved.ply --spacing 0.25 --json report.json");
    CHECK(r.status == 0);
    const json j = bench.report("report.json")["result"];
    CHECK(j["spacing"] == 0.25);
    CHECK(j["hausdorff"].get<double>() == Approx(0.5));
    CHECK(j["volume_difference"].get<double>() == Approx(0).margin(1e-9));
    CHECK(j["a"]["area"].get<double>() == Approx(96));
}

TEST_CASE("run evaluates a job; an export equals the combine of its parts") {
    const Bench bench;
    REQUIRE(write_job(demo::lantern_job(), bench.path("lantern.anvil")));
    const Ran r = bench.run("run lantern.anvil -o lantern.ply --json report.json");
    INFO(r.err);
    CHECK(r.status == 0);
    CHECK(bench.report("report.json")["result"]["shells"] == 1);
    CHECK(bench.run("inspect lantern.ply").status == 0);
}

TEST_CASE("wrong usage is 2, with one line, and nothing written") {
    const Bench bench;
    for (const char* arguments :
         {"", "frobnicate", "combine", "combine union a.stl -o out.stl", "combine melt a.stl b.ply -o out.stl",
          "combine union a.stl b.ply", "combine union a.stl b.ply -o out.xyz", "inspect", "compare a.stl",
          "inspect a.stl --frob"}) {
        INFO(arguments);
        const Ran r = bench.run(arguments);
        CHECK(r.status == 2);
        CHECK(std::count(r.err.begin(), r.err.end(), '\n') == 1);
        CHECK(!bench.exists("out.stl"));
    }
}

TEST_CASE("an input that cannot be read is 3: one line with file and place, the old output stays") {
    const Bench bench;
    write_bytes(bench.path("cut.stl"), read_bytes(bench.path("a.stl")).substr(0, 200));
    write_bytes(bench.path("empty.obj"), "");
    write_bytes(bench.path("nan.off"), "OFF\n3 1 0\n0 0 0\n1 0 nan\n0 1 0\n3 0 1 2\n");
    std::filesystem::create_directory(bench.path("folder.stl"));
    write_bytes(bench.path("out.stl"), "old");
    for (const char* bad : {"cut.stl", "empty.obj", "nan.off", "folder.stl", "missing.ply"}) {
        INFO(bad);
        const Ran r = bench.run(std::string("combine union a.stl ") + bad + " -o out.stl --json report.json");
        CHECK(r.status == 3);
        CHECK(std::count(r.err.begin(), r.err.end(), '\n') == 1);
        CHECK(r.err.find(bad) != std::string::npos);
        CHECK(read_bytes(bench.path("out.stl")) == "old");
        CHECK(!bench.exists("report.json"));
        CHECK(bench.run(std::string("inspect ") + bad).status == 3);
    }
}

TEST_CASE("an operation that cannot be done is 4, and names the operand's file") {
    const Bench bench;
    REQUIRE(write_mesh(Mesh{}, bench.path("none.off")));
    const Ran r = bench.run("combine union a.stl none.off -o out.stl");
    CHECK(r.status == 4);
    CHECK(r.err.find("none.off (operand 2)") != std::string::npos);
    CHECK(!bench.exists("out.stl"));
    CHECK(bench.run("combine union a.stl b.ply -o nowhere/out.stl").status == 4);
}

TEST_CASE("the report tells curves, flush areas, closed holes and thin skins") {
    const Bench bench;
    REQUIRE(write_mesh(make_box({0, 0, 0}, {20, 20, 10}), bench.path("block.ply")));
    REQUIRE(write_mesh(make_box({5, 5, 0.05}, {15, 15, 10}), bench.path("pocket.ply")));
    CHECK(bench.run("combine difference block.ply pocket.ply -o out.stl --json report.json").status == 0);
    const json j = bench.report("report.json");
    REQUIRE(j["curves"].size() == 1);
    CHECK(j["curves"][0]["length"].get<double>() == Approx(40));
    CHECK(j["curves"][0]["operands"] == json{1, 2});
    REQUIRE(j["flush"].size() == 1);
    CHECK(j["flush"][0]["area"].get<double>() == Approx(100));
    CHECK(j["flush"][0]["facing"] == false);
    CHECK(j["closed_holes"].empty());
    CHECK(j["result"]["findings"]["thin_skins"] == 1);
    CHECK(j["result"]["print_ready"] == true);
    // Parts as small as this one are thin from a 500th of their diagonal down.
    CHECK(j["result"]["thin_below"].get<double>() == Approx(30.0 / 500));
    CHECK(bench.run("combine difference block.ply open.off -o out.ply --json report.json").status == 0);
    CHECK(bench.report("report.json")["closed_holes"][0]["operand"] == 2);
}

TEST_CASE("sheets on the command line: split along one, trim one, and what finds nothing to work with") {
    const Bench bench;
    REQUIRE(write_mesh(make_plate({2, 2, 1}, 9, 9), bench.path("plate.off")));
    Ran r = bench.run("combine split a.stl plate.off -o piece-%d.stl --json report.json");
    CHECK(r.status == 0);
    CHECK(bench.report("report.json")["pieces"].size() == 2);
    CHECK(signed_volume(*read_mesh(bench.path("piece-1.stl"))) + signed_volume(*read_mesh(bench.path("piece-2.stl"))) ==
          Approx(64));
    r = bench.run("combine trim-inside plate.off a.stl -o out.off");
    CHECK(r.status == 1);  // an open surface is not print-ready
    CHECK(surface_area(*read_mesh(bench.path("out.off"))) == Approx(16));
    r = bench.run("combine union a.stl plate.off -o out.off");
    CHECK(r.status == 0);
    CHECK(r.err.find("it is a sheet and encloses nothing") != std::string::npos);
}

TEST_CASE("what encloses nothing is left, thickened or closed, as --sheets says") {
    const Bench bench;
    Mesh tray = make_box({1, 1, 1}, {3, 3, 1.5});  // without its lid: 8 mm2 that enclose 2 mm3
    std::erase_if(tray.faces.raw(), [&](const Triangle& t) {
        return tray.points[t[0]].z == 1.5 && tray.points[t[1]].z == 1.5 && tray.points[t[2]].z == 1.5;
    });
    REQUIRE(write_mesh(tray, bench.path("tray.off")));
    auto volume_by = [&](const std::string& rule) {
        const Ran r = bench.run("mend tray.off -o out.off --json report.json " + rule);
        CHECK(r.status == (rule.empty() || rule == "--sheets leave" ? 1 : 0));
        return bench.report("report.json")["result"]["volume"].get<double>();
    };
    CHECK(volume_by("--sheets close") == Approx(2));
    CHECK(volume_by("--sheets thicken --thickness 0.1") == volume_by("--thickness 0.1"));
    CHECK(volume_by("--sheets thicken") > 0);
    volume_by("--sheets leave");
    volume_by("");
    CHECK(bench.report("report.json")["sheet"] == true);
    CHECK(bench.run("mend tray.off -o out.off --sheets close --thickness 1").status == 2);
    CHECK(bench.run("mend tray.off -o out.off --sheets melt").status == 2);
    Ran r = bench.run("combine difference a.stl tray.off -o out.off");
    CHECK(signed_volume(*read_mesh(bench.path("out.off"))) == Approx(64));
    r = bench.run("combine difference a.stl tray.off -o out.off --sheets close");
    CHECK(r.status == 0);
    CHECK(signed_volume(*read_mesh(bench.path("out.off"))) == Approx(62));
}

TEST_CASE("flush faces become one on request, and materials go from file to file") {
    const Bench bench;
    REQUIRE(write_mesh(make_box({4, 0, 0}, {8, 4, 4}), bench.path("beside.ply")));
    CHECK(bench.run("combine union a.stl beside.ply -o out.ply --merge-flush --json report.json").status == 0);
    CHECK(bench.report("report.json")["result"]["triangles"] == 12);
    write_bytes(
        bench.path("red.off"),
        "OFF\n4 4 0\n1 1 3\n2 1 3\n1 2 3\n1 1 9\n3 0 2 1 255 0 0\n3 0 1 3 255 0 0\n3 1 2 3 0 0 255\n3 0 3 2 255 0 0\n");
    CHECK(bench.run("combine union a.stl red.off -o out.off").status == 0);
    const Mesh out = *read_mesh(bench.path("out.off"));
    CHECK(out.materials.size() == 2);
    CHECK(std::ranges::count(out.material, no_material) > 0);
}

#ifndef __SANITIZE_ADDRESS__  // its shadow memory does not fit into any such limit
TEST_CASE("memory that cannot be had is 4, a sentence, and nothing is written") {
    const Bench bench;
    REQUIRE(write_mesh(make_icosphere({0, 0, 0}, 5, 7), bench.path("big.ply")));
    REQUIRE(write_mesh(make_icosphere({1, 0, 0}, 5, 7), bench.path("big2.ply")));
    // Somewhere on the way, wherever that is: from what reading takes up to what is enough.
    int refused = 0;
    for (const int kilobytes : {90'000, 115'000, 140'000, 170'000, 250'000, 600'000}) {
        std::filesystem::remove(bench.path("out.ply"));
        const Ran r =
            bench.run("combine union big.ply big2.ply -o out.ply", "ulimit -v " + std::to_string(kilobytes) + "; ");
        INFO(kilobytes << ": " << r.err);
        if (r.status == 0) continue;
        ++refused;
        CHECK((r.status == 4 || r.status == 3));
        CHECK(r.err.find("not enough memory") != std::string::npos);
        CHECK(!bench.exists("out.ply"));
    }
    CHECK(refused >= 2);
}
#endif

TEST_CASE("an interrupt is 5 and writes nothing") {
    const Bench bench;
    REQUIRE(write_mesh(make_icosphere({0, 0, 0}, 5, 7), bench.path("big.ply")));
    REQUIRE(write_mesh(make_icosphere({1, 0, 0}, 5, 7), bench.path("big2.ply")));
    const Ran r = bench.run("combine union big.ply big2.ply -o out.ply & p=$!; sleep 0.4; kill -INT $p; wait $p");
    CHECK(r.status == 5);
    CHECK(!bench.exists("out.ply"));
}

TEST_CASE("pieces go to numbered files, or to one file as shells") {
    const Bench bench;
    const Ran numbered = bench.run("combine pieces a.stl b.ply -o piece-%d.off --json report.json");
    INFO(numbered.err);
    CHECK(numbered.status == 0);
    const json j = bench.report("report.json");
    REQUIRE(j["pieces"].size() == 3);
    const double volumes[] = {56, 8, 56};
    for (std::size_t k = 0; k < 3; ++k) {
        const std::string name = "piece-" + std::to_string(k + 1) + ".off";
        CHECK(j["pieces"][k]["file"] == name);
        CHECK(j["pieces"][k]["print_ready"] == true);
        CHECK(signed_volume(*read_mesh(bench.path(name))) == volumes[k]);
    }
    CHECK(!bench.exists("piece-4.off"));
    const Ran one = bench.run("combine split a.stl b.ply -o split.off --json report.json");
    CHECK(one.status == 1);  // read back with equal points made one, the wall between the pieces is doubled
    CHECK(bench.report("report.json")["result"]["findings"]["duplicate_faces"] == 6);
    CHECK(bench.report("report.json")["result"]["volume"] == 64);
    CHECK(bench.run("combine reverse-difference a.stl b.ply -o out.stl").status == 0);
    CHECK(bench.run("combine gather a.stl open.off -o out.ply").status == 1);
    CHECK(bench.run("combine glue a.stl b.ply -o out.ply").status == 2);
}

TEST_CASE("nothing is written on failure: a report that cannot be written, a piece of several, standard output") {
    const Bench bench;
    write_bytes(bench.path("o.off"), "old");
    CHECK(bench.run("combine union a.stl b.ply -o o.off --json not-there/o.json").status == 4);
    CHECK(read_bytes(bench.path("o.off")) == "old");
    std::filesystem::create_directory(bench.path("t-2.off"));
    write_bytes(bench.path("t-1.off"), "old");
    CHECK(bench.run("combine split a.stl b.ply -o t-%d.off").status == 4);
    CHECK(read_bytes(bench.path("t-1.off")) == "old");
    const std::string full = "cd " + std::filesystem::path(bench.path("x")).parent_path().string() +
                             " && " ANVIL_CLI " combine union a.stl b.ply -o o.off --json - >/dev/full 2>err.txt";
    CHECK(WEXITSTATUS(std::system(full.c_str())) == 4);
    CHECK(read_bytes(bench.path("o.off")) == "old");
    const Ran limited = bench.run("combine union a.stl b.ply -o o.off", "ulimit -f 0; ");
    CHECK(limited.status != 0);
    CHECK(read_bytes(bench.path("o.off")) == "old");
}

TEST_CASE("two outputs, or an input and a report, of one name are refused") {
    const Bench bench;
    const std::string before = read_bytes(bench.path("a.stl"));
    CHECK(bench.run("combine union a.stl b.ply -o o.off --json o.off").status == 2);
    CHECK(bench.run("combine union a.stl b.ply -o o.off --json ./o.off").status == 2);
    CHECK(bench.run("inspect a.stl --json a.stl").status == 2);
    CHECK(bench.run("inspect a.stl --json r --html r").status == 2);
    CHECK(bench.run("compare a.stl b.ply --json b.ply").status == 2);
    CHECK(bench.run("mend a.stl -o m.stl --html a.stl").status == 2);
    CHECK(read_bytes(bench.path("a.stl")) == before);
    CHECK(!bench.exists("o.off"));
    CHECK(bench.run("mend a.stl -o a.stl").status == 0);  // a mesh may take the place of what it was made of
}

TEST_CASE("pieces: judged file by file, numbered with leading zeros, and no other pattern") {
    const Bench bench;
    const Ran r = bench.run("combine split a.stl b.ply -o t-%02d.stl --json r.json");
    CHECK(r.status == 0);
    CHECK(r.out.find("t-01.stl") != std::string::npos);
    CHECK(r.out.find("t-02.stl") != std::string::npos);
    CHECK(r.out.find("not print-ready") == std::string::npos);
    CHECK(bench.report("r.json")["result"]["print_ready"] == true);
    CHECK(bench.exists("t-01.stl"));
    CHECK(bench.run("combine split a.stl b.ply -o t-%s.stl").status == 2);
    CHECK(bench.run("combine split a.stl b.ply -o t-%d-%d.stl").status == 2);
}

TEST_CASE("a misspelt or missing command names the nearest; help works") {
    const Bench bench;
    CHECK(bench.run("comibne union a.stl b.ply -o o.off").err.find("did you mean \"combine\"?") != std::string::npos);
    CHECK(bench.run("comibne union a.stl b.ply -o o.off").err.find("? clean-anvil-cli --help lists them") !=
          std::string::npos);
    CHECK(bench.run("union a.stl b.ply -o o.off").err.find("clean-anvil-cli combine union A B -o OUT") !=
          std::string::npos);
    CHECK(bench.run("combine unoin a.stl b.ply -o o.off").err.find("did you mean \"union\"?") != std::string::npos);
    CHECK(bench.run("mend a.stl -o o.off --only hols").err.find("did you mean \"holes\"?") != std::string::npos);
    const Ran none = bench.run("");
    CHECK(none.status == 2);
    CHECK(none.err.find("name a command") != std::string::npos);
    CHECK(bench.run("help").status == 0);
    CHECK(bench.run("help mend").out.find("--thickness") != std::string::npos);
    CHECK(bench.run("mend").err.find("clean-anvil-cli mend --help") != std::string::npos);
}

TEST_CASE("names out of files stay on one line, and a path that is no UTF-8 is reported") {
    const Bench bench;
    const Ran r = bench.run("inspect \"$(printf 'a\\nb\\033[31m.stl')\"");
    CHECK(r.status == 3);
    CHECK(r.err.find("a\\nb\\x1b[31m.stl") != std::string::npos);
    CHECK(std::ranges::count(r.err, '\n') == 1);
    const Ran odd = bench.run("combine union a.stl b.ply -o \"$(printf 'caf\\351.off')\" --json r.json");
    CHECK(odd.status == 0);
    CHECK(bench.report("r.json")["result"]["file"].get<std::string>().starts_with("caf"));
}

TEST_CASE("mend writes what it judged, and counts every kind in its report") {
    const Bench bench;
    REQUIRE(bench.run("mend a.stl -o m.obj --json m.json").status == 0);
    const auto mesh = read_mesh(bench.path("m.obj"));
    REQUIRE(mesh);
    CHECK(mesh->points.size() == 8);
    CHECK(bench.report("m.json")["result"]["vertices"] == 8);
    // Two boxes with a gap of 0.001 mm between them: inspecting tells it, and so does mending.
    Mesh near = make_box({0, 0, 0}, {4, 4, 4});
    append(near, make_box({4.001, 0, 0}, {8, 4, 4}));
    REQUIRE(write_mesh(near, bench.path("near.ply")));
    bench.run("inspect near.ply --json i.json");
    bench.run("mend near.ply -o n.ply --json n.json");
    const json seen = bench.report("i.json")["findings"], mended = bench.report("n.json")["result"]["findings"];
    CHECK(seen["narrow_gaps"].get<int>() > 0);
    CHECK(mended == seen);
}

TEST_CASE("an open mesh has no volume to print, one shell is one shell") {
    const Bench bench;
    const Ran open = bench.run("inspect open.off");
    CHECK(open.out.find("volume") == std::string::npos);
    CHECK(open.out.find("1 shell;") != std::string::npos);
    CHECK(bench.run("inspect a.stl").out.find("volume 64 mm³") != std::string::npos);
}

TEST_CASE("coordinates beyond single precision into STL: status 4, with the size that fits") {
    const Bench bench;
    const std::string cases = std::string(ANVIL_CASES) + "/meshes/beyond-single-precision-";
    const Ran r = bench.run("combine union " + cases + "a.off " + cases + "b.off -o o.stl");
    CHECK(r.status == 4);
    CHECK(r.err.find("3.4e38") != std::string::npos);
    CHECK(!bench.exists("o.stl"));
}

TEST_CASE("meshes that ended the program, or took minutes") {
    const Bench bench;
    const std::string cases = std::string(ANVIL_CASES) + "/meshes/";
    CHECK(bench.run("mend " + cases + "group-that-crosses-itself-in-its-plane.stl --thickness 1 -o o.stl").status <= 1);
    const Ran far = bench.run("compare " + cases + "one-corner-far-away.ply b.ply --spacing 2 --json c.json");
    CHECK(far.status == 0);
    CHECK(bench.report("c.json")["result"]["spacing"].get<double>() > 2);  // what could be afforded, and it is told
}
