#include "tests/support/support.h"

#include <unistd.h>

#include <algorithm>
#include <cstdio>
#include <cstdlib>
#include <fstream>
#include <numbers>
#include <random>
#include <sstream>

#include "core/arrange/operand.h"

namespace anvil::test {

Inspection inspected(const Mesh& mesh) {
    Progress progress;
    auto result = inspect(mesh, progress);
    REQUIRE(result.ok());
    return std::move(*result);
}

std::string findings_text(const Inspection& inspection) {
    std::string out;
    for (int k = 0; k < finding_kinds; ++k)
        if (const std::size_t n = inspection.counts[static_cast<std::size_t>(k)])
            out += std::to_string(n) + " " + std::string(word(static_cast<FindingKind>(k))) + "; ";
    return out.empty() ? "none" : out;
}

bool says(const Combined& combined, const std::string& text) {
    return std::ranges::any_of(combined.messages,
                               [&](const std::string& m) { return m.find(text) != std::string::npos; });
}

Combined combined_only(Operation operation, const std::vector<Mesh>& operands) {
    std::vector<const Mesh*> pointers;
    for (const Mesh& m : operands) pointers.push_back(&m);
    Progress progress;
    auto result = combine(operation, pointers, progress);
    INFO((result ? "" : result.error().sentence()));
    REQUIRE(result.ok());
    return std::move(*result);
}

Combined combined(Operation operation, const std::vector<Mesh>& operands) {
    Combined result = combined_only(operation, operands);
    CHECK(findings_text(inspected(result.mesh)) == "none");
    return result;
}

Combined combined_touching(Operation operation, const std::vector<Mesh>& operands) {
    Combined result = combined_only(operation, operands);
    const Inspection inspection = inspected(result.mesh);
    INFO(findings_text(inspection));
    for (FindingKind kind :
         {FindingKind::open_edges, FindingKind::misoriented_edges, FindingKind::self_intersections,
          FindingKind::degenerate_faces, FindingKind::duplicate_faces, FindingKind::zero_length_edges})
        CHECK(inspection.count(kind) == 0);
    return result;
}

double winding_number(const Mesh& mesh, const Vec3& p) {
    double sum = 0;
    for (FaceId f : ids<FaceId>(mesh.faces.size())) {
        const Vec3 a = mesh.corner(f, 0) - p, b = mesh.corner(f, 1) - p, c = mesh.corner(f, 2) - p;
        const double la = norm(a), lb = norm(b), lc = norm(c);
        const double denominator = la * lb * lc + dot(a, b) * lc + dot(b, c) * la + dot(c, a) * lb;
        sum += 2 * std::atan2(dot(a, cross(b, c)), denominator);
    }
    return sum / (4 * std::numbers::pi);
}

std::shared_ptr<const Operand> ready(const Mesh& mesh) {
    Progress progress;
    auto made = make_operand(mesh, Taken::repaired, progress);
    REQUIRE(made);
    return *made;
}

Mesh moved(Mesh mesh, const Vec3& by) { return transformed(std::move(mesh), translation(by)); }
Mesh turned(Mesh mesh, double radians, const Vec3& axis) {
    return transformed(std::move(mesh), rotation(radians, axis));
}

CornerSet corner_set(const Mesh& mesh, FaceId f) {
    CornerSet t;
    for (int k = 0; k < 3; ++k)
        t[static_cast<std::size_t>(k)] = {mesh.corner(f, k).x, mesh.corner(f, k).y, mesh.corner(f, k).z};
    std::ranges::sort(t);
    return t;
}
std::multiset<CornerSet> corner_sets(const Mesh& mesh) {
    std::multiset<CornerSet> out;
    for (const FaceId f : ids<FaceId>(mesh.faces.size())) out.insert(corner_set(mesh, f));
    return out;
}

TempFolder::TempFolder() {
    static int number = 0;
    path_ = std::filesystem::temp_directory_path() /
            ("clean-anvil-test-" + std::to_string(::getpid()) + "-" + std::to_string(++number));
    std::filesystem::create_directories(path_);
}
TempFolder::~TempFolder() {
    std::error_code ignored;
    std::filesystem::remove_all(path_, ignored);
}

void write_bytes(const std::filesystem::path& file, const std::string& bytes) {
    std::ofstream(file, std::ios::binary) << bytes;
}
std::string read_bytes(const std::filesystem::path& file) {
    std::ostringstream out;
    out << std::ifstream(file, std::ios::binary).rdbuf();
    return out.str();
}

std::vector<std::filesystem::path> real_meshes() {
    std::vector<std::filesystem::path> files;
    const std::filesystem::path folder = ANVIL_REAL_MESHES;
    if (!std::filesystem::is_directory(folder)) return files;
    for (const auto& entry : std::filesystem::directory_iterator(folder))
        if (entry.path().extension() == ".off") files.push_back(entry.path());
    std::sort(files.begin(), files.end());
    return files;
}

std::uint32_t seed_of_run() {
    const char* given = std::getenv("SEED");
    return given ? static_cast<std::uint32_t>(std::strtoul(given, nullptr, 10)) : std::random_device()();
}

std::vector<std::filesystem::path> some_real_meshes(std::size_t one_in) {
    if (instrumented) one_in *= 4;
    auto files = real_meshes();
    const std::uint32_t seed = seed_of_run();
    std::printf("real meshes, one in %zu: seed %u\n", one_in, seed);
    std::mt19937 random(seed);
    std::ranges::shuffle(files, random);
    files.resize(files.size() / one_in);
    std::ranges::sort(files);
    return files;
}

}  // namespace anvil::test
