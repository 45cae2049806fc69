// Every variant of every format, written here byte by byte from its published description; then hostile bytes.
//   STL: "StL Interface Specification", 3D Systems, 1989.   OBJ: Wavefront "Object Files (.obj)", version 3.0.
//   PLY: G. Turk, "The PLY Polygon File Format", 1994.      OFF: the Geometry Center's "OOGL file formats".
#include <cstring>

#include <sys/stat.h>
#include <unistd.h>

#include "core/io/mesh_file.h"
#include "tests/support/support.h"

using namespace anvil;
using namespace anvil::test;

namespace {

template <class T>
std::string raw(T v, bool big = false) {
    std::string s(sizeof v, '\0');
    std::memcpy(s.data(), &v, sizeof v);
    if (big) std::reverse(s.begin(), s.end());
    return s;
}

std::string binary_stl(const std::string& header, std::uint32_t count, std::uint32_t written) {
    std::string s = header;
    s.resize(80, ' ');
    s += raw(count);
    const float corners[4][3] = {{0, 0, 0}, {1, 0, 0}, {0, 1, 0}, {0, 0, 1}};
    const int faces[4][3] = {{0, 2, 1}, {0, 1, 3}, {1, 2, 3}, {0, 3, 2}};
    for (std::uint32_t f = 0; f < written; ++f) {
        s += raw(0.f) + raw(0.f) + raw(0.f);
        for (int k : faces[f % 4])
            for (float c : corners[k]) s += raw(c);
        s += raw(std::uint16_t{0});
    }
    return s;
}

const std::string text_stl = R"(solid corner
 facet normal 0 0 -1
  outer loop
   vertex 0 0 0
   vertex 0 1e0 0
   vertex +1.0 0 0
  endloop
 endfacet
endsolid corner
)";

std::string ply_header(const std::string& encoding, const std::string& coordinate = "double") {
    return "ply\nformat " + encoding + " 1.0\ncomment made by hand\nelement vertex 4\nproperty " + coordinate +
           " x\nproperty " + coordinate + " y\nproperty " + coordinate +
           " z\nproperty uchar red\nelement face 4\nproperty list uchar int vertex_indices\nend_header\n";
}
const double tetrahedron[4][3] = {{0, 0, 0}, {1, 0, 0}, {0, 1, 0}, {0, 0, 1}};
const int tetrahedron_faces[4][3] = {{0, 2, 1}, {0, 1, 3}, {1, 2, 3}, {0, 3, 2}};

template <class Coordinate>
std::string binary_ply(bool big, const char* coordinate) {
    std::string s = ply_header(big ? "binary_big_endian" : "binary_little_endian", coordinate);
    for (const auto& p : tetrahedron) {
        for (double c : p) s += raw(static_cast<Coordinate>(c), big);
        s += '\x7f';
    }
    for (const auto& f : tetrahedron_faces) {
        s += '\x03';
        for (int v : f) s += raw(v, big);
    }
    return s;
}

void check_tetrahedron(const Result<Mesh>& mesh) {
    INFO((mesh ? "" : mesh.error().sentence()));
    REQUIRE(mesh);
    CHECK(mesh.value().faces.size() == 4);
    CHECK(signed_volume(mesh.value()) == Approx(1.0 / 6));
    CHECK(findings_text(inspected(mesh.value())) == "none");
}

void check_error(const std::string& bytes, MeshFormat format, ErrorCode code, const std::string& part_of_sentence) {
    const auto mesh = parse_mesh(bytes, format);
    REQUIRE(!mesh);
    INFO(mesh.error().sentence());
    CHECK(mesh.error().code == code);
    CHECK(mesh.error().sentence().find(part_of_sentence) != std::string::npos);
    CHECK(!mesh.error().place.empty());
    CHECK(mesh.error().sentence().find('\n') == std::string::npos);
}

}  // namespace

TEST_CASE("STL, binary") { check_tetrahedron(parse_mesh(binary_stl("made by hand", 4, 4), MeshFormat::stl)); }
TEST_CASE("STL, binary with \"solid\" at its start is still binary") {
    check_tetrahedron(parse_mesh(binary_stl("solid part\nfacet normal", 4, 4), MeshFormat::stl));
    check_tetrahedron(parse_mesh(binary_stl("solid", 4, 4) + "notes", MeshFormat::stl));
}
TEST_CASE("STL, text, with several solids and Windows line ends") {
    const auto one = parse_mesh(text_stl, MeshFormat::stl);
    REQUIRE(one);
    CHECK(one.value().faces.size() == 1);
    std::string two = text_stl + text_stl;
    for (std::size_t at = 0; (at = two.find('\n', at)) != std::string::npos; at += 2) two.replace(at, 1, "\r\n");
    const auto both = parse_mesh(two, MeshFormat::stl);
    REQUIRE(both);
    CHECK(both.value().faces.size() == 2);
}
TEST_CASE("OBJ: corners with texture and normal numbers, negative numbers, polygons, continued lines") {
    check_tetrahedron(
        parse_mesh("# hand\nv 0 0 0\nv 1 0 0 1.0\nv 0 1 0\nv 0 0 1\nvn 0 0 1\nvt 0 0\no part\nusemtl x\n"
                   "f 1/1/1 3/1/1 2/1/1\nf 1//1 2//1 4//1\nf -3 -2 -1\nf 1 \\\n 4 3\n",
                   MeshFormat::obj));
    const auto cube_side = parse_mesh("v 0 0 0\nv 1 0 0\nv 1 1 0\nv 0 1 0\nf 1 2 3 4", MeshFormat::obj);
    REQUIRE(cube_side);
    CHECK(surface_area(cube_side.value()) == Approx(1));
}
TEST_CASE("PLY, text") {
    std::string s = ply_header("ascii");
    for (const auto& p : tetrahedron)
        s += std::to_string(p[0]) + " " + std::to_string(p[1]) + " " + std::to_string(p[2]) + " 127\n";
    for (const auto& f : tetrahedron_faces)
        s += "3 " + std::to_string(f[0]) + " " + std::to_string(f[1]) + " " + std::to_string(f[2]) + "\n";
    check_tetrahedron(parse_mesh(s, MeshFormat::ply));
}
TEST_CASE("PLY, binary, both byte orders, float and double") {
    check_tetrahedron(parse_mesh(binary_ply<double>(false, "double"), MeshFormat::ply));
    check_tetrahedron(parse_mesh(binary_ply<double>(true, "float64"), MeshFormat::ply));
    check_tetrahedron(parse_mesh(binary_ply<float>(false, "float"), MeshFormat::ply));
    check_tetrahedron(parse_mesh(binary_ply<float>(true, "float32"), MeshFormat::ply));
}
TEST_CASE("OFF: plain, with comments, colours, a counts line of its own or not") {
    const std::string body = "0 0 0\n1 0 0\n0 1 0 # third\n\n0 0 1\n3 0 2 1\n3 0 1 3 255 0 0\n3 1 2 3\n3 0 3 2\n";
    check_tetrahedron(parse_mesh("OFF\n# hand\n4 4 6\n" + body, MeshFormat::off));
    check_tetrahedron(parse_mesh("OFF 4 4 0\n" + body, MeshFormat::off));
    check_tetrahedron(parse_mesh(
        "COFF\n4 4\n0 0 0 1 0 0 1\n1 0 0 1 0 0 1\n0 1 0 1 0 0 1\n0 0 1 1 0 0 1\n3 0 2 1\n3 0 1 3\n3 1 2 3\n3 0 3 2\n",
        MeshFormat::off));
}

TEST_CASE("writing and reading back: doubles to the bit, STL to single precision") {
    const Mesh m = turned(make_torus(1 / 3.0, 0.1, 17, 9), 0.123, {1, 2, 3});
    for (MeshFormat f : {MeshFormat::obj, MeshFormat::ply, MeshFormat::off}) {
        const auto back = parse_mesh(format_mesh(m, f), f);
        REQUIRE(back);
        CHECK(back.value() == m);
    }
    const auto back = parse_mesh(format_mesh(m, MeshFormat::stl), MeshFormat::stl);
    REQUIRE(back);
    for (FaceId f : ids<FaceId>(m.faces.size()))
        for (int k = 0; k < 3; ++k)
            for (int axis = 0; axis < 3; ++axis)
                CHECK(back.value().corner(f, k)[axis] == static_cast<double>(static_cast<float>(m.corner(f, k)[axis])));
}

TEST_CASE("an empty result is a valid file of every format") {
    for (MeshFormat f : {MeshFormat::stl, MeshFormat::obj, MeshFormat::ply, MeshFormat::off}) {
        const auto back = parse_mesh(format_mesh(Mesh{}, f), f);
        INFO((back ? "" : back.error().sentence()));
        REQUIRE(back);
        CHECK(back.value().empty());
    }
}

TEST_CASE("hostile STL") {
    using E = ErrorCode;
    check_error("", MeshFormat::stl, E::truncated, "the file is empty");
    check_error("solid", MeshFormat::stl, E::truncated, "ends before");
    check_error("hello", MeshFormat::stl, E::truncated, "too short");
    check_error(binary_stl("x", 4'000'000'000u, 2), MeshFormat::stl, E::truncated, "promises 4000000000 faces");
    check_error(binary_stl("x", 4, 3), MeshFormat::stl, E::truncated, "holds only 3");
    std::string nan = binary_stl("x", 4, 4);
    nan.replace(84 + 50 + 12, 4, raw(std::nanf("")));
    check_error(nan, MeshFormat::stl, E::bad_number, "face 1");
    check_error(text_stl.substr(0, 90), MeshFormat::stl, E::truncated, "line 6");
    std::string inf = text_stl;
    inf.replace(inf.find("1e0"), 3, "1e999");
    check_error(inf, MeshFormat::stl, E::bad_number, "line 5");
}
TEST_CASE("hostile OBJ") {
    using E = ErrorCode;
    check_error("v 0 0\n", MeshFormat::obj, E::bad_number, "line 1");
    check_error("v 0 0 nan\n", MeshFormat::obj, E::bad_number, "not a finite number");
    check_error("v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 4\n", MeshFormat::obj, E::bad_index, "uses point 4, but there are 3");
    check_error("v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 0\n", MeshFormat::obj, E::bad_index, "line 4");
    check_error("v 0 0 0\nf -2 1 1\n", MeshFormat::obj, E::bad_index, "line 2");
    check_error("v 0 0 0\nf 1 1\n", MeshFormat::obj, E::bad_syntax, "three corners");
    check_error(std::string("v 0 0 0\n\0\1\2", 11), MeshFormat::obj, E::bad_syntax, "not text");
    check_error("just some words\n", MeshFormat::obj, E::bad_syntax, "is this an OBJ file");
}
TEST_CASE("hostile PLY") {
    using E = ErrorCode;
    const std::string good = binary_ply<double>(false, "double");
    check_error("plx\n", MeshFormat::ply, E::bad_syntax, "expected \"ply\"");
    check_error("ply\nformat ascii 1.0\n", MeshFormat::ply, E::truncated, "header does not end");
    check_error("ply\nformat middle_endian 1.0\nend_header\n", MeshFormat::ply, E::bad_syntax, "unknown encoding");
    check_error(good.substr(0, good.size() - 5), MeshFormat::ply, E::truncated, "face 3");
    std::string many = good;
    many.replace(many.find("element face 4"), 14, "element face 4000000000");
    check_error(many, MeshFormat::ply, E::bad_count, "4000000000");
    std::string index = good;
    index.replace(index.size() - 4, 4, raw(77));
    check_error(index, MeshFormat::ply, E::bad_index, "point 77 of 4");
    index.replace(index.size() - 4, 4, raw(-1));
    check_error(index, MeshFormat::ply, E::bad_index, "face 3");
    std::string nan = good;
    nan.replace(good.find("end_header\n") + 11, 8, raw(std::nan("")));
    check_error(nan, MeshFormat::ply, E::bad_number, "point 0");
}
TEST_CASE("hostile OFF") {
    using E = ErrorCode;
    check_error("FOO\n", MeshFormat::off, E::bad_syntax, "expected \"OFF\"");
    check_error("OFF\n4000000000 4000000000 0\n", MeshFormat::off, E::bad_count, "4000000000");
    check_error("OFF\n3 1 0\n0 0 0\n1 0 0\n", MeshFormat::off, E::truncated, "point 2 of 3");
    check_error("OFF\n3 1 0\n0 0 0\n1 0 0\n0 inf 0\n3 0 1 2\n", MeshFormat::off, E::bad_number, "line 5");
    check_error("OFF\n3 1 0\n0 0 0\n1 0 0\n0 1 0\n3 0 1 3\n", MeshFormat::off, E::bad_index, "point 3 of 3");
    check_error("OFF\n3 1 0\n0 0 0\n1 0 0\n0 1 0\n3 0 1\n", MeshFormat::off, E::truncated, "line 6");
    check_error("OFF BINARY\n", MeshFormat::off, E::bad_syntax, "binary OFF");
}

TEST_CASE("no damage to a good file makes a reader misbehave: an error, or a mesh in range") {
    const Mesh m = make_icosphere({0, 0, 0}, 3, 1);
    for (MeshFormat format : {MeshFormat::stl, MeshFormat::obj, MeshFormat::ply, MeshFormat::off}) {
        const std::string good = format_mesh(m, format);
        for (std::uint64_t seed = 0; seed < 400; ++seed) {
            std::mt19937_64 random(seed);
            std::string bad = good;
            for (int k = 0; k < 1 + static_cast<int>(seed % 5); ++k)
                bad[random() % bad.size()] = static_cast<char>(random());
            if (seed % 3 == 0) bad.resize(random() % bad.size());
            const auto mesh = parse_mesh(bad, format);
            if (!mesh) {
                CHECK(!mesh.error().text.empty());
                continue;
            }
            bool in_range = true;
            for (const Triangle& t : mesh.value().faces)
                for (VertexId v : t) in_range = in_range && v.value() < mesh.value().points.size();
            for (const Vec3& p : mesh.value().points) in_range = in_range && is_finite(p);
            CHECK(in_range);
        }
    }
}

TEST_CASE("files: missing, a folder, of unknown kind; the sentence names the file") {
    TempFolder folder;
    auto error = [&](const std::filesystem::path& p) {
        const auto mesh = read_mesh(p);
        REQUIRE(!mesh);
        CHECK(mesh.error().is_input());
        CHECK(mesh.error().sentence().starts_with(p.string()));
        return mesh.error().code;
    };
    CHECK(error(folder / "nothing.stl") == ErrorCode::cannot_open);
    std::filesystem::create_directory(folder / "folder.stl");
    CHECK(error(folder / "folder.stl") == ErrorCode::not_a_file);
    write_bytes(folder / "part.xyz", "1 2 3");
    CHECK(error(folder / "part.xyz") == ErrorCode::unknown_format);
    write_bytes(folder / "part.stl", "");
    CHECK(error(folder / "part.stl") == ErrorCode::truncated);
    write_bytes(folder / "secret.stl", text_stl);
    ::chmod((folder / "secret.stl").c_str(), 0);
    // Nothing is unreadable to root, who becomes nobody for the while.
    const bool root = ::geteuid() == 0;
    if (root) {
        ::chmod(folder.path().c_str(), 0755);
        REQUIRE(::seteuid(65534) == 0);
    }
    const auto secret = read_mesh(folder / "secret.stl");
    if (root) REQUIRE(::seteuid(0) == 0);
    REQUIRE(!secret);
    CHECK(secret.error().code == ErrorCode::cannot_open);
    CHECK(secret.error().sentence().find("Permission denied") != std::string::npos);
}

TEST_CASE("a failed write leaves the old file and nothing beside it") {
    TempFolder folder;
    REQUIRE(!write_mesh(make_box({0, 0, 0}, {1, 1, 1}), folder / "missing" / "out.stl"));
    std::filesystem::create_directory(folder / "out.stl");  // a folder in the way
    const auto failed = write_mesh(make_box({0, 0, 0}, {1, 1, 1}), folder / "out.stl");
    REQUIRE(!failed);
    CHECK(failed.error().code == ErrorCode::cannot_write);
    CHECK(std::distance(std::filesystem::directory_iterator(folder.path()), {}) == 1);
}

TEST_CASE("real meshes survive every format: doubles to the bit, STL to single precision") {
    std::size_t done = 0;
    for (const auto& file : real_meshes()) {
        const auto mesh = read_mesh(file);
        if (!mesh || mesh->faces.size() > 20000) continue;  // some files hold other things than triangle meshes
        INFO(file.filename().string());
        for (const MeshFormat format : {MeshFormat::ply, MeshFormat::off, MeshFormat::obj}) {
            const auto back = parse_mesh(format_mesh(*mesh, format), format);
            REQUIRE(back);
            CHECK(*back == *mesh);
        }
        const auto stl = parse_mesh(format_mesh(*mesh, MeshFormat::stl), MeshFormat::stl);
        REQUIRE(stl);
        REQUIRE(stl->faces.size() == mesh->faces.size());
        bool near = true;
        for (FaceId f : ids<FaceId>(mesh->faces.size()))
            for (int k = 0; k < 3; ++k)
                for (int axis = 0; axis < 3; ++axis)
                    near = near &&
                           stl->corner(f, k)[axis] == static_cast<double>(static_cast<float>(mesh->corner(f, k)[axis]));
        CHECK(near);
        ++done;
    }
    CHECK(done > 50);
}

TEST_CASE("materials and face colours: read from each format that has them, and back the same") {
    // OFF: whole numbers up to 255, or decimal ones up to 1 (OOGL file formats).
    const auto off =
        parse_mesh("OFF\n4 3 0\n0 0 0\n1 0 0\n0 1 0\n0 0 1\n3 0 1 2 255 0 128\n3 0 1 3 1.0 0.0 0.5 1.0\n3 1 2 3\n",
                   MeshFormat::off);
    REQUIRE(off);
    REQUIRE(off->materials.size() == 1);
    CHECK(off->materials[0].colour == std::array<std::uint8_t, 3>{255, 0, 128});
    CHECK(off->material.raw() == std::vector<std::uint32_t>{0, 0, no_material});
    // OBJ: names.
    const auto obj =
        parse_mesh("v 0 0 0\nv 1 0 0\nv 0 1 0\nv 1 1 0\nf 1 2 3\nusemtl brass\nf 2 4 3 1\nusemtl rgb-FF0080\nf 1 2 4\n",
                   MeshFormat::obj);
    REQUIRE(obj);
    REQUIRE(obj->faces.size() == 4);
    CHECK(obj->material.raw() == std::vector<std::uint32_t>{no_material, 0, 0, 1});
    CHECK(obj->materials[0] == Material{"brass", {}});
    CHECK(obj->materials[1].colour == std::array<std::uint8_t, 3>{255, 0, 128});
    // PLY: properties red, green, blue of faces, as many programs write them.
    const auto ply = parse_mesh(
        "ply\nformat ascii 1.0\nelement vertex 3\nproperty float x\nproperty float y\nproperty float z\n"
        "element face 2\nproperty list uchar int vertex_indices\nproperty uchar red\nproperty uchar green\n"
        "property uchar blue\nend_header\n0 0 0\n1 0 0\n0 1 0\n3 0 1 2 10 20 30\n3 2 1 0 40 50 60\n",
        MeshFormat::ply);
    REQUIRE(ply);
    REQUIRE(ply->materials.size() == 2);
    CHECK(ply->materials[1].colour == std::array<std::uint8_t, 3>{40, 50, 60});
    for (const auto& [mesh, format] : {std::pair{*off, MeshFormat::off},
                                       {*off, MeshFormat::ply},
                                       {*off, MeshFormat::obj},
                                       {*obj, MeshFormat::obj},
                                       {*obj, MeshFormat::ply},
                                       {*ply, MeshFormat::ply}}) {
        const auto back = parse_mesh(format_mesh(mesh, format), format);
        REQUIRE(back);
        REQUIRE(back->material.size() == mesh.faces.size());
        for (FaceId f : ids<FaceId>(mesh.faces.size())) {
            REQUIRE((back->material[f] == no_material) == (mesh.material[f] == no_material));
            if (mesh.material[f] != no_material)
                CHECK(back->materials[back->material[f]] == mesh.materials[mesh.material[f]]);
        }
    }
    // Without any, files are as they always were.
    CHECK(format_mesh(make_box({0, 0, 0}, {1, 1, 1}), MeshFormat::ply).find("material") == std::string::npos);
    CHECK(parse_mesh(format_mesh(*off, MeshFormat::stl), MeshFormat::stl)->material.empty());
}
