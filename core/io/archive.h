#pragma once

#include <memory>
#include <span>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

#include "core/base/progress.h"
#include "core/base/result.h"

struct zip;

namespace anvil {

/// Reads entries of a zip archive, within limits: whatever it says of their sizes, memory grows with what really comes
/// only, and what is made to fill the memory is refused.
class ArchiveReader {
  public:
    /// `bytes` have to outlive it. Fails: bad_syntax, bad_count. Places and sentences leave the file's name to the
    /// caller.
    static Result<ArchiveReader> open(std::string_view bytes);
    ArchiveReader(ArchiveReader&&) = default;

    bool holds(const std::string& name) const;
    std::vector<std::string> names() const;
    /// Fails: bad_syntax where there is none of that name, bad_count, truncated, cancelled.
    Result<std::string> entry(const std::string& name, std::uint64_t largest, const Progress& progress);

  private:
    ArchiveReader() = default;
    struct Closer {
        void operator()(zip* z) const;
    };
    std::unique_ptr<zip, Closer> zip_;
    std::uint64_t total_ = 0;
};

/// Entries by name, packed in that order. The same entries give the same bytes: no time of day is in them. Fails:
/// cannot_write, out_of_memory.
using ArchiveEntry = std::pair<std::string, std::string>;
Result<std::string> packed_archive(std::span<const ArchiveEntry> entries);

}  // namespace anvil
