#pragma once

#include <string>

#include "cli/commands.h"
#include "core/combine/combine.h"
#include "core/inspect/compare.h"
#include "core/inspect/inspect.h"
#include "core/io/mesh_file.h"
#include "core/report/facts.h"

namespace anvil::cli {

/// The report of a combine: where surfaces meet, lie flush, and were closed. Operands count from 1.
Json curve_facts(std::span<const CrossingCurve> curves);
Json flush_facts(std::span<const FlushArea> areas);
Json hole_facts(std::span<const ClosedHole> holes);

/// The same in a few lines for people.
std::string summary(const Inspection& inspection);

/// The bodies of a file, each judged by itself, as a slicer takes them.
struct FoundBodies {
    std::vector<std::string> names;
    std::vector<Inspection> each{};  ///< where there are several
    Inspection whole{};              ///< of all together
};
/// `file`: with the numbers that this one will hold; "" with those that there are.
Result<FoundBodies> inspected(std::span<const NamedMesh> bodies, Progress& progress, const std::string& file = {});
/// The facts of the whole; of several, `bodies`, with the `name` of each.
Json facts_of(const FoundBodies& found, const std::string& file);
std::string summary(const FoundBodies& found);

/// Of many meshes a line each, under a heading. Null: it cannot be read.
std::string table_heading();
std::string table_line(const std::string& file, const Inspection* inspection);

/// What is written beside a result: in the same file where its format holds several bodies, else in one that ends with
/// its name.
struct Others {
    std::string name = "result";  ///< of the result itself
    std::vector<NamedMesh> bodies{};
};

/// Writes a result and its report: first everything is judged, so that a stop leaves nothing behind. `json`: what is
/// known of it so far. `json_file`: "" for none.
Status finish(const Combined& combined, Json json, const std::string& output, const std::string& json_file,
              Progress& progress, const Others& others = {});

/// A report's JSON as text. Bytes of names that are no UTF-8 are replaced.
std::string json_text(const Json& json);

}  // namespace anvil::cli
