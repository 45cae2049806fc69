// Files that once stalled, misled or were taken for empty.
#include <sstream>

#include "core/io/mesh_file.h"
#include "tests/support/support.h"

using namespace anvil;
using namespace anvil::test;

TEST_CASE("lines that end with a lone carriage return") {
    const auto mesh = read_mesh(std::filesystem::path(ANVIL_CASES) / "meshes/lone-carriage-returns.obj");
    REQUIRE(mesh);
    CHECK(mesh->faces.size() == 12);
    const auto off = parse_mesh("OFF\r3 1 0\r0 0 0\r1 0 0\r0 1 0\r3 0 1 2\r", MeshFormat::off);
    REQUIRE(off);
    CHECK(off->faces.size() == 1);
    // Both together are one end of a line.
    const auto both = parse_mesh("v 0 0 0\r\nv 1 0 0\r\nv 0 1 0\r\nf 1 2 3\r\n", MeshFormat::obj);
    REQUIRE(both);
    CHECK(both->faces.size() == 1);
}

TEST_CASE("a number too small for a double is 0, one too large is refused") {
    const auto tiny = parse_mesh("v 1e-999 0.5 -1e-400\nv 1 0 0\nv 0 1 0\nf 1 2 3\n", MeshFormat::obj);
    REQUIRE(tiny);
    CHECK(tiny->points[VertexId(0)] == Vec3{0, 0.5, 0});
    CHECK(parse_mesh("v 0." + std::string(400, '0') + "1 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n", MeshFormat::obj).ok());
    CHECK(!parse_mesh("v 1e999 0 0\n", MeshFormat::obj));
    CHECK(!parse_mesh("v 1" + std::string(400, '0') + " 0 0\n", MeshFormat::obj));
}

TEST_CASE("elements without properties hold nothing, however many there are") {
    std::string ply =
        "ply\nformat ascii 1.0\nelement vertex 3\nproperty double x\nproperty double y\nproperty double z\n";
    for (int k = 0; k < 50'000; ++k) ply += "element e" + std::to_string(k) + " 900000\n";
    ply += "element face 1\nproperty list uchar int vertex_indices\nend_header\n0 0 0\n1 0 0\n0 1 0\n3 0 1 2\n";
    const auto mesh = parse_mesh(ply + std::string(1'000'000, ' '), MeshFormat::ply);
    REQUIRE(mesh);
    CHECK(mesh->faces.size() == 1);
}

TEST_CASE("a polygon of thousands of ragged corners keeps its area") {
    // A saw round a circle, its teeth of changing depth. Its area is the sum over its edges (the shoelace formula).
    std::mt19937 random(7);
    std::ostringstream off;
    constexpr int n = 4000;
    double area = 0;
    std::vector<Vec3> points;
    for (int k = 0; k < n; ++k) {
        const double radius = k % 2 ? 10 : std::uniform_real_distribution<double>(3, 9)(random);
        const double angle = 2 * 3.14159265358979323846 * k / n;
        points.push_back({radius * std::cos(angle), radius * std::sin(angle), 0});
    }
    off.precision(17);
    off << "OFF\n" << n << " 1 0\n";
    for (int k = 0; k < n; ++k) {
        const Vec3 &p = points[static_cast<std::size_t>(k)], &q = points[static_cast<std::size_t>((k + 1) % n)];
        area += (p.x * q.y - q.x * p.y) / 2;
        off << p.x << ' ' << p.y << " 0\n";
    }
    off << n;
    for (int k = 0; k < n; ++k) off << ' ' << k;
    const auto mesh = parse_mesh(off.str(), MeshFormat::off);
    REQUIRE(mesh);
    CHECK(mesh->faces.size() == n - 2);
    CHECK(surface_area(*mesh) == Approx(area).epsilon(1e-9));
}

TEST_CASE("coordinates beyond what a format holds are told with the size that fits, and nothing is written") {
    TempFolder folder;
    const auto mesh = read_mesh(std::filesystem::path(ANVIL_CASES) / "meshes/beyond-single-precision-a.off");
    REQUIRE(mesh);
    const auto written = write_mesh(*mesh, folder / "a.stl");
    REQUIRE(!written);
    CHECK(written.error().code == ErrorCode::out_of_range);
    CHECK(!written.error().is_input());
    CHECK(written.error().text.find("3.4e38") != std::string::npos);
    CHECK(!std::filesystem::exists(folder / "a.stl"));
    CHECK(write_mesh(*mesh, folder / "a.ply").ok());
}

TEST_CASE("a file of one format under another's ending is told to be what it is") {
    TempFolder folder;
    const Mesh box = make_box({0, 0, 0}, {1, 2, 3});
    const MeshFormat formats[] = {MeshFormat::stl, MeshFormat::obj, MeshFormat::ply, MeshFormat::off};
    const std::string endings[] = {".stl", ".obj", ".ply", ".off"};
    for (std::size_t is = 0; is < 4; ++is)
        for (std::size_t named = 0; named < 4; ++named) {
            const auto file = folder / ("a" + endings[named]);
            write_bytes(file, format_mesh(box, formats[is]));
            const auto mesh = read_mesh(file);
            REQUIRE(bool(mesh) == (is == named));
            if (is == named) continue;
            CHECK(mesh.error().text == "its content is that of a " + endings[is] + " file; give it that ending");
            CHECK(mesh.error().place == file.string());
        }
    write_bytes(folder / "job.stl", std::string("PK\3\4", 4) + std::string(200, ' '));
    CHECK(read_mesh(folder / "job.stl").error().text == "it is a zip archive, not a mesh: unpack it first");
}
