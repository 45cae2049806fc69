// Each benchmark runs twice in one run, by us and by CGAL, and the report ends with the ratios.
//
//   bench [--threads N] [Google Benchmark's own options]
//   bench --work NAME     does one job once and nothing else: how peak memory is measured, in a process of its own

#include <benchmark/benchmark.h>
#include <tbb/global_control.h>

#include <charconv>
#include <cstdio>
#include <cstdlib>
#include <cstring>
#include <filesystem>
#include <fstream>
#include <functional>
#include <map>
#include <optional>
#include <stdexcept>
#include <thread>

#include "bench/cgal_work.h"
#include "core/combine/combine.h"
#include "core/inspect/inspect.h"
#include "core/io/mesh_file.h"
#include "core/mesh/primitives.h"

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

template <class T>
T must(Result<T> result) {
    if (!result) throw std::runtime_error(result.error().sentence());
    return std::move(*result);
}

/// One job for one side. `prepare` makes a callable that does the work once and returns faces or defects; making it is
/// not measured.
struct Job {
    std::string name;
    std::function<std::function<std::size_t()>(const Size&)> ours, cgal;
};

std::vector<Job> jobs() {
    auto operands = [](const Size& s) { return std::vector<const Mesh*>{&sphere(s, 0), &sphere(s, 1)}; };
    auto pair = [](const Size& s) { return std::pair{CgalMesh(sphere(s, 0)), CgalMesh(sphere(s, 1))}; };
    return {
        {"read_stl",
         [](const Size& s) { return [file = stl_of(s)] { return welded(must(read_mesh(file))).faces.size(); }; },
         [](const Size& s) { return [file = stl_of(s)] { return cgal_read_stl(file); }; }},
        {"arrange_spheres",
         [=](const Size& s) {
             return [meshes = operands(s)] {
                 Progress progress;
                 return must(prepare(meshes, progress)).faces.size();
             };
         },
         [=](const Size& s) { return [p = pair(s)]() mutable { return cgal_corefine(p.first, p.second); }; }},
        {"union_spheres",
         [=](const Size& s) {
             return [meshes = operands(s)] {
                 Progress progress;
                 return must(combine(Operation::union_of, meshes, progress)).mesh.faces.size();
             };
         },
         [=](const Size& s) { return [p = pair(s)]() mutable { return cgal_union(p.first, p.second); }; }},
        {"inspect_sphere",
         [](const Size& s) {
             return [mesh = &sphere(s, 0)] {
                 Progress progress;
                 return must(inspect(*mesh, progress)).findings.size();
             };
         },
         [](const Size& s) { return [mesh = CgalMesh(sphere(s, 0))] { return cgal_inspect(mesh); }; }},
    };
}

/// Megabytes of the largest resident set of a fresh process while it does one job once, its inputs among them.
std::optional<double> peak_megabytes(const std::string& work) {
    static std::map<std::string, double> measured;  // a benchmark is called several times to find its iterations
    if (const auto known = measured.find(work); known != measured.end()) return known->second;
    const std::string command = "'" + std::filesystem::read_symlink("/proc/self/exe").string() + "' --work " + work;
    FILE* out = popen(command.c_str(), "r");
    if (!out) return std::nullopt;
    double kilobytes = 0;
    const bool read = std::fscanf(out, "%lf", &kilobytes) == 1;
    if (pclose(out) != 0 || !read) return std::nullopt;
    return measured[work] = 1024e-6 * kilobytes;
}

std::string full_name(const Job& job, const Size& size, const char* side) {
    return job.name + "/" + size.name + "/" + side;
}

/// Kilobytes of this process's largest resident set so far. (getrusage would hand down the parent's.)
double own_peak() {
    std::ifstream status("/proc/self/status");
    for (std::string line; std::getline(status, line);)
        if (line.starts_with("VmHWM:")) return std::stod(line.substr(6));
    throw std::runtime_error("/proc/self/status tells no VmHWM");
}

int do_work(const std::string& work) {
    for (const Job& job : jobs())
        for (const Size& size : sizes)
            for (const bool ours : {true, false})
                if (work == full_name(job, size, ours ? "ours" : "cgal")) {
                    (ours ? job.ours : job.cgal)(size)();
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
        for (const Job& job : jobs())
            for (const Size& size : sizes) {
                const auto ours = figures_.find(full_name(job, size, "ours")),
                           cgal = figures_.find(full_name(job, size, "cgal"));
                if (ours == figures_.end() || cgal == figures_.end()) continue;
                const Figures &a = ours->second, &b = cgal->second;
                std::printf("| %s | %s | %.1f | %.1f | **%.2f** | %.0f | %.0f | **%.2f** | %.0f / %.0f |\n",
                            job.name.c_str(), size.name, a.milliseconds, b.milliseconds,
                            b.milliseconds / a.milliseconds, a.peak, b.peak, b.peak / a.peak, a.made, b.made);
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
        for (const Size& size : sizes)
            for (const bool ours : {true, false}) {
                const std::string name = full_name(job, size, ours ? "ours" : "cgal");
                const auto prepare = ours ? job.ours : job.cgal;
                benchmark::RegisterBenchmark(name.c_str(),
                                             [prepare, name, &size](benchmark::State& state) {
                                                 std::size_t made = 0;
                                                 for (auto _ : state) {
                                                     state.PauseTiming();
                                                     {
                                                         auto work = prepare(size);
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
    try {
        return anvil::bench::run(argc, argv);
    } catch (const std::exception& error) {
        std::fprintf(stderr, "bench: %s\n", error.what());
        return 1;
    }
}
