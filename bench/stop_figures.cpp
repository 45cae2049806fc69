// How soon a combination ends that is told to stop, at moments all along it.
#include <algorithm>
#include <chrono>
#include <cstdio>
#include <thread>

#include "bench/engine_figures.h"
#include "core/combine/combine.h"
#include "core/io/mesh_file.h"
#include "core/mesh/measures.h"
#include "core/mesh/primitives.h"
#include "core/mesh/transform.h"
#include "tests/support/star_prism.h"

namespace anvil::bench {
namespace {

using Clock = std::chrono::steady_clock;

double seconds_since(Clock::time_point start) { return std::chrono::duration<double>(Clock::now() - start).count(); }

struct Pair {
    std::string name;
    Mesh a, b;
};

/// Seconds from the wish to stop, `after` s from the start, to the end; 0 where it was done before.
double stopped_after(const Pair& pair, double after) {
    const Mesh* operands[] = {&pair.a, &pair.b};
    Progress progress;
    Clock::time_point end;
    std::thread worker([&] {
        const auto stopped = combine(Operation::pieces, operands, progress);
        end = Clock::now();
    });
    std::this_thread::sleep_for(std::chrono::duration<double>(after));
    const Clock::time_point asked = Clock::now();
    progress.cancel();
    worker.join();
    return std::max(0.0, std::chrono::duration<double>(end - asked).count());
}

void print_pair(const Pair& pair) {
    constexpr int moments = 25;
    const Mesh* operands[] = {&pair.a, &pair.b};
    Progress progress;
    const Clock::time_point start = Clock::now();
    const auto done = combine(Operation::pieces, operands, progress);
    if (!done) return;
    const double whole = seconds_since(start);
    std::vector<double> took;
    for (int i = 1; i < moments; ++i) took.push_back(stopped_after(pair, whole * i / moments));
    std::sort(took.begin(), took.end());
    std::printf("| %s | %.1f | %zu | %.0f | %.0f |\n", pair.name.c_str(), whole, took.size(),
                took[took.size() / 2] * 1e3, took.back() * 1e3);
    std::fflush(stdout);
}

}  // namespace

void print_stopping() {
    std::printf("| pieces of | takes, s | stops | median, ms | longest, ms |\n| --- | ---: | ---: | ---: | ---: |\n");
    print_pair({"a star prism of 301 corners and a box", test::star_prism(301), make_box({0, 0, -1}, {8, 8, 6})});
    for (const char* body : {"fandisk_large", "armadillo"}) {
        const auto mesh = read_mesh(std::string(ANVIL_REAL_MESHES) + "/" + body + ".off");
        if (!mesh) continue;
        const Vec3 size = bounds(*mesh).size();
        const double by = 1e-5 * std::max({size.x, size.y, size.z});
        print_pair({std::string(body) + " and its copy moved along x by 1e-5", *mesh,
                    transformed(*mesh, translation(Vec3{by, 0, 0}))});
    }
}

}  // namespace anvil::bench
