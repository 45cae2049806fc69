#include "bench/engine_figures.h"

#include <algorithm>
#include <chrono>
#include <cmath>
#include <cstdio>
#include <fstream>
#include <numbers>
#include <sstream>
#include <stdexcept>
#include <tuple>
#include <vector>

#include "bench/peak_memory.h"
#include "core/exact/stages.h"
#include "core/job/edits.h"
#include "core/job/evaluate.h"
#include "core/mesh/primitives.h"
#include "core/mesh/transform.h"
#include "demo/lantern.h"
#include "tests/support/star_prism.h"

namespace anvil::bench {
namespace {

double seconds_of(const auto& work) {
    const auto start = std::chrono::steady_clock::now();
    work();
    return std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
}

Combined united(const std::vector<Mesh>& meshes) {
    std::vector<const Mesh*> operands;
    for (const Mesh& m : meshes) operands.push_back(&m);
    Progress progress;
    auto result = combine(Operation::union_of, operands, progress);
    if (!result) throw std::runtime_error(result.error().sentence());
    return std::move(*result);
}

/// Two spheres, of about `rows`^2 * 4 faces in all, that cross in no special way.
std::vector<Mesh> two_spheres(int rows) {
    return {make_sphere({0, 0, 0}, 20, rows + 1, rows), make_sphere({9.3, 3.7, 2.1}, 20, rows + 1, rows)};
}
constexpr int growth_rows[] = {16, 32, 50, 100, 158, 316, 500, 707, 1000};

struct GrowthPoint {
    double faces, seconds, megabytes;
};

/// Time and memory over faces, both logarithmic, with a line of n log n for comparison.
std::string drawn(const std::vector<GrowthPoint>& points) {
    constexpr double width = 640, height = 400, left = 60, bottom = 340, right = 600, top = 40;
    auto x = [&](double faces) { return left + (std::log10(faces) - 3) / 4 * (right - left); };
    auto y = [&](double value, double low) { return bottom - (std::log10(value) - low) / 5 * (bottom - top); };
    std::ostringstream svg;
    svg << "<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"" << width << "\" height=\"" << height
        << "\" font-family=\"sans-serif\" font-size=\"12\">\n<rect width=\"640\" height=\"400\" fill=\"#FBFAF6\"/>\n";
    for (int decade = 3; decade <= 7; ++decade)
        svg << "<line x1=\"" << x(std::pow(10, decade)) << "\" y1=\"" << top << "\" x2=\"" << x(std::pow(10, decade))
            << "\" y2=\"" << bottom << "\" stroke=\"#D9D3C5\"/><text x=\"" << x(std::pow(10, decade)) - 10 << "\" y=\""
            << bottom + 18 << "\">1e" << decade << "</text>\n";
    for (int decade = 0; decade <= 5; ++decade)
        svg << "<line x1=\"" << left << "\" y1=\"" << y(std::pow(10, decade), 0) << "\" x2=\"" << right << "\" y2=\""
            << y(std::pow(10, decade), 0) << "\" stroke=\"#D9D3C5\"/><text x=\"" << left - 40 << "\" y=\""
            << y(std::pow(10, decade), 0) + 4 << "\">1e" << decade << "</text>\n";
    auto line = [&](const char* colour, const char* dash, const auto& value) {
        svg << "<polyline fill=\"none\" stroke-width=\"2\" stroke=\"" << colour << "\" stroke-dasharray=\"" << dash
            << "\" points=\"";
        for (const GrowthPoint& p : points) svg << x(p.faces) << ',' << y(value(p), 0) << ' ';
        svg << "\"/>\n";
    };
    const GrowthPoint& middle = points[points.size() / 2];
    const double scale = middle.seconds * 1000 / (middle.faces * std::log(middle.faces));
    line("#0E6B73", "none", [](const GrowthPoint& p) { return p.seconds * 1000; });
    line("#A86E0C", "none", [](const GrowthPoint& p) { return p.megabytes; });
    line("#5F6B72", "4 4", [&](const GrowthPoint& p) { return scale * p.faces * std::log(p.faces); });
    const std::tuple<double, const char*, const char*> legend[] = {
        {60, "#0E6B73", "time, ms"}, {150, "#A86E0C", "peak memory, MB"}, {300, "#5F6B72", "n log n (dashed)"}};
    for (const auto& [at, colour, text] : legend)
        svg << "<text x=\"" << at << "\" y=\"22\" fill=\"" << colour << "\">" << text << "</text>\n";
    svg << "<text x=\"440\" y=\"378\">faces of both spheres</text>\n</svg>\n";
    return svg.str();
}

void print_share(const char* what, const std::vector<Mesh>& meshes) {
    stage_counts() = {};
    united(meshes);
    const StageCounts counts = stage_counts();
    double all = 0;
    for (std::uint64_t n : counts.decided) all += static_cast<double>(n);
    std::printf("| %s | %.0f |", what, all);
    for (std::uint64_t n : counts.decided) std::printf(" %.3f %% |", 100 * static_cast<double>(n) / all);
    std::printf("\n");
}

}  // namespace

void print_drag() {
    anvil::Job job;
    add_part(job, "body", std::make_shared<const Mesh>(make_sphere({0, 0, 0}, 20, 501, 500)));
    const Mesh cutter = make_sphere({0, 0, 0}, 3, 26, 20);
    const std::string step =
        add_combining(job, Operation::difference, add_part(job, "cutter", std::make_shared<const Mesh>(cutter)));
    const RowId row{{}, {job.work(), step}};
    Evaluator evaluator;
    std::vector<double> times;
    for (int i = 0; i <= 200; ++i) {
        const double t = i / 200.0, angle = 2.2 * t;
        set_placement(job, row, {{21 * std::cos(angle), 21 * std::sin(angle), -6 + 12 * t}, {40 * t, 25 * t, 70 * t}});
        Progress progress;
        const double s = seconds_of([&] {
            if (auto done = evaluator.evaluate(job, progress); !done) throw std::runtime_error(done.error().sentence());
        });
        if (i > 0) times.push_back(s * 1000);  // the first makes the body ready
    }
    std::sort(times.begin(), times.end());
    auto share = [&](double s) { return times[static_cast<std::size_t>(s * static_cast<double>(times.size() - 1))]; };
    std::printf("| moves | median, ms | 95 %% under, ms | longest, ms |\n| ---: | ---: | ---: | ---: |\n");
    std::printf("| %zu | %.1f | **%.1f** | %.1f |\n", times.size(), share(0.5), share(0.95), times.back());
}

namespace {

void print_edits(const char* name, const anvil::Job& job) {
    Evaluator evaluator;
    std::printf("| %s |", name);
    std::size_t faces = 0;
    auto milliseconds = [&](const anvil::Job& next) {
        Progress progress;
        return 1e3 * seconds_of([&] {
                   auto done = evaluator.evaluate(next, progress);
                   if (!done) throw std::runtime_error(done.error().sentence());
                   faces = done->combined->mesh.faces.size();
               });
    };
    auto evaluate = [&](const anvil::Job& next) { std::printf(" %.1f |", milliseconds(next)); };
    evaluate(job);
    anvil::Job next = job;
    const std::vector<Row> rows = rows_of(job);
    const Row& last = *std::ranges::find_if(rows.rbegin(), rows.rend(), [](const Row& row) { return row.combines(); });
    std::vector<double> moves;
    for (int k = 0; k < 15; ++k) {
        edit_use(next, last.id, [](Use& use) { use.placement.position.x += 0.02; });
        moves.push_back(milliseconds(next));
    }
    std::ranges::sort(moves);
    std::printf(" %.1f (%.1f to %.1f) |", moves[moves.size() / 2], moves.front(), moves.back());
    edit_step(next, last.step->id, [](Step& step) { step.on = false; });
    evaluate(next);
    edit_step(next, last.step->id, [](Step& step) {
        step.on = true;
        step.kind = word(Operation::union_of);
    });
    evaluate(next);
    evaluate(job);
    std::printf(" %zu | %.0f |\n", faces, static_cast<double>(evaluator.kept().bytes()) / 1e6);
}

anvil::Job ball_with_balls(int count) {
    anvil::Job job;
    add_part(job, "ball", std::make_shared<const Mesh>(make_icosphere({0, 0, 0}, 50, 6)));
    const auto small = std::make_shared<const Mesh>(make_icosphere({0, 0, 0}, 3, 2));
    for (int k = 0; k < count; ++k) {
        // Evenly over the ball, by the golden angle.
        const double z = 1 - (2 * k + 1.0) / count, r = std::sqrt(1 - z * z), angle = 2.399963229728653 * k;
        const std::string id = add_part(job, "small ball " + std::to_string(k + 1), small);
        edit_part(job, id, [&](Part& part) {
            part.bench.position = Vec3{r * std::cos(angle), r * std::sin(angle), z} * 50;
        });
        add_combining(job, k % 3 == 0 ? Operation::union_of : Operation::difference, id);
    }
    return job;
}

}  // namespace

void print_job_edits() {
    std::printf(
        "| job | from scratch, ms | last moved, median of 15 | switched off | another operation | back | faces | kept, "
        "MB |\n"
        "| --- | ---: | ---: | ---: | ---: | ---: | ---: | ---: |\n");
    print_edits("demo", demo::lantern_job());
    print_edits("300 steps", ball_with_balls(300));
}

namespace {

constexpr int cutters = 500;

/// A ball with cutters all along its equator, 1.26 mm apart: copies of one, or a step each.
anvil::Job cut_along_equator(double radius, bool as_copies, double z) {
    static const auto ball = std::make_shared<const Mesh>(make_sphere({0, 0, 0}, 100, 317, 317));
    anvil::Job job;
    add_part(job, "ball", ball);
    const std::string part =
        add_part(job, "cutter", std::make_shared<const Mesh>(make_sphere({0, 0, 0}, radius, 23, 23)));
    for (int k = 0; k < (as_copies ? 1 : cutters); ++k) {
        const double angle = 2 * std::numbers::pi * k / cutters;
        edit_step(job, add_combining(job, Operation::difference, part), [&](Step& step) {
            step.operand->placement = {{100 * std::cos(angle), 100 * std::sin(angle), z}, {0, 0, 360.0 * k / cutters}};
            if (as_copies) step.operand->copies = Copies{.kind = "round", .values = {{"count", std::int64_t{cutters}}}};
        });
    }
    return job;
}

/// Seconds from scratch, and after one move of all.
std::pair<double, double> seconds_of_cutting(double radius, bool as_copies) {
    Evaluator evaluator;
    auto seconds = [&](const anvil::Job& job) {
        Progress progress;
        return seconds_of([&] {
            if (auto done = evaluator.evaluate(job, progress); !done) throw std::runtime_error(done.error().sentence());
        });
    };
    const double first = seconds(cut_along_equator(radius, as_copies, 1));
    double moved = HUGE_VAL;
    for (int k = 1; k <= 3; ++k) moved = std::min(moved, seconds(cut_along_equator(radius, as_copies, 1 + 0.3 * k)));
    return {first, moved};
}

}  // namespace

void print_copies() {
    std::printf(
        "| 500 cutters | from scratch, s | a step each, s | ratio | all moved, s | a step each, s | ratio |\n"
        "| --- | ---: | ---: | ---: | ---: | ---: | ---: |\n");
    for (const double radius : {0.5, 2.0}) {
        const auto [first, moved] = seconds_of_cutting(radius, true);
        const auto [steps_first, steps_moved] = seconds_of_cutting(radius, false);
        std::printf("| %s | %.2f | %.2f | %.2f | %.2f | %.2f | %.2f |\n",
                    radius < 1 ? "apart" : "each across its neighbours", first, steps_first, first / steps_first, moved,
                    steps_moved, moved / steps_moved);
    }
}

bool do_growth(const std::string& work) {
    if (!work.starts_with("growth/")) return false;
    united(two_spheres(std::stoi(work.substr(7))));
    return true;
}

void print_growth(const std::string& svg_file) {
    std::vector<GrowthPoint> points;
    std::printf("| faces in all | ms | ns a face | peak, MB | bytes a face |\n| ---: | ---: | ---: | ---: | ---: |\n");
    for (const int rows : growth_rows) {
        const std::vector<Mesh> meshes = two_spheres(rows);
        const auto faces = static_cast<double>(meshes[0].faces.size() + meshes[1].faces.size());
        double least = 1e300;
        for (int i = 0; i < 3; ++i) least = std::min(least, seconds_of([&] { united(meshes); }));
        const double peak = peak_megabytes("growth/" + std::to_string(rows)).value_or(0);
        points.push_back({faces, least, peak});
        std::printf("| %.0f | %.1f | %.0f | %.0f | %.0f |\n", faces, least * 1e3, least * 1e9 / faces, peak,
                    peak * 1e6 / faces);
        std::fflush(stdout);
    }
    std::ofstream(svg_file) << drawn(points);
}

void print_crossing_growth() {
    std::printf("| corners | ms | us a corner squared |\n| ---: | ---: | ---: |\n");
    for (const int corners : {51, 101, 201, 301, 401, 601}) {
        const std::vector<Mesh> meshes{test::star_prism(corners), make_box({0, 0, -1}, {8, 8, 6})};
        double least = 1e300;
        for (int i = 0; i < (corners < 300 ? 3 : 1); ++i) least = std::min(least, seconds_of([&] { united(meshes); }));
        std::printf("| %d | %.0f | %.0f |\n", corners, least * 1e3, least * 1e6 / corners / corners);
        std::fflush(stdout);
    }
}

void print_stages() {
    std::printf("| input | decisions | filter | bounded | sums of doubles | integers |\n");
    std::printf("| --- | ---: | ---: | ---: | ---: | ---: |\n");
    const std::vector<Mesh> spheres = two_spheres(158);
    print_share("two spheres of 50k faces, nothing flush", spheres);
    std::vector<Mesh> boxes;  // a wall of boxes, each flush with its neighbours and half a box aside in every other row
    for (int j = 0; j < 12; ++j)
        for (int i = 0; i < 12; ++i) {
            const double x = 2.0 * i + (j % 2), z = 1.0 * j;
            boxes.push_back(make_box({x, 0, z}, {x + 2, 1, z + 1}));
        }
    print_share("a wall of 144 flush boxes", boxes);
    std::vector<Mesh> turned = boxes;  // no coordinate is a short number, and nearly flush is not flush
    for (Mesh& m : turned) m = transformed(m, rotation(0.3, {1, 2, 3}));
    print_share("the same, turned: nearly flush", turned);
    print_share("a sphere of 50k faces with itself", {spheres[0], spheres[0]});
}

}  // namespace anvil::bench
