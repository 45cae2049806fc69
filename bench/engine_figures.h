#pragma once

#include <span>
#include <string>

namespace anvil::bench {

// Figures of the engine alone, without a reference beside it. Each prints a table to standard output.

/// A cutter of 1,000 faces moved through a sphere of 500,000 faces in 200 small steps: how long each evaluation takes.
void print_drag();

/// Union of two spheres from 1k to 4M faces in all: time, peak memory (of a process of its own each, as
/// `peak_megabytes` gives it for a work's name) and both per face. Also drawn, as an SVG.
void print_growth(const std::string& svg_file);

/// The work behind a name that `print_growth` asks the peak memory of: "growth/ROWS".
bool do_growth(const std::string& work);

/// Union of a star prism (tests/support/star_prism.h) of 51 to 601 corners with a box: the time, and the time over the
/// square of the corners, as many as the walls and caps have crossings.
void print_crossing_growth();

/// Real bodies with copies of themselves that are moved by 1e-3 to 1e-16 of their size, or turned by as much: the time
/// of each operation over that of the same pair a tenth of its size apart, the median and the worst of each body. Of
/// the bodies that are named, or of all.
void print_near(std::span<const std::string> named);

/// Combinations that are stopped at 24 moments all along them: how long each goes on from there.
void print_stopping();

/// The demo, and a ball with 300 small balls united and taken away: evaluated from scratch, after one move, a switch,
/// an operation, and back.
void print_job_edits();

/// 500 copies of a cutter of 1,000 faces in a ball of 200,000, and the same as 500 steps: evaluated from scratch, and
/// after one move of all of them.
void print_copies();

/// The share of predicates that each stage decides, on generic and on flush input. Counts the calling thread: run with
/// one.
void print_stages();

}  // namespace anvil::bench
