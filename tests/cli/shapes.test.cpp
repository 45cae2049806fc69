#include "core/job/edits.h"
#include "core/job/job_file.h"
#include "core/mesh/measures.h"
#include "tests/cli/bench.h"

using namespace anvil;
using namespace anvil::test;

TEST_CASE("shape: made of its measures, with units; wrong ones are told with what would be") {
    const Bench bench;
    const Ran r = bench.run("shape box x=1in y=2cm edge_radius=0 -o box.ply --json report.json");
    INFO(r.err);
    CHECK(r.status == 0);
    CHECK(bench.report("report.json")["kind"] == "box");
    CHECK(bench.report("report.json")["result"]["volume"].get<double>() == Approx(25.4 * 20 * 20));
    const std::pair<const char*, const char*> wrong[] = {
        {"shape bxo -o no.stl", "did you mean \"box\"?"},
        {"shape union -o no.stl", "there is no shape \"union\""},
        {"shape box lenght=3 -o no.stl", "is no setting of box"},
        {"shape cylinder diamter=3 -o no.stl", "did you mean \"diameter\"?"},
        {"shape cylinder diameter=0 -o no.stl", "is below 0.001"},
        {"shape cylinder diameter=x -o no.stl", "a length, 0.001 to 1000000 mm"},
        {"shape thread size=M11 -o no.stl", "knows no \"M11\""},
        {"shape box -o no.xyz", "no.xyz"}};
    for (const auto& [arguments, said] : wrong) {
        const Ran w = bench.run(arguments);
        INFO(arguments << ": " << w.err);
        CHECK(w.status == 2);
        CHECK(w.err.find(said) != std::string::npos);
    }
    const Ran tube = bench.run("shape tube inner=30 -o no.stl");
    CHECK(tube.status == 4);
    CHECK(tube.err.find("tube: the inner diameter") != std::string::npos);
    CHECK(!bench.exists("no.stl"));
}

TEST_CASE("shape profile: an outline as text or from a file; what is wrong in it is told with its line") {
    const Bench bench;
    write_bytes(bench.path("frame.txt"), "0 0\n30 0\n30 20\n0 20\n\n5 5\n25 5\n25 15\n5 15\n");
    REQUIRE(bench.run("shape profile outline=@frame.txt height=1cm -o out.ply --json report.json").status == 0);
    CHECK(bench.report("report.json")["result"]["volume"].get<double>() == Approx(4000));
    write_bytes(bench.path("frame.svg"),
                "<svg width='30mm' height='20mm' viewBox='0 0 30 20'>"
                "<path fill-rule='evenodd' d='M0 0h30v20h-30z M5 5h20v10h-20z'/></svg>");
    REQUIRE(bench.run("shape profile outline=@frame.svg height=1cm -o out.ply --json report.json").status == 0);
    CHECK(bench.report("report.json")["result"]["volume"].get<double>() == Approx(4000));
    write_bytes(bench.path("lines.svg"), "<svg><path id='ear' d='M0 0 L5 five'/></svg>");
    const Ran lines = bench.run("shape profile outline=@lines.svg -o no.ply");
    CHECK(lines.status == 3);
    CHECK(lines.err.find("profile, path \"ear\": path data cannot be read from \"five\"") != std::string::npos);
    write_bytes(bench.path("bad.txt"), "0 0\n30 zero\n");
    const Ran bad = bench.run("shape profile outline=@bad.txt -o no.ply");
    CHECK(bad.status == 3);
    CHECK(bad.err.find("line 2") != std::string::npos);
    CHECK(bench.run("shape profile outline=@none.txt -o no.ply").status == 3);
    CHECK(bench.run("shape profile \"outline=0 0\" -o no.ply").status == 3);
    CHECK(bench.run("shape profile \"outline=\" -o no.ply").err.find("encloses nothing") != std::string::npos);
    CHECK(!bench.exists("no.ply"));
}

TEST_CASE("place: mirrored, scaled, turned, centred, dropped and moved; what is wrong is told") {
    const Bench bench;
    REQUIRE(bench.run("place b.ply --size 0,0,1cm --rotate 0,0,90 --centre --drop --move -1,2in,0 -o out.ply").status ==
            0);
    const Box box = bounds(*read_mesh(bench.path("out.ply")));
    CHECK(norm(box.low - Vec3{-6, 45.8, 0}) < 1e-12);
    CHECK(norm(box.high - Vec3{4, 55.8, 10}) < 1e-12);
    CHECK(bench.run("place b.ply --scale 2,1,-1 --mirror x -o out.ply --json -").out.find("\"volume\": 128.0") !=
          std::string::npos);
    CHECK(bench.run("place b.ply --scale 0 -o no.ply").status == 4);
    CHECK(bench.run("place b.ply --move 1,2 -o no.ply").err.find("--move takes X,Y,Z") != std::string::npos);
    CHECK(bench.run("place b.ply --mirror w -o no.ply").status == 2);
    CHECK(bench.run("place sheet.off --size 0,0,5 -o no.ply").err.find("sheet.off: it has no extent along z") !=
          std::string::npos);
    CHECK(!bench.exists("no.ply"));
}

TEST_CASE("convert: one format to another, several into one file, and units of files that name none") {
    const Bench bench;
    REQUIRE(bench.run("convert a.stl far.obj -o both.off --unit in").status == 0);
    const Mesh both = *read_mesh(bench.path("both.off"));
    CHECK(both.faces.size() == 24);
    CHECK(both.points.size() == 16);
    CHECK(bounds(both).high == Vec3{254, 254, 254});
    CHECK(bench.run("convert open.off -o open.stl").status == 1);
    CHECK(bench.run("convert a.stl -o a.stl --unit yd").status == 2);
    CHECK(bench.run("convert none.stl -o no.stl").status == 3);
    CHECK(bench.run("inspect a.stl --unit cm --json -").out.find("64000") != std::string::npos);
}

TEST_CASE("inspect of several files: a line each, and one that cannot be read stops nothing") {
    const Bench bench;
    Ran r = bench.run("inspect a.stl b.ply --json report.json");
    CHECK(r.status == 0);
    CHECK(r.out.find("print-ready") != std::string::npos);
    CHECK(bench.report("report.json")["files"][1]["volume"] == 64);
    r = bench.run("inspect a.stl open.off");
    CHECK(r.status == 1);
    CHECK(r.out.find("open") != std::string::npos);
    r = bench.run("inspect none.stl a.stl --json -");
    CHECK(r.status == 3);
    CHECK(json::parse(r.out)["files"].size() == 2);
    CHECK(json::parse(r.out)["files"][0].contains("error"));
    CHECK(r.err.find("none.stl") != std::string::npos);
    CHECK(bench.run("inspect a.stl b.ply --html page.html").status == 2);
}

TEST_CASE("shape text: letters of the shipped font; a missing font and a missing letter are told") {
    const Bench bench;
    REQUIRE(bench.run("shape text text=B8 size=12 height=3 -o out.ply --json report.json").status == 0);
    CHECK(bench.report("report.json")["result"]["shells"] == 2);
    CHECK(bench.report("report.json")["result"]["bounds"][1][2] == 3);
    write_bytes(bench.path("plate.txt"), "BUOY 8\nHARBOUR");
    REQUIRE(bench.run("shape text text=@plate.txt around=60 -o out.ply --json report.json").status == 0);
    CHECK(bench.report("report.json")["result"]["print_ready"] == true);
    for (const auto& [wrong, said] : {std::pair{"text=A font=Nowhere", "the font \"Nowhere\" is not installed here"},
                                      {"text=\xd7\x90", "(U+05D0)"},
                                      {"text=", "no outline"}}) {
        const Ran r = bench.run(std::string("shape text ") + wrong + " -o no.ply");
        INFO(r.err);
        CHECK(r.status == 4);
        CHECK(r.err.find(said) != std::string::npos);
    }
}

TEST_CASE("3MF: pieces and results are bodies of one file, in millimetres whatever --unit says") {
    const Bench bench;
    REQUIRE(bench.run("shape box x=20 y=20 z=20 -o a.3mf").status == 0);
    REQUIRE(bench.run("shape box x=10 y=10 z=40 -o b.3mf").status == 0);
    REQUIRE(bench.run("combine split a.3mf b.3mf -o out.3mf --unit in --json report.json").status == 0);
    const auto report = bench.report("report.json");
    CHECK(report["result"]["print_ready"] == true);
    REQUIRE(report["pieces"].size() == 2);
    const auto bodies = read_meshes(bench.path("out.3mf"));
    REQUIRE(bodies);
    REQUIRE(bodies->size() == 2);
    CHECK((*bodies)[0].name == "result 1");
    CHECK(signed_volume((*bodies)[0].mesh) + signed_volume((*bodies)[1].mesh) == Approx(8000));
    // A job with a second part to deliver.
    Job job;
    const std::string box = add_part(job, "box", Shape{.kind = "box"}),
                      lid = add_part(job, "lid/top", Shape{.kind = "cylinder"});
    edit_part(job, lid, [](Part& p) { p.bench.position = {100, 0, 0}; });
    job.results.push_back(lid);
    REQUIRE(write_job(job, bench.path("two.anvil")));
    REQUIRE(bench.run("run two.anvil -o both.3mf --json report.json").status == 0);
    CHECK(bench.report("report.json")["others"][0]["name"] == "lid/top");
    const auto both = read_meshes(bench.path("both.3mf"));
    REQUIRE(both);
    REQUIRE(both->size() == 2);
    CHECK((*both)[0].name == "box");
    CHECK((*both)[1].name == "lid/top");
    REQUIRE(bench.run("run two.anvil -o both.stl").status == 0);
    CHECK(bench.exists("both-lid-top.stl"));
    CHECK(signed_volume(welded(*read_mesh(bench.path("both.stl")))) == Approx(8000));
    // Two of one name do not take each other's place.
    const std::string other = add_part(job, "lid/top", Shape{.kind = "sphere"}, {{200, 0, 0}, {}});
    job.results.push_back(other);
    REQUIRE(write_job(job, bench.path("three.anvil")));
    REQUIRE(bench.run("run three.anvil -o three.stl").status == 0);
    CHECK(bench.exists("three-lid-top.stl"));
    CHECK(bench.exists("three-lid-top-" + other + ".stl"));
    CHECK(bench.run("convert both.3mf -o both.ply").status == 0);
    CHECK(bench.run("inspect both.3mf").status == 0);
}

TEST_CASE(
    "3MF: bodies that fill each other are judged one by one, and stay bodies where they are converted or placed") {
    const Bench bench;
    REQUIRE(bench.run("shape box x=20 y=20 z=20 -o block.stl").status == 0);
    REQUIRE(bench.run("shape box x=10 y=10 z=40 -o post.stl").status == 0);
    REQUIRE(bench.run("combine pieces block.stl post.stl -o pieces.3mf").status == 0);
    const auto found = bench.run("inspect pieces.3mf --json report.json");
    INFO(found.out);
    CHECK(found.status == 0);
    CHECK(found.out.starts_with("3 bodies, each judged by itself\n\"result 1\": "));
    auto report = bench.report("report.json");
    CHECK(report["print_ready"] == true);
    CHECK(report["volume"] == Approx(20 * 20 * 20 + 10 * 10 * 20));
    REQUIRE(report["bodies"].size() == 3);
    CHECK(report["bodies"][2]["name"] == "result 3");
    CHECK(report["bodies"][2]["volume"] == Approx(10 * 10 * 20));
    CHECK(bench.run("inspect pieces.3mf block.stl").out.find("  pieces.3mf  print-ready") != std::string::npos);
    // As shells of one file the walls between them are doubled.
    CHECK(bench.run("convert pieces.3mf -o pieces.ply").status == 1);
    REQUIRE(bench.run("convert pieces.3mf block.stl -o all.3mf").status == 0);
    REQUIRE(bench.run("place all.3mf -o placed.3mf --rotate 0,0,90 --move 5,0,0").status == 0);
    const auto bodies = read_meshes(bench.path("placed.3mf"));
    REQUIRE(bodies);
    REQUIRE(bodies->size() == 4);
    CHECK((*bodies)[1].name == "result 2");
    CHECK((*bodies)[3].name == "block");
    CHECK(bounds((*bodies)[3].mesh).low == Vec3{-5, -10, 0});
    CHECK(bench.run("mend pieces.3mf -o mended.ply").err.find("3 bodies of the file are mended as one") !=
          std::string::npos);
}
