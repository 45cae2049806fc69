#pragma once

#include <array>
#include <cstdint>

namespace anvil {

/// Which stage decided a predicate.
enum class Stage { filter, bounded, expansion, exact };

/// How many decisions each stage made, on this thread since the last reset.
struct StageCounts {
    std::array<std::uint64_t, 4> decided{};
    std::uint64_t& operator[](Stage s) { return decided[static_cast<int>(s)]; }
    std::uint64_t operator[](Stage s) const { return decided[static_cast<int>(s)]; }
};

/// The counters of the calling thread.
StageCounts& stage_counts();
/// The stage that made the calling thread's latest decision (for tests).
Stage last_stage();

namespace exact_detail {
inline thread_local StageCounts counts;
inline thread_local Stage last = Stage::filter;
inline void note(Stage s) {
    ++counts[s];
    last = s;
}
}  // namespace exact_detail

inline StageCounts& stage_counts() { return exact_detail::counts; }
inline Stage last_stage() { return exact_detail::last; }

}  // namespace anvil
