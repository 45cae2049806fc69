#pragma once

#include "core/job/evaluate.h"

namespace anvil {

/// The file of another body beside a first one: "lamp.stl" and "lid/top" are "lamp-lid-top.stl".
std::string file_beside(const std::string& file, const std::string& name);

struct Exported {
    std::vector<std::string> files;
    std::size_t bodies = 0, faces = 0;
};
/// Writes what a job delivers, all or nothing. Where the format holds several bodies, all are in one file; else each
/// piece of the result is in a file of its own that ends with its number, and what else is delivered in files that end
/// with its name. Fails: out_of_range where coordinates do not fit the format, and what files fail with.
Result<Exported> export_files(const Job& job, const Evaluation& evaluation, const std::string& file);

}  // namespace anvil
