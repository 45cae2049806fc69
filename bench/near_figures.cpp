// Nearly coincident bodies, as ratios of the same pair posed apart: what settling the result costs.
#include <algorithm>
#include <chrono>
#include <cmath>
#include <cstdio>

#include "bench/engine_figures.h"
#include "core/combine/combine.h"
#include "core/inspect/inspect.h"
#include "core/io/mesh_file.h"
#include "core/mesh/measures.h"
#include "core/mesh/transform.h"

namespace anvil::bench {
namespace {

struct Timed {
    double seconds = 0;
    bool sound = false;
};

Timed timed(Operation operation, const Mesh& a, const Mesh& b, Precision precision, bool inspected) {
    const Mesh* operands[] = {&a, &b};
    Progress progress;
    const auto start = std::chrono::steady_clock::now();
    const auto done = combine(operation, operands, progress, {.precision = precision});
    Timed out;
    out.seconds = std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
    out.sound = done.ok();
    for (std::size_t k = 0; inspected && done && !done->empty && k < done->pieces(); ++k) {
        const auto inspection = inspect(done->piece(k), progress);
        out.sound = out.sound && inspection && inspection->print_ready;
    }
    return out;
}

/// What a combination takes, and the same with the bodies apart: by turns, since a machine's pace changes; the fastest
/// of three runs each, and of more where they are short.
struct Compared {
    double near = HUGE_VAL, apart = HUGE_VAL;  ///< s
    bool sound = false;
};
Compared compared(Operation operation, const Mesh& body, const Mesh& near, const Mesh& apart, Precision precision) {
    Compared out;
    double spent = 0;
    for (int run = 0; run < 3 || (run < 12 && spent < 0.5); ++run) {
        out.apart = std::min(out.apart, timed(operation, body, apart, precision, false).seconds);
        const Timed one = timed(operation, body, near, precision, run == 0);
        out.near = std::min(out.near, one.seconds);
        spent += one.seconds;
        if (run == 0) out.sound = one.sound;
    }
    return out;
}

}  // namespace

void print_near(std::span<const std::string> named) {
    constexpr Operation operations[] = {Operation::union_of, Operation::difference, Operation::pieces};
    std::printf("| body | faces | runs | sound | median ratio | worst ratio | its case | over 10 times |\n");
    std::printf("| --- | ---: | ---: | ---: | ---: | ---: | --- | ---: |\n");
    for (const char* name : {"joint", "sphere", "larger_sphere", "rotor", "elephant", "fandisk", "bull", "anchor_dense",
                             "fandisk_large", "armadillo"}) {
        if (!named.empty() && std::ranges::find(named, name) == named.end()) continue;
        const auto read = read_mesh(std::filesystem::path(ANVIL_REAL_MESHES) / (std::string(name) + ".off"));
        if (!read) continue;
        const Box box = bounds(*read);
        const double size = std::max({box.size().x, box.size().y, box.size().z});
        const Mesh a = transformed(*read, Transform(scaling(20 / size) * translation(-box.center())));
        const Vec3 way{0.6, 0.64, 0.48};
        const Mesh apart = transformed(a, translation(way * 2));
        std::vector<double> ratios;
        std::size_t sound = 0;
        double worst = 0;
        std::string worst_case;
        for (const Operation operation : operations)
            for (const Precision precision : {Precision::double_precision, Precision::single_precision}) {
                for (const int exponent : {3, 5, 7, 9, 11, 13, 15, 16})
                    for (const std::string attitude : {"moved", "moved along x", "turned"}) {
                        const double by = std::pow(10, -exponent);
                        const Vec3 along = attitude == "moved" ? way : Vec3{1, 0, 0};
                        const Mesh b = transformed(
                            a, attitude == "turned" ? rotation(by, {0.36, 0.48, 0.8}) : translation(along * (20 * by)));
                        const Compared run = compared(operation, a, b, apart, precision);
                        ratios.push_back(run.near / run.apart);
                        sound += run.sound;
                        const std::string what = std::string(word(operation)) + ", " + attitude + " by 1e-" +
                                                 std::to_string(exponent) +
                                                 (precision == Precision::single_precision ? ", single" : "");
                        if (ratios.back() > 10)
                            std::fprintf(stderr, "%s, %s: %.1f ms, %.1f times\n", name, what.c_str(), run.near * 1e3,
                                         ratios.back());
                        if (ratios.back() > worst) worst_case = what;
                        worst = std::max(worst, ratios.back());
                    }
            }
        std::nth_element(ratios.begin(), ratios.begin() + static_cast<long>(ratios.size() / 2), ratios.end());
        std::printf("| %s | %zu | %zu | %zu | %.1f | %.1f | %s | %ld |\n", name, a.faces.size(), ratios.size(), sound,
                    ratios[ratios.size() / 2], worst, worst_case.c_str(),
                    static_cast<long>(std::ranges::count_if(ratios, [](double r) { return r > 10; })));
        std::fflush(stdout);
    }
}

}  // namespace anvil::bench
