// 3MF, by hand from the core specification 1.3 and the materials and production extensions (3MF Consortium), and what
// we write read by the consortium's own library in its strict mode.
#include "core/io/archive.h"
#include "core/io/mesh_file.h"
#include "core/mesh/measures.h"
#include "tests/io/strict_3mf.h"
#include "tests/support/support.h"

using namespace anvil;
using namespace anvil::test;

namespace {

const std::string content_types =
    R"(<?xml version="1.0" encoding="UTF-8"?><Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/><Default Extension="model" ContentType="application/vnd.ms-package.3dmanufacturing-3dmodel+xml"/></Types>)";
std::string relationships(const std::string& target) {
    return R"(<?xml version="1.0" encoding="UTF-8"?><Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Target=")" +
           target +
           R"(" Id="rel0" Type="http://schemas.microsoft.com/3dmanufacturing/2013/01/3dmodel"/></Relationships>)";
}
const std::string tetra_points =
    R"(<vertices><vertex x="0" y="0" z="0"/><vertex x="10" y="0" z="0"/><vertex x="0" y="10" z="0"/><vertex x="0" y="0" z="10"/></vertices>)";
const std::string tetra_faces =
    R"(<triangles><triangle v1="0" v2="2" v3="1"/><triangle v1="0" v2="1" v3="3"/><triangle v1="1" v2="2" v3="3"/><triangle v1="0" v2="3" v3="2"/></triangles>)";
const std::string tetra_mesh = "<mesh>" + tetra_points + tetra_faces + "</mesh>";

std::string model(const std::string& resources, const std::string& build, const std::string& more = "") {
    return R"(<?xml version="1.0" encoding="UTF-8"?><model xml:lang="en-US" xmlns="http://schemas.microsoft.com/3dmanufacturing/core/2015/02" )" +
           more + "><resources>" + resources + "</resources><build>" + build + "</build></model>";
}
std::string package(const std::string& text, std::vector<ArchiveEntry> more = {}) {
    std::vector<ArchiveEntry> entries{{"[Content_Types].xml", content_types},
                                      {"_rels/.rels", relationships("/3D/3dmodel.model")},
                                      {"3D/3dmodel.model", text}};
    entries.insert(entries.end(), more.begin(), more.end());
    const auto bytes = packed_archive(entries);
    REQUIRE(bytes);
    return *bytes;
}
struct Read {
    TempFolder folder;
    std::vector<NamedMesh> bodies;
    explicit Read(const std::string& bytes) {
        write_bytes(folder / "model.3mf", bytes);
        auto read = read_meshes(folder / "model.3mf");
        INFO((read ? "" : read.error().sentence()));
        REQUIRE(read);
        bodies = std::move(*read);
    }
};
std::string sentence(const std::string& bytes) {
    TempFolder folder;
    write_bytes(folder / "model.3mf", bytes);
    const auto read = read_mesh(folder / "model.3mf");
    REQUIRE(!read);
    CHECK(read.error().place.find("model.3mf") != std::string::npos);
    return read.error().sentence();
}
std::string object(const std::string& id, const std::string& content, const std::string& more = "") {
    return "<object id=\"" + id + "\" type=\"model\" " + more + ">" + content + "</object>";
}
std::string item(const std::string& id, const std::string& more = "") {
    return "<item objectid=\"" + id + "\" " + more + "/>";
}

}  // namespace

TEST_CASE("3MF: objects by their build items, with names, transforms and units") {
    const Read one(package(model(object("1", tetra_mesh, "name=\"tip &amp; tail\""), item("1"))));
    REQUIRE(one.bodies.size() == 1);
    CHECK(one.bodies[0].name == "tip & tail");
    CHECK(signed_volume(one.bodies[0].mesh) == Approx(1000.0 / 6));
    const Read two(package(model(object("1", tetra_mesh) + object("7", tetra_mesh, "name=\"other\""),
                                 item("7", "transform=\"2 0 0 0 2 0 0 0 2 100 0 -5\"") + item("1") + item("1"))));
    REQUIRE(two.bodies.size() == 3);
    CHECK(two.bodies[0].name == "other");
    CHECK(two.bodies[1].name == "model 2");
    CHECK(signed_volume(two.bodies[0].mesh) == Approx(8 * 1000.0 / 6));
    CHECK(bounds(two.bodies[0].mesh).low == Vec3{100, 0, -5});
    // A mirroring transform turns the faces round, so that they look out again.
    const Read mirrored(package(model(object("1", tetra_mesh), item("1", "transform=\"-1 0 0 0 1 0 0 0 1 0 0 0\""))));
    CHECK(signed_volume(mirrored.bodies[0].mesh) == Approx(1000.0 / 6));
    for (const auto& [unit, mm] : {std::pair{"micron", 0.001},
                                   {"millimeter", 1.0},
                                   {"centimeter", 10.0},
                                   {"inch", 25.4},
                                   {"foot", 304.8},
                                   {"meter", 1000.0}}) {
        const Read scaled(package(model(object("1", tetra_mesh), item("1", "transform=\"1 0 0 0 1 0 0 0 1 1 0 0\""),
                                        std::string("unit=\"") + unit + "\"")));
        CHECK(bounds(scaled.bodies[0].mesh).low.x == Approx(mm));
        CHECK(bounds(scaled.bodies[0].mesh).high.x == Approx(11 * mm));
    }
}

TEST_CASE("3MF: components, also in other parts of the package, are put together at their places") {
    const std::string pair =
        "<components><component objectid=\"1\"/>"
        "<component objectid=\"1\" transform=\"1 0 0 0 1 0 0 0 1 20 0 0\"/></components>";
    const std::string four =
        "<components><component objectid=\"2\"/>"
        "<component objectid=\"2\" transform=\"1 0 0 0 1 0 0 0 1 0 20 0\"/></components>";
    const Read nested(package(model(object("1", tetra_mesh) + object("2", pair) + object("3", four), item("3"))));
    REQUIRE(nested.bodies.size() == 1);
    CHECK(nested.bodies[0].mesh.faces.size() == 16);
    CHECK(bounds(nested.bodies[0].mesh).high == Vec3{30, 30, 10});
    const Read elsewhere(package(
        model(object("1", "<components><component objectid=\"5\" p:path=\"/3D/other.model\"/></components>"), item("1"),
              "requiredextensions=\"p\" xmlns:p=\"http://schemas.microsoft.com/3dmanufacturing/production/2015/06\""),
        {{"3D/other.model", model(object("5", tetra_mesh), "")}}));
    CHECK(elsewhere.bodies[0].mesh.faces.size() == 4);
}

TEST_CASE("3MF: colours of objects, tetra_faces and groups; what has none has none") {
    const std::string materials =
        R"(<basematerials id="9"><base name="PETG" displaycolor="#0E6B73"/><base name="TPU" displaycolor="#A8326FFF"/></basematerials><m:colorgroup id="8"><m:color color="#102030"/></m:colorgroup>)";
    const std::string some =
        R"(<triangles><triangle v1="0" v2="2" v3="1"/><triangle v1="0" v2="1" v3="3" pid="9" p1="1"/><triangle v1="1" v2="2" v3="3" pid="8" p1="0"/><triangle v1="0" v2="3" v3="2" p1="1"/></triangles>)";
    const char* const extension = "xmlns:m=\"http://schemas.microsoft.com/3dmanufacturing/material/2015/02\"";
    auto name_of = [](const Mesh& mesh, std::uint32_t f) {
        const std::uint32_t m = mesh.material.empty() ? no_material : mesh.material[FaceId(f)];
        return m == no_material ? std::string("-") : mesh.materials[m].name;
    };
    const Read own(
        package(model(materials + object("1", "<mesh>" + tetra_points + some + "</mesh>", "pid=\"9\" pindex=\"0\""),
                      item("1"), extension)));
    const Mesh& mesh = own.bodies[0].mesh;
    CHECK(name_of(mesh, 0) == "PETG");
    CHECK(name_of(mesh, 1) == "TPU");
    CHECK(name_of(mesh, 2) == "rgb-102030");
    CHECK(name_of(mesh, 3) == "TPU");
    CHECK(mesh.materials[mesh.material[FaceId(1)]].colour == std::array<std::uint8_t, 3>{0xa8, 0x32, 0x6f});
    const Read none(
        package(model(materials + object("1", "<mesh>" + tetra_points + some + "</mesh>"), item("1"), extension)));
    CHECK(name_of(none.bodies[0].mesh, 0) == "-");
    CHECK(name_of(none.bodies[0].mesh, 1) == "TPU");
    const Read plain(package(model(object("1", tetra_mesh), item("1"))));
    CHECK(plain.bodies[0].mesh.material.empty());
}

TEST_CASE("3MF: what is written is read back to the bit, with names and materials") {
    Mesh ball = make_icosphere({1.0 / 3, 2e-7, -1e3}, 7.1, 2);
    ball.materials = {{"PETG", std::array<std::uint8_t, 3>{1, 2, 3}}, {"TPU <soft> & \"grey\"", {}}};
    for (std::size_t f = 0; f < ball.faces.size(); ++f)
        ball.material.push_back(f % 3 == 0 ? no_material : static_cast<std::uint32_t>(f % 2));
    const std::vector<NamedMesh> bodies{{"ball <1>", ball}, {"\xc3\xa4ther", make_box({0, 0, 0}, {1, 2, 3})}};
    TempFolder folder;
    REQUIRE(write_meshes(bodies, folder / "two.3mf"));
    const auto back = read_meshes(folder / "two.3mf");
    REQUIRE(back);
    REQUIRE(back->size() == 2);
    CHECK((*back)[0].name == "ball <1>");
    CHECK((*back)[1].name == "\xc3\xa4ther");
    CHECK((*back)[0].mesh.points.raw() == welded(ball).points.raw());
    CHECK((*back)[0].mesh.faces.raw() == welded(ball).faces.raw());
    for (const FaceId f : ids<FaceId>(ball.faces.size())) {
        const Mesh& mesh = (*back)[0].mesh;
        CHECK((mesh.material[f] == no_material) == (ball.material[f] == no_material));
        if (mesh.material[f] != no_material)
            CHECK(mesh.materials[mesh.material[f]].name == ball.materials[ball.material[f]].name);
    }
    REQUIRE(write_mesh(ball, folder / "again.3mf"));
    const auto first = read_file(folder / "again.3mf");
    REQUIRE(write_mesh(ball, folder / "again.3mf"));
    CHECK(*first == *read_file(folder / "again.3mf"));  // no time of day in it
    REQUIRE(write_mesh(Mesh{}, folder / "nothing.3mf"));
    CHECK(read_mesh(folder / "nothing.3mf")->empty());
    CHECK(!read_meshes(folder / "nothing.3mf"));
}

TEST_CASE("3MF: what is written passes the strict reader of the consortium's library, with the same numbers") {
    Mesh ball = make_icosphere({0, 0, 50}, 20, 3);
    for (auto& p : ball.points.raw()) p = {float(p.x), float(p.y), float(p.z)};
    ball.materials = {{"PETG", std::array<std::uint8_t, 3>{1, 2, 3}}};
    ball.material.raw().assign(ball.faces.size(), 0);
    ball.material[FaceId(5)] = no_material;
    const std::vector<NamedMesh> bodies{{"ball", ball}, {"box", make_box({0, 0, 0}, {1, 2, 3})}};
    TempFolder folder;
    REQUIRE(write_meshes(bodies, folder / "two.3mf"));
    const StrictlyRead read = read_strictly(folder / "two.3mf");
    CHECK(read.refused == "");
    CHECK(read.warnings == 0);
    REQUIRE(read.meshes.size() == 2);
    CHECK(read.manifold == std::vector<bool>{true, true});
    CHECK(read.meshes[0].points.raw() == welded(ball).points.raw());
    CHECK(read.meshes[0].faces.raw() == welded(ball).faces.raw());
    CHECK(signed_volume(read.meshes[1]) == Approx(6));
    // It is as strict as it says.
    write_bytes(folder / "bad.3mf", package(model(object("1", tetra_mesh), item("1") + item("5"))));
    CHECK(read_strictly(folder / "bad.3mf").refused != "");
}

TEST_CASE(
    "3MF: a thousand components in one another, objects of themselves, bombs and lies about sizes end with a "
    "sentence") {
    const std::string self = object("1", "<components><component objectid=\"1\"/></components>");
    CHECK(sentence(package(model(self, item("1")))).find("component of itself") != std::string::npos);
    std::string chain = object("0", tetra_mesh), doubling = chain;
    for (int k = 1; k <= 1000; ++k) {
        const std::string before = "<component objectid=\"" + std::to_string(k - 1) + "\"/>";
        chain += object(std::to_string(k), "<components>" + before + "</components>");
        if (k <= 40) doubling += object(std::to_string(k), "<components>" + before + before + "</components>");
    }
    CHECK(sentence(package(model(chain, item("1000")))).find("64 deep") != std::string::npos);
    CHECK(sentence(package(model(doubling, item("40")))).find("100000 components") != std::string::npos);
    const std::string packed_well = package(model(object("1", tetra_mesh) + std::string(64 << 20, ' '), item("1")));
    CHECK(packed_well.size() < 1'000'000);
    CHECK(sentence(packed_well).find("made to fill the memory") != std::string::npos);
    // The size in the central directory is made larger and smaller than what comes.
    const std::string good = package(model(object("1", tetra_mesh), item("1")));
    const std::size_t at = good.rfind("3D/3dmodel.model") - 46 + 24;
    for (const int by : {-100, 1, 127}) {
        std::string lie = good;
        lie[at] = static_cast<char>(lie[at] + by);
        CHECK(!sentence(lie).empty());
    }
}

TEST_CASE("3MF: what is wrong is told with its place") {
    auto told = [](const std::string& resources, const std::string& build, const char* what,
                   const std::string& more = "") {
        const std::string said = sentence(package(model(resources, build, more)));
        INFO(said);
        CHECK(said.find(what) != std::string::npos);
    };
    const std::string body = object("1", tetra_mesh);
    told(body, item("2"), "there is no object \"2\"");
    told(body, item("1", "transform=\"1 0 0\""), "build item 1: its transform cannot be read");
    told(body, item("1"), "a unit that 3MF has not: \"yard\"", "unit=\"yard\"");
    told(body, item("1"), "needs the 3MF extension \"http://example.org/lattice\"",
         "requiredextensions=\"b\" xmlns:b=\"http://example.org/lattice\"");
    told(object("4", R"(<mesh><vertices><vertex x="0" y="nan" z="0"/></vertices><triangles/></mesh>)"), item("4"),
         "object 4, vertex 0: a coordinate is not a finite number");
    told(object("4", "<mesh>" + tetra_points + R"(<triangles><triangle v1="0" v2="1" v3="9"/></triangles></mesh>)"),
         item("4"), "object 4, triangle 0: a corner is no vertex of the object: \"9\"");
    CHECK(sentence(package("<model")).find("no valid XML") != std::string::npos);
    CHECK(sentence(package("<html/>")).find("first element is no model") != std::string::npos);
    CHECK(sentence("PK\3\4 nonsense").find("cannot be opened as a zip archive") != std::string::npos);
    const auto other = packed_archive(std::vector<ArchiveEntry>{{"readme.txt", "hello"}});
    CHECK(sentence(*other).find("there is no model in it") != std::string::npos);
    // Every byte of a small package changed, one at a time.
    const std::string good = package(model(body, item("1")));
    TempFolder folder;
    for (std::size_t k = 0; k < good.size(); k += 3) {
        std::string bytes = good;
        bytes[k] = static_cast<char>(bytes[k] ^ 0x5a);
        write_bytes(folder / "damaged.3mf", bytes);
        const auto read = read_mesh(folder / "damaged.3mf");
        if (!read) CHECK(!read.error().text.empty());
    }
}

TEST_CASE("files of other formats are called by what they are, whatever their ending says") {
    TempFolder folder;
    const std::string three_mf = package(model(object("1", tetra_mesh), item("1")));
    const std::tuple<const char*, std::string, const char*> files[] = {
        {"part.stl", three_mf, "its content is that of a .3mf file; give it that ending"},
        {"part.stl", "glTF\2\0\0\0", "it is a GLB file, which is not read here: export it as 3MF"},
        {"part.glb", "glTF\2", "it is a GLB file"},
        {"part.step", "ISO-10303-21;\nHEADER;", "it is a STEP file"},
        {"part.obj", "<?xml version=\"1.0\"?><COLLADA>", "it is a COLLADA file"},
        {"part.stl", "\x89PNG\r\n", "it is a picture (PNG), which is not read here"},
        {"logo.stl", "<svg xmlns='x'/>", "add the shape Profile"},
        {"part.dxf", "0\nSECTION\n2\nENTITIES", "it is a DXF drawing"},
        {"part.xyz", "1 2 3", "the ending must be"}};
    for (const auto& [name, bytes, said] : files) {
        write_bytes(folder / name, bytes);
        const auto read = read_mesh(folder / name);
        REQUIRE(!read);
        INFO(read.error().sentence());
        CHECK(read.error().text.find(said) != std::string::npos);
    }
}
