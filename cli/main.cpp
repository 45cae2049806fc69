// The command line: the same work as the window, without one. What it takes and gives is fixed; see docs/manual.md.
#include <sys/resource.h>
#include <tbb/global_control.h>

#include <CLI/CLI.hpp>
#include <algorithm>
#include <csignal>
#include <cstdio>
#include <new>
#include <optional>
#include <string>

#include "cli/commands.h"
#include "cli/shared.h"
#include "core/base/memory.h"
#include "core/base/plain_text.h"
#include "core/combine/operation.h"
#include "core/mend/mend.h"
#include "core/mend/reaches.h"

namespace {
anvil::Progress progress;

/// Where memory is so limited that the stacks of further threads may not fit in it, all is done by one: the thread
/// library ends the program when it asks for a thread and gets none.
void use_one_thread_in_little_memory() {
    rlimit limit{};
    if (getrlimit(RLIMIT_AS, &limit) != 0 || limit.rlim_cur > (rlim_t{256} << 20)) return;
    // Never taken back: the library would start threads then.
    static const auto* const one = new tbb::global_control(tbb::global_control::max_allowed_parallelism, 1);
    static_cast<void>(one);
}

std::string list_of_repairs() {
    std::string text = "Repairs, in the order in which they run:\n";
    for (const anvil::Repair repair : anvil::whole_plan()) {
        std::string name(anvil::word(repair));
        name.resize(14, ' ');
        text += "  " + name + std::string(anvil::sentence(repair)) + "\n";
    }
    return text;
}

/// A first word that is no command is told with the nearest one; "help" is one, too. Nothing where all is well.
std::optional<anvil::cli::Status> check_command(CLI::App& app, int argc, char** argv) {
    using namespace anvil::cli;
    std::vector<std::string> names;
    for (const CLI::App* command : app.get_subcommands({})) names.push_back(command->get_name());
    const std::vector<std::string_view> words(names.begin(), names.end());
    if (argc < 2) {
        std::string list;
        for (const std::string& name : names) list += (list.empty() ? "" : ", ") + name;
        return fail_usage("name a command: " + list + "; see clean-anvil-cli --help");
    }
    const std::string first = argv[1];
    if (first == "help") {
        const bool known = argc > 2 && std::ranges::find(names, argv[2]) != names.end();
        std::fputs((known ? app.get_subcommand(argv[2])->help() : app.help()).c_str(), stdout);
        return Status::done;
    }
    if (first.starts_with("-") || std::ranges::find(names, first) != names.end()) return std::nullopt;
    const std::string none = "there is no command " + anvil::in_quotes(first);
    if (anvil::operation_from(first))
        return fail_usage(none + "; it is an operation: clean-anvil-cli combine " + first + " A B -o OUT");
    return fail_usage(none + did_you_mean(first, words, "clean-anvil-cli --help"));
}

}  // namespace

int main(int argc, char** argv) try {
    using namespace anvil::cli;
    use_one_thread_in_little_memory();
    std::signal(SIGINT, [](int) { progress.cancel(); });
    std::signal(SIGTERM, [](int) { progress.cancel(); });
    std::signal(SIGXFSZ, SIG_IGN);  // a file that would grow beyond its limit is an error like a full disk

    CLI::App app{"Combine, cut, inspect and repair solid triangle meshes.", "clean-anvil-cli"};
    app.require_subcommand(1);
    app.set_version_flag("--version", ANVIL_VERSION);

    CombineOptions combine_options;
    auto* combine = app.add_subcommand("combine", "combine two or more solids or sheets");
    combine
        ->add_option("OP", combine_options.operation,
                     "union, difference, reverse-difference, intersection, split, pieces, inlay, scribe, trim-outside, "
                     "trim-inside or gather")
        ->required();
    combine->add_option("FILES", combine_options.inputs, "the base and its operands")->required()->expected(2, -1);
    combine
        ->add_option("-o,--out", combine_options.output,
                     "where the result goes (.3mf, .stl, .obj, .ply, .off); with %d in its name, each piece to a file "
                     "of its own")
        ->required();
    const auto contact_rules = CLI::IsMember({"separate", "join"});
    combine->add_option("--contact", combine_options.contact, "where bodies only touch: separate (the default) or join")
        ->check(contact_rules);
    combine
        ->add_option("--sheets", combine_options.sheets,
                     "inputs that enclose nothing: leave (the default: they stay sheets) or close (every hole is "
                     "filled, however large)")
        ->check(CLI::IsMember({"leave", "close"}));
    combine->add_flag("--merge-flush", combine_options.merge_flush,
                      "make one flat region of faces that lie in one plane side by side");
    combine->add_option("--json", combine_options.json, "write a report; - for standard output");

    InspectOptions inspect_options;
    auto* inspect = app.add_subcommand("inspect", "count every kind of defect");
    inspect->add_option("IN", inspect_options.inputs, "a mesh, or several: a line each")->required()->expected(1, -1);
    inspect->add_option("--json", inspect_options.json, "write a report; - for standard output");
    inspect->add_option("--html", inspect_options.page, "write the report as a page");

    MendCommand mend_options;
    auto* mend = app.add_subcommand("mend", "repair a mesh until it is print-ready, and say what was done");
    mend->add_option("IN", mend_options.input, "a mesh")->required();
    mend->add_option("-o,--out", mend_options.output, "where the result goes (.3mf, .stl, .obj, .ply, .off)")
        ->required();
    mend->add_option("--only", mend_options.only, "run these repairs alone, listed below; separated by commas")
        ->delimiter(',');
    for (const anvil::Reach& reach : anvil::reaches()) {
        if (reach.may_be_less_than_none) continue;  // of the ledger's cracks alone
        std::string name = std::string("--") + reach.name;
        std::ranges::replace(name, '_', '-');
        mend->add_option(name, mend_options.how.*reach.value,
                         std::string(reach.says) + (reach.repair == anvil::Repair::shells ? ", in mm³"
                                                    : reach.repair == anvil::Repair::thicken
                                                        ? ", in mm; by itself it means --sheets thicken"
                                                        : ", in mm"))
            ->check(reach.repair == anvil::Repair::thicken ? CLI::Validator(CLI::PositiveNumber)
                                                           : CLI::Validator(CLI::NonNegativeNumber));
    }
    mend->add_option("--fill", mend_options.fill, "how holes are closed: smallest, flat or smooth")
        ->check(CLI::IsMember({"smallest", "flat", "smooth"}));
    mend->add_option(
            "--sheets", mend_options.sheets,
            "what becomes of a surface that encloses nothing: leave (it stays open), thicken (see --thickness) "
            "or close (every hole is filled, however large)")
        ->check(CLI::IsMember({"leave", "thicken", "close"}));
    mend->add_option("--contact", mend_options.contact, "where bodies only touch: separate (the default) or join")
        ->check(contact_rules);
    mend->add_option("--json", mend_options.json, "write a report; - for standard output");
    mend->add_option("--html", mend_options.page, "write the report as a page");
    mend->footer(list_of_repairs());

    CompareOptions compare_options;
    auto* compare = app.add_subcommand("compare", "volumes, areas and the distance between two surfaces");
    compare->add_option("A", compare_options.a, "a mesh")->required();
    compare->add_option("B", compare_options.b, "another mesh")->required();
    compare
        ->add_option("--spacing", compare_options.spacing, "distance between samples in mm; 0: a 200th of the diagonal")
        ->check(CLI::NonNegativeNumber);
    compare->add_option("--json", compare_options.json, "write a report; - for standard output");

    RunOptions run_options;
    auto* run = app.add_subcommand("run", "evaluate a job");
    run->add_option("JOB", run_options.job, "a .anvil file")->required();
    run->add_option(
        "-o,--out", run_options.output,
        "where the result goes (.3mf, .stl, .obj, .ply, .off); with %d in its name, each piece to a file of its own");
    run->add_option("--contact", run_options.contact, "where bodies only touch: separate or join; as the job says")
        ->check(contact_rules);
    run->add_option("--json", run_options.json, "write a report; - for standard output");

    DoOptions do_options;
    auto* one = app.add_subcommand("do", "do one step to a mesh");
    one->add_option("KIND", do_options.kind, "a kind of step, listed below")->required();
    one->add_option("IN", do_options.input, "a mesh")->required();
    one->add_option("NAME=VALUE", do_options.settings, "its settings; lengths in mm, or with a unit: 2in");
    one->add_option("-o,--out", do_options.output, "where the result goes (.3mf, .stl, .obj, .ply, .off)")->required();
    one->add_option("--json", do_options.json, "write a report; - for standard output");
    one->footer(list_of_kinds());

    DoOptions cut_options;
    cut_options.command = "cut";
    std::string origin, normal, keep;
    auto* cut = app.add_subcommand("cut", "cut a mesh");
    cut->require_subcommand(1);
    auto* cut_plane = cut->add_subcommand("plane", "cut a mesh by a plane");
    cut_plane->fallthrough();  // to --unit and --threads
    cut_plane->add_option("IN", cut_options.input, "a mesh")->required();
    cut_plane
        ->add_option("-o,--out", cut_options.output,
                     "where the result goes (.3mf, .stl, .obj, .ply, .off); with %d in its name, each piece to a file "
                     "of its own")
        ->required();
    cut_plane->add_option("--origin", origin, "X,Y,Z of a point of the plane, in mm")->required();
    cut_plane->add_option("--normal", normal, "X,Y,Z where its front side looks, or an axis: z")->required();
    cut_plane->add_option("--keep", keep, "front, back or both")
        ->required()
        ->check(CLI::IsMember({"front", "back", "both"}));
    cut_plane->add_option("--json", cut_options.json, "write a report; - for standard output");

    ShapeOptions shape_options;
    auto* shape = app.add_subcommand("shape", "make a shape of its measures");
    shape->add_option("KIND", shape_options.kind, "a kind of shape, listed below")->required();
    shape->add_option("NAME=VALUE", shape_options.settings, "its measures; lengths in mm, or with a unit: 2in");
    shape->add_option("-o,--out", shape_options.output, "where it goes (.3mf, .stl, .obj, .ply, .off)")->required();
    shape->add_option("--json", shape_options.json, "write a report; - for standard output");
    shape->footer(list_of_shapes());

    PlaceOptions place_options;
    auto* place = app.add_subcommand("place", "mirror, scale, rotate, centre, drop and move a mesh, in this order");
    place->add_option("IN", place_options.input, "a mesh")->required();
    place->add_option("-o,--out", place_options.output, "where the result goes (.3mf, .stl, .obj, .ply, .off)")
        ->required();
    place->add_option("--mirror", place_options.mirror, "mirror it along an axis: x, y or z")
        ->check(CLI::IsMember({"x", "y", "z"}));
    place->add_option("--scale", place_options.scale, "about the origin, by a factor or by X,Y,Z");
    place->add_option("--size", place_options.size, "to X,Y,Z; 0 keeps an axis in proportion");
    place->add_option("--rotate", place_options.rotate, "by X,Y,Z degrees about the axes, x first");
    place->add_flag("--centre", place_options.centre, "put its middle over x = 0, y = 0");
    place->add_flag("--drop", place_options.drop, "put its lowest point on z = 0");
    place->add_option("--move", place_options.move, "by X,Y,Z");
    place->add_option("--json", place_options.json, "write a report; - for standard output");

    ConvertOptions convert_options;
    auto* convert = app.add_subcommand("convert", "write meshes in another format; several into one file");
    convert->add_option("IN", convert_options.inputs, "meshes")->required()->expected(1, -1);
    convert->add_option("-o,--out", convert_options.output, "where the result goes (.3mf, .stl, .obj, .ply, .off)")
        ->required();
    convert->add_option("--json", convert_options.json, "write a report; - for standard output");

    int threads = 0;
    std::string unit = "mm";
    for (CLI::App* command : app.get_subcommands({}))
        command
            ->add_option("--unit", unit,
                         "what the numbers of a mesh file mean that names no unit: mm (the default), cm, m, in or ft")
            ->check(CLI::IsMember({"mm", "cm", "m", "in", "ft"}));
    for (CLI::App* command : app.get_subcommands({}))
        command
            ->add_option("--threads", threads,
                         "work on so many threads at most; as many as there are cores if not given")
            ->check(CLI::Range(1, 4096));

    if (const auto status = check_command(app, argc, argv)) return static_cast<int>(*status);
    try {
        app.parse(argc, argv);
    } catch (const CLI::ParseError& e) {
        if (e.get_exit_code() == 0) return app.exit(e);
        const auto chosen = app.get_subcommands();
        return static_cast<int>(fail_usage(std::string(e.what()) + "; see clean-anvil-cli " +
                                           (chosen.empty() ? "" : chosen.front()->get_name() + " ") + "--help"));
    }
    std::optional<tbb::global_control> limit;
    if (threads > 0) limit.emplace(tbb::global_control::max_allowed_parallelism, static_cast<std::size_t>(threads));
    const auto status = anvil::with_memory_checked([&]() -> anvil::Result<Status> {
        for (std::string* to : {&combine_options.unit, &inspect_options.unit, &mend_options.unit, &compare_options.unit,
                                &do_options.unit, &cut_options.unit, &place_options.unit, &convert_options.unit})
            *to = unit;
        if (*combine) return run_combine(combine_options, progress);
        if (*inspect) return run_inspect(inspect_options, progress);
        if (*mend) return run_mend(mend_options, progress);
        if (*compare) return run_compare(compare_options, progress);
        if (*one) return run_do(do_options, progress);
        if (*cut) {
            cut_options.kind = "cut-plane";
            cut_options.settings = {"origin=" + origin, "normal=" + normal, "keep=" + keep};
            return run_do(cut_options, progress);
        }
        if (*shape) return run_shape(shape_options, progress);
        if (*place) return run_place(place_options, progress);
        if (*convert) return run_convert(convert_options, progress);
        return run_job(run_options, progress);
    });
    if (status) return static_cast<int>(*status);
    return static_cast<int>(fail(status.error()));
} catch (const std::bad_alloc&) {  // before there was anything to do
    std::fputs("clean-anvil-cli: there is not enough memory to start\n", stderr);
    return static_cast<int>(anvil::cli::Status::impossible);
}
