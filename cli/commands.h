#pragma once

#include <string>
#include <vector>

#include "core/base/progress.h"
#include "core/mend/repairs.h"

namespace anvil::cli {

/// Exit statuses; scripts rely on them.
enum class Status {
    done = 0,          ///< for inspect and deliver: and print-ready
    has_findings = 1,  ///< done, but the result has findings
    usage = 2,
    unreadable = 3,  ///< an input cannot be read
    impossible = 4,  ///< the operation could not be done, or the output not be written
    cancelled = 5,
};

struct CombineOptions {
    std::string operation, output, json, unit = "mm";
    std::string contact = "separate";
    std::vector<std::string> inputs;
    std::string sheets = "leave";
    bool merge_flush = false;
};
struct InspectOptions {
    std::vector<std::string> inputs;
    std::string json, unit = "mm";
    std::string page;  ///< the report in HTML
};
struct MendCommand {
    std::string input, output, json, unit = "mm";
    std::vector<std::string> only;  ///< words of repairs; empty for the whole plan
    MendOptions how;                ///< of which the reaches are set
    std::string sheets;             ///< empty: left, or thickened where a thickness is given
    std::string fill = "smallest";
    std::string page;  ///< the report in HTML
    std::string contact = "separate";
};
struct CompareOptions {
    std::string a, b, json, unit = "mm";
    double spacing = 0;
};
struct RunOptions {
    std::string job, output, json;
    std::string contact;  ///< empty for the job's own
};

struct DoOptions {
    std::string kind, input, output, json, unit = "mm";
    std::string command = "do";         ///< that it was asked for by
    std::vector<std::string> settings;  ///< "NAME=VALUE"
};

struct ShapeOptions {
    std::string kind, output, json;
    std::vector<std::string> settings;  ///< "NAME=VALUE"
};
struct PlaceOptions {
    std::string input, output, json, unit = "mm";
    std::string move, rotate, scale, mirror, size;  ///< as typed; empty for none
    bool drop = false, centre = false;
};
struct ConvertOptions {
    std::string output, json, unit = "mm";
    std::vector<std::string> inputs;
};

/// Each reads, works, writes, and prints one line on standard error where it fails.
Status run_combine(const CombineOptions& options, Progress& progress);
Status run_inspect(const InspectOptions& options, Progress& progress);
Status run_mend(const MendCommand& options, Progress& progress);
Status run_compare(const CompareOptions& options, Progress& progress);
Status run_job(const RunOptions& options, Progress& progress);
Status run_do(const DoOptions& options, Progress& progress);
Status run_shape(const ShapeOptions& options, Progress& progress);
Status run_place(const PlaceOptions& options, Progress& progress);
Status run_convert(const ConvertOptions& options, Progress& progress);
/// The kinds that `do` knows, with their settings, for help.
std::string list_of_kinds();
/// The shapes that `shape` knows, with their measures, for help.
std::string list_of_shapes();

}  // namespace anvil::cli
