#pragma once

#include <chrono>
#include <span>
#include <string>
#include <vector>

#include "cli/commands.h"
#include "core/base/result.h"
#include "core/combine/pinches.h"
#include "core/inspect/inspect.h"
#include "core/io/file_batch.h"
#include "core/io/mesh_file.h"

namespace anvil::cli {

/// Prints the error, and gives the exit status for it.
Status fail(const Error& error);
Status fail_usage(const std::string& text);
void print_messages(const std::vector<std::string>& messages);

/// Where a run writes: its mesh files and reports, all or none.
class Outputs {
  public:
    /// A mesh as text or bytes of the format that the file's ending names.
    Result<void> mesh(const Mesh& mesh, const std::string& file);
    /// Several bodies in one file, whose format holds several.
    Result<void> meshes(std::span<const NamedMesh> meshes, const std::string& file);
    /// "" for none; "-" for standard output.
    Result<void> report(const std::string& text, const std::string& file);
    /// Standard output first, then all files: nothing is replaced where something cannot be written.
    Result<void> write();

  private:
    FileBatch files_;
    std::string printed_;
};

/// Refuses two outputs of one name, and a report that would replace an input.
bool check_names(std::span<const std::string> inputs, std::span<const std::string> outputs, Status& status);

/// The nearest of the words, where one is near enough to be meant.
std::string nearest_word(std::string_view word, std::span<const std::string_view> words);
/// What follows on a word that is none of those: "; did you mean \"union\"?", where one is near, and the command that
/// lists them all, where there is one.
std::string did_you_mean(std::string_view word, std::span<const std::string_view> words, const std::string& lists = "");

/// Reads a mesh. `unit`: what the numbers of a file are meant in that names none, "mm", "cm", "m", "in" or "ft".
Result<Mesh> read_input(const std::string& file, const std::string& unit);
/// The bodies of a file, at least one.
Result<std::vector<NamedMesh>> read_bodies(const std::string& file, const std::string& unit);
/// Their shells together.
Mesh as_one(std::vector<NamedMesh> bodies);

/// Whether an output holds several bodies.
bool is_of_several(const std::string& output);

/// Runs from when it is made.
class Stopwatch {
  public:
    double seconds() const { return std::chrono::duration<double>(std::chrono::steady_clock::now() - start_).count(); }

  private:
    std::chrono::steady_clock::time_point start_ = std::chrono::steady_clock::now();
};

/// An output whose ending is unknown is wrong usage, and better said before the work than after it.
bool check_output(const std::string& file, Status& status);
/// The same for one that pieces may go to: what is behind a % must stand for their numbers, too.
bool check_pieces_output(const std::string& output, Status& status);
/// What the next program will read: for formats with less precision, the mesh as it comes back.
Result<Inspection> inspect_written(const Mesh& mesh, const std::string& file, Progress& progress);
/// The precision of the numbers that a file's format holds.
Precision precision_of(const std::string& file);

}  // namespace anvil::cli
