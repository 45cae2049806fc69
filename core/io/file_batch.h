#pragma once

#include <filesystem>
#include <functional>
#include <string_view>
#include <vector>

#include "core/base/result.h"

namespace anvil {

/// Files that are written together. Each is written beside its target and synced; `commit` renames them all. Where one
/// cannot be written, or `commit` is not reached, every target stays as it was.
///
/// A target that is a link stays one: what it leads to is replaced. An existing file's mode is kept. What a program
/// that was killed left beside a target is taken away. A target that is no file, as a device or a pipe, stays what it
/// is: `commit` writes to it, before it renames any.
class FileBatch {
  public:
    FileBatch() = default;
    FileBatch(const FileBatch&) = delete;
    FileBatch& operator=(const FileBatch&) = delete;
    ~FileBatch();

    Result<void> add(std::string_view bytes, const std::filesystem::path& file);
    /// `write(path)` fills the file that will become the target, and says why where it fails.
    Result<void> add(const std::filesystem::path& file,
                     const std::function<Result<void>(const std::filesystem::path&)>& write);
    Result<void> commit();

  private:
    struct Entry {
        std::filesystem::path beside, target;
        bool device = false;  ///< or a pipe: `target` is written to
    };
    std::vector<Entry> entries_;
};

/// Whether two paths lead to the same file, or would if they were there.
bool same_file(const std::filesystem::path& a, const std::filesystem::path& b);

}  // namespace anvil
