// Bodies and copies of them that lie on each other but for their last digits: the case in which rounding the result
// makes faces cross everywhere. Each result is inspected in full; volumes obey what sets do.
#include "core/io/mesh_file.h"
#include "tests/combine/near.h"

using namespace anvil;
using namespace anvil::test;

namespace {

constexpr int samples = instrumented ? 6 : 24;

Mesh case_mesh(const std::string& name) {
    auto mesh = read_mesh(std::filesystem::path(ANVIL_CASES) / name);
    INFO(name);
    REQUIRE(mesh);
    return *mesh;
}

/// Every piece sound as the file will hold it, and no larger a move than stated.
void check_sound(const Combined& c, double reach) {
    for (std::size_t k = 0; k < c.pieces() && !c.empty; ++k) {
        const Mesh piece = c.piece(k);
        CHECK(!piece.empty());
        const Inspection inspection = inspected(piece);
        INFO(findings_text(inspection));
        CHECK(inspection.print_ready);
        CHECK(inspection.count(FindingKind::loose_points) == 0);
    }
    if (c.empty) CHECK(c.mesh.points.empty());
    CHECK(c.largest_move < reach * 0x1p-8);
}

/// A body of the size 20, and the same moved or turned.
Mesh sized(const Mesh& mesh) {
    const Box box = bounds(mesh);
    const double size = std::max({box.size().x, box.size().y, box.size().z});
    return transformed(mesh, Transform(scaling(20 / size) * translation(-box.center())));
}

constexpr Operation operations[] = {Operation::union_of,     Operation::difference, Operation::reverse_difference,
                                    Operation::intersection, Operation::split,      Operation::pieces,
                                    Operation::inlay};

void check_pair(const Mesh& a, const Mesh& b, Operation operation, Precision precision, double apart) {
    const Combined c = combined_pair(operation, a, b, precision);
    check_sound(c, 20);
    const double volume = signed_volume(a);
    // No more can be missing or too much than a skin as thick as the bodies are apart, or as points moved.
    const double skin = 4 * surface_area(a) * (apart + c.largest_move + c.contact_step + 1e-12);
    double total = 0;
    for (std::size_t k = 0; k < c.pieces() && !c.empty; ++k) total += signed_volume(c.piece(k));
    const bool thin = operation == Operation::difference || operation == Operation::reverse_difference;
    CHECK(std::fabs(total - (thin ? 0 : volume)) <= skin);
}

/// A body of libcgal-demo's, `sized`; nothing, with a warning, where its data is not there.
std::optional<Mesh> real_body(const std::string& name) {
    const auto file = std::filesystem::path(ANVIL_REAL_MESHES) / (name + ".off");
    if (!std::filesystem::exists(file)) {
        WARN("libcgal-demo's data is not there; nothing was combined");
        return std::nullopt;
    }
    const auto mesh = read_mesh(file);
    REQUIRE(mesh);
    return sized(*mesh);
}

}  // namespace

TEST_CASE("pairs that were not done after a minute, or left pieces without faces") {
    for (const std::string name : {"spheres-turned-by-1e-09", "spheres-turned-by-1e-15", "skin-of-cubes-vanishes",
                                   "skin-of-cylinders-vanishes"}) {
        const Mesh a = case_mesh("near/" + name + "-a.off"), b = case_mesh("near/" + name + "-b.off");
        for (const Operation operation : operations)
            for (const Precision precision : {Precision::double_precision, Precision::single_precision}) {
                INFO(name << " " << word(operation) << (precision == Precision::single_precision ? " single" : ""));
                check_sound(combined_pair(operation, a, b, precision), bounds(a).diagonal());
            }
    }
}

TEST_CASE("a piece whose skin vanishes is none, and that is said") {
    const Mesh a = case_mesh("near/skin-of-cubes-vanishes-a.off"), b = case_mesh("near/skin-of-cubes-vanishes-b.off");
    const Combined pieces = combined_pair(Operation::pieces, a, b, Precision::single_precision);
    CHECK(pieces.pieces() == 1);
    CHECK(says(pieces, "too thin"));
    const Combined difference = combined_pair(Operation::difference, a, b, Precision::single_precision);
    CHECK(difference.empty);
    CHECK(difference.reason.find("too thin") != std::string::npos);
    CHECK(difference.mesh.points.empty());
    // Nor where the bodies' points were made one before anything was settled.
    if (const auto body = real_body("fandisk")) {
        const Combined merged = combined_pair(Operation::pieces, *body, transformed(*body, translation({2e-6, 0, 0})),
                                              Precision::double_precision);
        CHECK(merged.pieces() == 1);
        CHECK(says(merged, "2 pieces are skins no thicker than 2e-06 mm"));
    }
}

TEST_CASE("coordinates of 1e-150 are proven or refused, never in between") {
    const Mesh a = case_mesh("near/coordinates-of-1e-150-a.off"), b = case_mesh("near/coordinates-of-1e-150-b.off");
    const Mesh* operands[] = {&a, &b};
    for (const Operation operation : operations) {
        INFO(word(operation));
        Progress progress;
        const auto done = combine(operation, operands, progress, {});
        if (done)
            check_sound(*done, bounds(a).diagonal());
        else
            CHECK(done.error().code == ErrorCode::out_of_range);
    }
}

TEST_CASE("a star whose lines all cross within one face") {
    const Mesh star = case_mesh("near/star-whose-lines-cross-all-a.off");
    const Mesh box = case_mesh("near/star-whose-lines-cross-all-b.off");
    check_sound(combined_pair(Operation::union_of, star, box, Precision::double_precision), 100);
    // The outline of the star polygon {101/50}: corners at R, and at r = R cos(50 pi/n) / cos(49 pi/n) between them
    // (H. S. M. Coxeter, "Regular Polytopes", 2.8, gives the polygon; the area is that of 2n triangles).
    const double part = std::numbers::pi / 101, inner = 10 * std::cos(50 * part) / std::cos(49 * part);
    const Combined apart =
        combined_pair(Operation::union_of, star, moved(box, {100, 0, 0}), Precision::double_precision);
    CHECK(signed_volume(apart.mesh) ==
          Approx(5 * 101 * 10 * inner * std::sin(part) + signed_volume(box)).epsilon(1e-9));
}

TEST_CASE("a needle that hung on by its ends alone is no body when it is set free") {
    // It came out turned inside out, 1.4e-15 mm thick: a volume of 1e-28 mm3, which long doubles cannot tell.
    const Mesh body = case_mesh("near/flake-set-free-inside-out-a.off");
    const Mesh cutter = case_mesh("near/flake-set-free-inside-out-b.off");
    for (const Precision precision : {Precision::double_precision, Precision::single_precision})
        for (const Operation operation : operations) {
            INFO(word(operation));
            check_sound(combined_pair(operation, body, cutter, precision), bounds(body).diagonal());
        }
}

TEST_CASE("needles that cross each other everywhere are not looked at to the last pair") {
    // Four slots whose round ends nearly coincide, 208 faces: the union took minutes.
    const Mesh body = case_mesh("near/needles-cross-everywhere-a.off");
    const Mesh cutter = case_mesh("near/needles-cross-everywhere-b.off");
    for (const Precision precision : {Precision::double_precision, Precision::single_precision})
        for (const Operation operation : operations) {
            INFO(word(operation));
            check_sound(combined_pair(operation, body, cutter, precision), bounds(body).diagonal());
        }
}

TEST_CASE("stopping while a result is settled") {
    const Mesh sphere = make_sphere({0, 0, 0}, 10, 40, 40);
    const Mesh other = turned(sphere, 1e-14, {0.3, 0.5, 0.8});
    const Mesh* operands[] = {&sphere, &other};
    Progress progress;
    progress.cancel();
    const auto stopped = combine(Operation::pieces, operands, progress, {});
    REQUIRE(!stopped);
    CHECK(stopped.error().is_cancel());
}

TEST_CASE("copies apart by last digits become one body, and nothing moves by more than that") {
    // Such skins were set back by 0.4 um before, at sixty times the cost of the pair posed apart.
    const auto read = real_body("elephant");
    if (!read) return;
    const Mesh& a = *read;
    const double volume = signed_volume(a);
    for (const double by : {1e-13, 1e-15, 1e-16})
        for (const bool turns : {false, true}) {
            const Mesh b = turns ? turned(a, by, {0.36, 0.48, 0.8}) : moved(a, Vec3{0.6, 0.64, 0.48} * (20 * by));
            INFO((turns ? "turned by " : "moved by ") << by);
            const Combined both = combined_pair(Operation::union_of, a, b, Precision::double_precision);
            check_sound(both, 20);
            CHECK(both.largest_move <= 40 * by + 20 * 0x1p-50);
            CHECK(signed_volume(both.mesh) == Approx(volume));
        }
}

TEST_CASE("what merging leaves faulty is merged within sixteen times the distance, not put on a coarse grid") {
    // Pieces of a sphere turned by 1e-13 moved by 10 nm before, after seven ways had failed.
    const auto read = real_body("sphere");
    if (!read) return;
    const Mesh& a = *read;
    const Combined pieces =
        combined_pair(Operation::pieces, a, turned(a, 1e-13, {0.36, 0.48, 0.8}), Precision::double_precision);
    check_sound(pieces, 20);
    CHECK(pieces.largest_move <= 1e-10);
}

TEST_CASE("where a skin is too thin to draw back on one side, the other side does, and the skin stays") {
    // What is left of a body less its copy 0.2 um off vanished before, for nine touching points.
    const auto read = real_body("bull");
    if (!read) return;
    const Mesh& a = *read;
    const Combined skin =
        combined_pair(Operation::difference, a, moved(a, Vec3{0.6, 0.64, 0.48} * 2e-4), Precision::single_precision);
    CHECK(!skin.empty);
    check_sound(skin, 20);
    CHECK(skin.largest_move < 1e-4);
}

TEST_CASE("a skin is put on a fine grid before it is merged away") {
    // For some twenty faults that were left in single precision, the bodies' points were made one, and nothing stayed.
    struct {
        const char* name;
        Vec3 by;
    } cases[] = {{"rotor", {2e-3, 0, 0}}, {"cow", {2e-4, 0, 0}}, {"spool", Vec3{0.6, 0.64, 0.48} * 2e-4}};
    for (const auto& [name, by] : cases) {
        if (instrumented && name == std::string("cow")) continue;
        const auto read = real_body(name);
        if (!read) return;
        const Mesh &a = *read, b = moved(a, by);
        INFO(name);
        const Combined skin = combined_pair(Operation::difference, a, b, Precision::single_precision);
        REQUIRE(!skin.empty);
        check_sound(skin, 20);
        CHECK(skin.largest_move < norm(by) / 8);
        const Combined exact = combined_pair(Operation::difference, a, b, Precision::double_precision);
        CHECK(std::fabs(signed_volume(skin.mesh) - signed_volume(exact.mesh)) <
              surface_area(exact.mesh) * skin.largest_move);
    }
}

TEST_CASE("flat regions that slid along each other become one layer") {
    // 20 um along regions that are flat but for 1e-5 mm: skins of a few digits, which no grid parted. The larger body's
    // result kept crossings, after ten seconds.
    for (const char* name : {"fandisk", "fandisk_large"}) {
        if (instrumented && name == std::string("fandisk_large")) continue;
        const auto read = real_body(name);
        if (!read) return;
        const Mesh& a = *read;
        const Combined left =
            combined_pair(Operation::difference, a, moved(a, {0.02, 0, 0}), Precision::single_precision);
        INFO(name);
        CHECK(!left.empty);
        check_sound(left, 20);
        CHECK(left.largest_move < 0.01);
    }
}

TEST_CASE("laying layers together ends where it makes more faults than there were") {
    // A pinion less its copy that slid along an edge fell into 400,000 faces.
    const auto read = real_body("pinion");
    if (!read) return;
    const Mesh &a = *read, b = moved(a, {-0.10117223366995443, 0.026545463301617556, -0.16217780711669327});
    for (const Operation operation : {Operation::reverse_difference, Operation::pieces})
        check_sound(combined_pair(operation, a, b, Precision::double_precision), 20);
}

TEST_CASE("real bodies and near copies of them, a sample", "[sample]") {
    std::vector<std::filesystem::path> files;
    for (const auto& file : real_meshes())
        for (const char* name : {"joint", "rotor_small", "knot1", "sphere", "star", "couplingdown", "eight", "tripod"})
            if (file.filename() == std::string(name) + ".off") files.push_back(file);
    if (files.empty()) {
        WARN("libcgal-demo's data is not there; nothing was combined");
        return;
    }
    const std::uint32_t seed = seed_of_run();
    std::mt19937 random(seed);
    WARN("near copies: seed " << seed);
    auto one_of = [&](std::size_t n) { return std::uniform_int_distribution<std::size_t>(0, n - 1)(random); };
    for (int k = 0; k < samples; ++k) {
        const auto& file = files[one_of(files.size())];
        const auto mesh = read_mesh(file);
        REQUIRE(mesh);
        const Mesh a = sized(*mesh);
        if (!inspected(a).print_ready) continue;
        const double by = std::pow(10, -std::uniform_real_distribution<double>(3, 16)(random));
        const bool turns = one_of(2) == 0;
        const Mesh b = turns ? turned(a, by, {0.36, 0.48, 0.8}) : moved(a, Vec3{0.6, 0.64, 0.48} * (20 * by));
        const Operation operation = operations[one_of(std::size(operations))];
        const auto precision = one_of(2) == 0 ? Precision::single_precision : Precision::double_precision;
        INFO("seed " << seed << ": " << file.filename().string() << (turns ? " turned by " : " moved by ") << by << ", "
                     << word(operation) << (precision == Precision::single_precision ? ", single" : ""));
        check_pair(a, b, operation, precision, 40 * by);
    }
}
