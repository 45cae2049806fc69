// Every cutting tool on real meshes, at random: planes, outlines, holes, edges, faces, halves. None may fail, cross
// itself or open, and volumes add up.
#include <cmath>
#include <cstdio>
#include <iostream>

#include "core/io/mesh_file.h"
#include "core/job/anchors.h"
#include "core/job/field_text.h"
#include "core/job/new_cut.h"
#include "core/mesh/chain.h"
#include "core/mesh/weld.h"
#include "tests/job/jobs.h"

using namespace anvil;
using namespace anvil::test;

namespace {

/// What a tool may refuse: it says so in a sentence, and changes nothing. The words of it that are known; none: "".
std::string known_refusal(const std::string& text) {
    for (const char* said :
         {"it would leave nothing of the body", "do not fit into the cut face", "it would meet its own beginning",
          "so their mean tells no direction", "turn back on themselves", "the body does not reach the plane",
          "there is nothing of the body on the side", "are too deep: the body is", "it would leave faults in a body",
          "the faces there look all ways", "the faces enclose nothing", "a rim of the feature",
          "the outline encloses nothing", "can split or scribe only", "the edges tell no direction"})
        if (text.find(said) != std::string::npos) return said;
    return "";
}

class CutsOfReal {
  public:
    explicit CutsOfReal(unsigned seed) : random_(seed) {}
    int done = 0;
    std::map<std::string, int> refused;

    /// So many cuts of one mesh by each tool.
    void run(const Mesh& given, int cases) {
        mesh_ = welded(given);
        const Box box = bounds(mesh_);
        for (Vec3& p : mesh_.points) p = (p - box.center()) * (100 / box.diagonal());
        if (!inspected(mesh_).print_ready) return;
        whole_ = signed_volume(mesh_);
        box_ = bounds(mesh_);
        job_ = {};
        add(job_, "body", mesh_);
        const Evaluation e = test::evaluated(evaluator_, job_);
        lineage_ = e.lineages.at(job_.work());
        creases_ = creases_of(mesh_, 25);
        for (int k = 0; k < cases; ++k) {
            cut("cut-plane", plane());
            cut("cut-outline", outline());
            cut("drill", holes());
            if (!creases_.elements.empty()) cut("notch", notch());
            cut("broach", broach());
            cut("broach", slots());
            cut("mirror-feature", feature());
            if (!creases_.elements.empty()) cut("cut-outline", outline_of_edges());
            cut("symmetry", symmetry());
        }
    }

  private:
    double number(double from, double to) { return std::uniform_real_distribution<>(from, to)(random_); }
    int whole(int to) { return std::uniform_int_distribution<>(0, to - 1)(random_); }
    FaceId some_face() { return FaceId(static_cast<std::uint32_t>(whole(static_cast<int>(mesh_.faces.size())))); }
    Vec3 somewhere() {
        const FaceId f = some_face();
        return (mesh_.corner(f, 0) + mesh_.corner(f, 1) + mesh_.corner(f, 2)) * (1 / 3.0);
    }
    Vec3 normal_of(FaceId f) {
        const Vec3 n =
            normalized(cross(mesh_.corner(f, 1) - mesh_.corner(f, 0), mesh_.corner(f, 2) - mesh_.corner(f, 0)));
        return norm(n) > 0.5 ? n : Vec3{0, 0, 1};
    }
    Vec3 direction() {
        if (whole(3) == 0) {
            Vec3 axis;
            axis[whole(3)] = 1;
            return axis;
        }
        return {number(-1, 1), number(-1, 1), number(-1, 1)};
    }
    std::vector<Anchor> held(const Selection& selection) { return anchors_of(selection, mesh_, *tags_of(*lineage_)); }

    Values plane() {
        Values out{{"origin", somewhere()}, {"normal", direction()}};
        const char* keeps[] = {"both", "front", "back"};
        out["keep"] = std::string(keeps[whole(3)]);
        if (whole(4) == 0) {
            out["planes"] = std::string("several");
            out["count"] = std::int64_t{2 + whole(6)};
            out["distance"] = number(0.5, 8);
        } else if (whole(3) == 0) {
            const char* forms[] = {"round", "square", "dovetail"};
            out["keep"] = std::string("both");
            out["joints"] = std::string(forms[whole(3)]);
            out["joint_count"] = std::int64_t{1 + whole(3)};
            out["joint_size"] = out["joint_depth"] = number(0.5, 3);
            out["clearance"] = 0.1;
            out["rim"] = 0.4;
        }
        return out;
    }
    Values outline() {
        const FaceId f = some_face();
        Values out{{"origin", mesh_.corner(f, 0)}, {"normal", whole(2) ? normal_of(f) : direction()}};
        const char *shapes[] = {"rectangle", "circle", "polygon"},
                   *does[] = {"difference", "intersection", "union", "split", "scribe"};
        out["shape"] = std::string(shapes[whole(3)]);
        out["does"] = std::string(does[whole(5)]);
        out["width"] = number(1, 20);
        out["length"] = number(1, 20);
        out["diameter"] = out["across"] = number(1, 20);
        if (whole(2)) {
            out["way"] = std::string("depth");
            out["depth"] = number(0.5, 10);
            if (whole(2)) out["draft"] = number(-10, 3);
        }
        return out;
    }
    Values holes() {
        const FaceId f = some_face();
        std::vector<Vec3> at;
        for (int k = whole(3); k >= 0; --k)
            at.push_back(mesh_.corner(f, 0) + Vec3{number(-9, 9), number(-9, 9), number(-9, 9)} * k);
        Values out{{"at", at}, {"normal", normal_of(f)}, {"diameter", number(0.5, 6)}};
        if (whole(2)) {
            out["head"] = std::string(whole(2) ? "counterbore" : "countersink");
            out["head_diameter"] = number(6.5, 12);
            out["head_depth"] = number(0.2, 3);
        }
        return out;
    }
    Values notch() {
        Selection line{
            ElementKind::edges,
            {creases_.elements[static_cast<std::size_t>(whole(static_cast<int>(creases_.elements.size())))]}};
        if (whole(2)) line = along_creases(line, creases_);
        if (line.elements.size() > 200) line.elements.resize(200);
        Values out{{"edges", held(line)}, {"width", number(0.1, 2)}, {"depth", number(0.1, 2)}};
        out["form"] = std::string(whole(2) ? "V" : "square");
        out["makes"] = std::string(whole(3) ? "groove" : "rib");
        const char* ends[] = {"straight", "run out", "tilted"};
        out["ends"] = std::string(ends[whole(3)]);
        return out;
    }
    Values broach() {
        Selection faces{ElementKind::faces, {face_element(mesh_.faces[some_face()])}};
        for (int k = whole(4); k > 0; --k) faces = grown(mesh_, faces);
        Values out{{"faces", held(faces)}};
        if (whole(2)) {
            out["down_to"] = std::string("depth");
            out["depth"] = number(0.2, 5);
            if (whole(3) == 0) out["makes"] = std::string("boss");
        }
        return out;
    }
    Values slots() {
        Selection on{ElementKind::edges, {}};
        const FaceId f = some_face();
        Values out{{"of", std::string("edges")}, {"thickness", number(0.1, 2)}};
        if (whole(2)) {
            out["of"] = std::string("points");
            on = {ElementKind::points, {point_element(mesh_.faces[f][0])}};
            out["points"] = held(on);
        } else {
            on.elements.push_back(edge_element(mesh_.faces[f][0], mesh_.faces[f][1]));
            if (whole(2)) on = grown(mesh_, on);
            if (on.elements.size() > 30) on.elements.resize(30);
            out["edges"] = held(on);
        }
        if (whole(2)) {
            out["down_to"] = std::string("depth");
            out["depth"] = number(0.2, 5);
            if (whole(3) == 0) out["makes"] = std::string("boss");
        }
        if (whole(2)) out["along"] = std::string("own normals");
        return out;
    }
    Values feature() {
        Selection faces{ElementKind::faces, {face_element(mesh_.faces[some_face()])}};
        if (whole(2)) faces = within_creases(mesh_, faces, 25);
        for (int k = whole(4); k > 0; --k) faces = grown(mesh_, faces);
        Values out = symmetry();
        out.erase("keep");
        out["faces"] = held(faces);
        return out;
    }
    Values outline_of_edges() {
        Selection line{
            ElementKind::edges,
            {creases_.elements[static_cast<std::size_t>(whole(static_cast<int>(creases_.elements.size())))]}};
        line = along_creases(line, creases_);
        const char* does[] = {"difference", "intersection", "union", "split", "scribe"};
        Values out{{"shape", std::string("edges")}, {"edges", held(line)}, {"does", std::string(does[whole(5)])}};
        if (whole(2)) {
            out["way"] = std::string("depth");
            out["depth"] = number(0.5, 10);
        }
        return out;
    }
    Values symmetry() {
        Values out{{"across", std::string("free")}, {"origin", somewhere()}, {"normal", direction()}};
        out["keep"] = std::string(whole(2) ? "front" : "back");
        return out;
    }

    void cut(const char* kind, Values values) {
        Job job = job_;
        const std::string step = add_treatment(job, {job.work()}, kind, values);
        std::string told = kind;
        for (const auto& [name, value] : values)
            told += " " + name + "=" + text_of(*find_kind(kind)->find_field(name), value);
        INFO(told);
        const Evaluation e = test::evaluated(evaluator_, job);
        if (e.first_error) {
            INFO(e.first_error->text);
            CHECK(!known_refusal(e.first_error->text).empty());
            ++refused[known_refusal(e.first_error->text)];
            return;
        }
        ++done;
        double sum = 0;
        for (std::size_t k = 0; k < e.combined->pieces(); ++k) {
            const Mesh piece = e.combined->piece(k);
            const Inspection found = inspected(piece);
            INFO(findings_text(found));
            CHECK(found.print_ready);
            sum += signed_volume(piece);
        }
        const bool parts = kind == std::string("cut-plane") && !values.contains("joints") &&
                           (values.contains("planes") || std::get<std::string>(values["keep"]) == "both");
        if (parts) CHECK(sum == Approx(whole_).epsilon(1e-9));
    }

    std::mt19937 random_;
    Mesh mesh_;
    Box box_;
    double whole_ = 0;
    Job job_;
    Evaluator evaluator_;
    std::shared_ptr<Lineage> lineage_;
    Selection creases_;
};

void sweep(std::span<const std::filesystem::path> files, int cases, std::size_t most_faces) {
    const std::uint32_t seed = seed_of_run();
    std::printf("cuts of real meshes: seed %u\n", seed);
    CutsOfReal cuts(seed);
    for (const auto& file : files) {
        const auto mesh = read_mesh(file);
        if (!mesh || mesh->faces.size() > most_faces) continue;
        INFO(file.filename().string());
        cuts.run(*mesh, cases);
    }
    int refused = 0;
    for (const auto& [said, times] : cuts.refused) {
        std::cout << times << " refused: " << said << std::endl;
        refused += times;
    }
    std::cout << cuts.done << " cuts done" << std::endl;
    CHECK(cuts.done > refused);
}

}  // namespace

TEST_CASE("random cuts of some real meshes") { sweep(some_real_meshes(6), 2, 12'000); }

TEST_CASE("a thousand random cuts by each tool", "[.long]") { sweep(real_meshes(), 20, 60'000); }
