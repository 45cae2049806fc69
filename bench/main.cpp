// Each benchmark runs twice in one run, by us and by CGAL, and the report ends with the ratios.
//
//   bench [--threads N] [Google Benchmark's own options]
//   bench --figures drag|growth|copies|crossings|edits|near|stages|stopping  figures of the engine alone
//   (engine_figures.h);
//                         behind near may stand the names of bodies
//   bench --work NAME     does one job once and nothing else: how peak memory is measured, in a process of its own

#include <benchmark/benchmark.h>
#include <tbb/global_control.h>

#include <algorithm>
#include <charconv>
#include <cmath>
#include <cstdio>
#include <cstdlib>
#include <cstring>
#include <filesystem>
#include <fstream>
#include <functional>
#include <map>
#include <optional>
#include <thread>

#include "bench/cgal_work.h"
#include "bench/engine_figures.h"
#include "bench/jobs.h"
#include "bench/peak_memory.h"
#include "core/arrange/arrangement.h"
#include "core/base/memory.h"
#include "core/combine/combine.h"
#include "core/inspect/inspect.h"
#include "core/io/mesh_file.h"
#include "core/mesh/measures.h"
#include "core/mesh/primitives.h"
#include "core/mesh/transform.h"

namespace anvil::bench {
namespace {

struct Size {
    const char* name;
    int rings, sides;  // 2 * sides * (rings - 1) faces
};
constexpr Size sizes[] = {{"10k", 51, 100}, {"100k", 201, 250}, {"500k", 501, 500}};

/// Two spheres of 20 mm, the second one moved by about half a radius in no special direction.
const Mesh& sphere(const Size& size, int which) {
    static std::map<std::pair<std::string, int>, Mesh> made;
    auto& mesh = made[{size.name, which}];
    if (mesh.empty()) mesh = make_sphere(which == 0 ? Vec3{0, 0, 0} : Vec3{9.3, 3.7, 2.1}, 20, size.rings, size.sides);
    return mesh;
}

/// A folder for the files of this run; the processes that measure memory share it.
std::filesystem::path folder() {
    constexpr const char* variable = "CLEAN_ANVIL_BENCH_FOLDER";
    if (const char* known = std::getenv(variable)) return known;
    std::string name = (std::filesystem::temp_directory_path() / "clean-anvil-bench-XXXXXX").string();
    if (!mkdtemp(name.data())) throw std::runtime_error("cannot make a folder " + name);
    setenv(variable, name.c_str(), 1);
    return name;
}

std::filesystem::path stl_of(const Size& size) {
    const auto file = folder() / (std::string(size.name) + ".stl");
    if (!std::filesystem::exists(file) && !write_mesh(sphere(size, 0), file))
        throw std::runtime_error("cannot write " + file.string());
    return file;
}

/// Sound real meshes of 10k to 90k faces, scaled to a diagonal of 100 mm about the origin.
const std::map<std::string, Mesh>& real_meshes() {
    static const std::map<std::string, Mesh> meshes = [] {
        std::map<std::string, Mesh> out;
        std::error_code ignored;
        for (const auto& entry : std::filesystem::directory_iterator(ANVIL_REAL_MESHES, ignored)) {
            if (entry.path().extension() != ".off") continue;
            auto mesh = read_mesh(entry.path());
            if (!mesh || mesh->faces.size() < 10000 || mesh->faces.size() > 90000) continue;
            Progress progress;
            if (!must(inspect(*mesh, progress)).print_ready) continue;
            Mesh sound = welded(*mesh);
            const Box box = bounds(sound);
            for (Vec3& p : sound.points) p = (p - box.center()) * (100 / box.diagonal());
            out.emplace(entry.path().stem().string(), std::move(sound));
        }
        return out;
    }();
    return meshes;
}
/// The same, turned and moved, so that nothing is flush.
Mesh posed(const Mesh& mesh) {
    return transformed(transformed(mesh, rotation(0.7, {1, 2, 3})), translation(Vec3{9.3, 3.7, 2.1}));
}

/// Each with its own posed copy, and with that of the next one.
struct RealPair {
    std::string name, first, second;
};
std::vector<RealPair> real_pairs() {
    std::vector<std::string> names;
    for (const auto& [name, mesh] : real_meshes()) names.push_back(name);
    std::vector<RealPair> out;
    for (std::size_t i = 0; i < names.size(); ++i)
        for (std::size_t j : {i, (i + 1) % names.size()})
            out.push_back({names[i] + "+" + names[j], names[i], names[j]});
    return out;
}
std::pair<Mesh, Mesh> real_pair(const std::string& name) {
    for (const RealPair& p : real_pairs())
        if (p.name == name) return {real_meshes().at(p.first), posed(real_meshes().at(p.second))};
    throw std::runtime_error("no pair " + name);
}

constexpr int cylinder_count = 200;
/// Short cylinders across the equator of the 200k sphere below.
std::vector<Mesh> cylinders() {
    std::vector<Mesh> out;
    for (int i = 0; i < cylinder_count; ++i) {
        const double angle = 2 * 3.14159265358979 * i / cylinder_count;
        const Vec3 at{20 * std::cos(angle), 20 * std::sin(angle), 3 * std::sin(7 * angle)};
        out.push_back(transformed(make_frustum(0.2, 0.2, -1.03, 1.07, 16),
                                  translation(at) * rotation(0.3 + angle, {0.1, 0.2, 1}) * rotation(1.1, {0, 1, 0.1})));
    }
    return out;
}
const Mesh& drilled_sphere() {
    static const Mesh sphere = make_sphere({0, 0, 0}, 20, 251, 400);
    return sphere;
}

const Size& size_named(const std::string& name) {
    return *std::ranges::find_if(sizes, [&](const Size& s) { return name == s.name; });
}

std::vector<Job> jobs() {
    const std::vector<std::string> all_sizes{"10k", "100k", "500k"};
    std::vector<std::string> names;
    for (const RealPair& p : real_pairs()) names.push_back(p.name);
    auto operands = [](const std::string& s) {
        return std::vector<const Mesh*>{&sphere(size_named(s), 0), &sphere(size_named(s), 1)};
    };
    auto pair = [](const std::string& s) {
        return std::pair{CgalMesh(sphere(size_named(s), 0)), CgalMesh(sphere(size_named(s), 1))};
    };
    std::vector<Job> all{
        {"read_stl", all_sizes,
         [](const std::string& s) {
             return [file = stl_of(size_named(s))] { return welded(must(read_mesh(file))).faces.size(); };
         },
         [](const std::string& s) { return [file = stl_of(size_named(s))] { return cgal_read_stl(file); }; }},
        {"arrange_spheres", all_sizes,
         [=](const std::string& s) {
             return [meshes = operands(s)] {
                 Progress progress;
                 return must(prepare(meshes, progress)).faces.size();
             };
         },
         [=](const std::string& s) { return [p = pair(s)]() mutable { return cgal_corefine(p.first, p.second); }; }},
        {"union_spheres", all_sizes,
         [=](const std::string& s) {
             return [meshes = operands(s)] {
                 Progress progress;
                 return must(combine(Operation::union_of, meshes, progress)).mesh.faces.size();
             };
         },
         [=](const std::string& s) { return [p = pair(s)]() mutable { return cgal_union(p.first, p.second); }; }},
        {"union_real", names,
         [](const std::string& s) {
             return [pair = real_pair(s)] {
                 const Mesh* meshes[] = {&pair.first, &pair.second};
                 Progress progress;
                 return must(combine(Operation::union_of, meshes, progress)).mesh.faces.size();
             };
         },
         [](const std::string& s) {
             const auto [first, second] = real_pair(s);
             return [a = CgalMesh(first), b = CgalMesh(second)]() mutable { return cgal_union(a, b); };
         }},
        {"200_cylinders",
         {"200k"},
         [](const std::string&) {
             return [cutters = cylinders()] {
                 std::vector<const Mesh*> meshes{&drilled_sphere()};
                 for (const Mesh& m : cutters) meshes.push_back(&m);
                 Progress progress;
                 return must(combine(Operation::difference, meshes, progress)).mesh.faces.size();
             };
         },
         [](const std::string&) {
             std::vector<CgalMesh> cutters;
             for (const Mesh& m : cylinders()) cutters.emplace_back(m);
             return [base = CgalMesh(drilled_sphere()), cutters = std::move(cutters)]() mutable {
                 return cgal_differences(base, cutters);
             };
         }},
        {"inspect_sphere", all_sizes,
         [](const std::string& s) {
             return [mesh = &sphere(size_named(s), 0)] {
                 Progress progress;
                 return must(inspect(*mesh, progress)).findings.size();
             };
         },
         [](const std::string& s) {
             return [mesh = CgalMesh(sphere(size_named(s), 0))] { return cgal_inspect(mesh); };
         }},
    };
    for (Job& job : mend_jobs()) all.push_back(std::move(job));
    for (Job& job : cut_jobs()) all.push_back(std::move(job));
    return all;
}

std::string full_name(const Job& job, const std::string& which, const char* side) {
    return job.name + "/" + which + "/" + side;
}

int do_work(const std::string& work) {
    if (do_growth(work)) {
        std::printf("%.0f\n", own_peak());
        return 0;
    }
    for (const Job& job : jobs())
        for (const std::string& which : job.cases)
            for (const bool ours : {true, false})
                if (work == full_name(job, which, ours ? "ours" : "cgal")) {
                    (ours ? job.ours : job.cgal)(which)();
                    std::printf("%.0f\n", own_peak());
                    return 0;
                }
    return 2;
}

/// Keeps Google Benchmark's console report and adds the table of ratios behind it.
class RatioReporter : public benchmark::ConsoleReporter {
  public:
    RatioReporter() : ConsoleReporter(OO_Tabular) {}

    void ReportRuns(const std::vector<Run>& runs) override {
        ConsoleReporter::ReportRuns(runs);
        for (const Run& run : runs) {
            if (run.error_occurred) failed = true;
            // The median of the repetitions where there are some, else the only run.
            if (run.run_type == Run::RT_Aggregate && run.aggregate_name != "median") continue;
            const auto peak = run.counters.find("peak_MB");
            const auto made = run.counters.find("made");
            figures_[run.run_name.function_name] = {run.GetAdjustedRealTime(),
                                                    peak == run.counters.end() ? 0 : peak->second.value,
                                                    made == run.counters.end() ? 0 : made->second.value};
        }
    }

    void print_ratios(int threads) const {
        std::printf("\nWith %d %s. A ratio over 1 means that we are faster, or smaller.\n\n", threads,
                    threads == 1 ? "thread" : "threads");
        std::printf(
            "| job | size | ours, ms | CGAL, ms | CGAL / ours | peak ours, MB | peak CGAL, MB | CGAL / ours | made, "
            "ours / CGAL |\n");
        std::printf("| --- | --- | ---: | ---: | ---: | ---: | ---: | ---: | --- |\n");
        for (const Job& job : jobs()) {
            std::vector<double> ratios;
            for (const std::string& which : job.cases) {
                const auto ours = figures_.find(full_name(job, which, "ours")),
                           cgal = figures_.find(full_name(job, which, "cgal"));
                if (ours == figures_.end() || cgal == figures_.end()) continue;
                ratios.push_back(cgal->second.milliseconds / ours->second.milliseconds);
                const Figures &a = ours->second, &b = cgal->second;
                std::printf("| %s | %s | %.1f | %.1f | **%.2f** | %.0f | %.0f | **%.2f** | %.0f / %.0f |\n",
                            job.name.c_str(), which.c_str(), a.milliseconds, b.milliseconds,
                            b.milliseconds / a.milliseconds, a.peak, b.peak, b.peak / a.peak, a.made, b.made);
            }
            std::sort(ratios.begin(), ratios.end());
            if (ratios.size() > 3)
                std::printf("| %s | median of %zu | | | **%.2f** | | | | |\n", job.name.c_str(), ratios.size(),
                            (ratios[(ratios.size() - 1) / 2] + ratios[ratios.size() / 2]) / 2);
        }
    }

    bool failed = false;

  private:
    struct Figures {
        double milliseconds, peak, made;
    };
    std::map<std::string, Figures> figures_;
};

void register_jobs() {
    for (const Job& job : jobs())
        for (const std::string& which : job.cases)
            for (const bool ours : {true, false}) {
                const std::string name = full_name(job, which, ours ? "ours" : "cgal");
                const auto prepare = ours ? job.ours : job.cgal;
                benchmark::RegisterBenchmark(name.c_str(),
                                             [prepare, name, which](benchmark::State& state) {
                                                 std::size_t made = 0;
                                                 for (auto _ : state) {
                                                     state.PauseTiming();
                                                     {
                                                         auto work = prepare(which);
                                                         state.ResumeTiming();
                                                         made = work();
                                                         state.PauseTiming();
                                                     }
                                                     state.ResumeTiming();
                                                 }
                                                 state.counters["made"] = static_cast<double>(made);
                                                 if (const auto peak = peak_megabytes(name))
                                                     state.counters["peak_MB"] = *peak;
                                                 else
                                                     state.SkipWithError("the run for its peak memory failed");
                                             })
                    ->Unit(benchmark::kMillisecond)
                    ->UseRealTime()
                    ->MinTime(0.5);
            }
}

/// Takes "NAME VALUE" out of the arguments.
std::optional<std::string> take_option(int& argc, char** argv, const char* name) {
    for (int i = 1; i + 1 < argc; ++i)
        if (std::strcmp(argv[i], name) == 0) {
            std::string value = argv[i + 1];
            std::copy(argv + i + 2, argv + argc, argv + i);
            argc -= 2;
            return value;
        }
    return std::nullopt;
}

int run(int argc, char** argv) {
    int threads = static_cast<int>(std::thread::hardware_concurrency());
    if (const auto wanted = take_option(argc, argv, "--threads")) {
        const auto [end, error] = std::from_chars(wanted->data(), wanted->data() + wanted->size(), threads);
        if (error != std::errc() || end != wanted->data() + wanted->size() || threads < 1) {
            std::fprintf(stderr, "bench: --threads takes a number from 1 up, not \"%s\"\n", wanted->c_str());
            return 2;
        }
    }
    const tbb::global_control limit(tbb::global_control::max_allowed_parallelism, static_cast<std::size_t>(threads));
    if (const auto work = take_option(argc, argv, "--work")) return do_work(*work);
    if (const auto figures = take_option(argc, argv, "--figures")) {
        if (*figures == "drag") return print_drag(), 0;
        if (*figures == "growth") return print_growth("docs/growth.svg"), 0;
        if (*figures == "crossings") return print_crossing_growth(), 0;
        if (*figures == "near") return print_near(std::vector<std::string>(argv + 1, argv + argc)), 0;
        if (*figures == "edits") return print_job_edits(), 0;
        if (*figures == "copies") return print_copies(), 0;
        if (*figures == "stages") return print_stages(), 0;
        if (*figures == "stopping") return print_stopping(), 0;
        std::fprintf(
            stderr,
            "bench: --figures takes drag, growth, copies, crossings, edits, near, stages or stopping, not \"%s\"\n",
            figures->c_str());
        return 2;
    }
    benchmark::Initialize(&argc, argv);
    if (benchmark::ReportUnrecognizedArguments(argc, argv)) return 2;
    register_jobs();
    RatioReporter reporter;
    benchmark::RunSpecifiedBenchmarks(&reporter);
    reporter.print_ratios(threads);
    std::error_code ignored;
    std::filesystem::remove_all(folder(), ignored);
    return reporter.failed ? 1 : 0;
}

}  // namespace
}  // namespace anvil::bench

int main(int argc, char** argv) {
    anvil::keep_freed_memory();
    try {
        return anvil::bench::run(argc, argv);
    } catch (const std::exception& error) {
        std::fprintf(stderr, "bench: %s\n", error.what());
        return 1;
    }
}
