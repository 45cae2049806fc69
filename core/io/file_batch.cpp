#include "core/io/file_batch.h"

#include <fcntl.h>
#include <sys/stat.h>
#include <unistd.h>

#include <array>
#include <cerrno>
#include <csignal>
#include <cstring>
#include <fstream>

namespace anvil {
namespace fs = std::filesystem;
namespace {

Error failed(const char* what, const fs::path& file) {
    return {ErrorCode::cannot_write, std::string(what) + ": " + std::strerror(errno), file.string()};
}

constexpr std::string_view mark = ".part-";

/// The file that a path leads to: a link's end.
fs::path end_of_links(const fs::path& file) {
    fs::path at = file;
    std::error_code failure;
    for (int k = 0; k < 40 && fs::is_symlink(fs::symlink_status(at, failure)); ++k) {
        const fs::path to = fs::read_symlink(at, failure);
        if (failure) break;
        at = to.is_absolute() ? to : at.parent_path() / to;
    }
    return at;
}

/// Takes away what programs left beside a target that are gone.
void drop_left_overs(const fs::path& target) {
    const std::string prefix = target.filename().string() + std::string(mark);
    std::error_code failure;
    const fs::path folder = target.has_parent_path() ? target.parent_path() : fs::path(".");
    for (const auto& entry : fs::directory_iterator(folder, fs::directory_options::skip_permission_denied, failure)) {
        const std::string name = entry.path().filename().string();
        if (!name.starts_with(prefix)) continue;
        char* end = nullptr;
        const long pid = std::strtol(name.c_str() + prefix.size(), &end, 10);
        // What is behind a dot is a library's own temporary file, as that of archives has.
        if (pid > 0 && (*end == 0 || *end == '.') && ::kill(static_cast<pid_t>(pid), 0) != 0 && errno == ESRCH)
            fs::remove(entry.path(), failure);
    }
}

/// Whether it is there and is neither a file nor a folder.
bool is_device(const fs::path& file) {
    std::error_code failure;
    const fs::file_status status = fs::status(file, failure);
    return fs::exists(status) && !fs::is_regular_file(status) && !fs::is_directory(status);
}

/// Opens `to` and has `fill` write to it, which returns whether it could. Errors name `file`.
Result<void> put(const fs::path& to, const fs::path& file, const std::function<bool(std::FILE*)>& fill) {
    std::FILE* out = std::fopen(to.c_str(), "wb");
    if (!out) return failed("it cannot be written", file);
    const bool written = fill(out);
    const int why = errno;
    const bool closed = std::fclose(out) == 0;
    if (!written) errno = why;
    if (!written || !closed) return failed("writing it failed", file);
    return {};
}

/// Writes the bytes of a file to a device.
Result<void> pour(const fs::path& from, const fs::path& device) {
    std::ifstream in(from, std::ios::binary);
    return put(device, device, [&](std::FILE* out) {
        bool written = true;
        for (std::array<char, 65536> bytes; written && (in.read(bytes.data(), bytes.size()), in.gcount() > 0);) {
            const auto count = static_cast<std::size_t>(in.gcount());
            written = std::fwrite(bytes.data(), 1, count, out) == count;
        }
        return written;
    });
}

bool sync(const fs::path& file) {
    const int fd = ::open(file.c_str(), O_RDONLY | O_CLOEXEC);
    if (fd < 0) return false;
    const bool done = ::fsync(fd) == 0;
    return ::close(fd) == 0 && done;
}

}  // namespace

FileBatch::~FileBatch() {
    for (const Entry& entry : entries_) ::unlink(entry.beside.c_str());
}

Result<void> FileBatch::add(const fs::path& file, const std::function<Result<void>(const fs::path&)>& write) {
    std::error_code failure;
    if (is_device(file)) {
        // Beside a device is no place for files. Two of one name may be meant.
        const fs::path folder = fs::temp_directory_path(failure);
        const std::string name = file.filename().string() + std::string(mark) + std::to_string(::getpid()) + "-" +
                                 std::to_string(entries_.size());
        entries_.push_back({folder / name, file, true});
        return write(entries_.back().beside);
    }
    const fs::path target = end_of_links(file);
    drop_left_overs(target);
    if (fs::is_directory(target, failure)) {
        errno = EISDIR;
        return failed("it cannot be replaced", file);
    }
    entries_.push_back({target.string() + std::string(mark) + std::to_string(::getpid()), target});
    const fs::path& beside = entries_.back().beside;
    if (auto written = write(beside); !written) return written;
    struct stat known {};
    if (::stat(target.c_str(), &known) == 0 && ::chmod(beside.c_str(), known.st_mode & 07777) != 0)
        return failed("its mode cannot be kept", file);
    if (!sync(beside)) return failed("writing it failed", file);
    return {};
}

Result<void> FileBatch::add(std::string_view bytes, const fs::path& file) {
    return add(file, [&](const fs::path& beside) {
        return put(beside, file,
                   [&](std::FILE* out) { return std::fwrite(bytes.data(), 1, bytes.size(), out) == bytes.size(); });
    });
}

Result<void> FileBatch::commit() {
    for (const Entry& entry : entries_)
        if (entry.device)
            if (auto written = pour(entry.beside, entry.target); !written) return written;
    while (!entries_.empty()) {
        const Entry entry = entries_.front();
        if (entry.device)
            ::unlink(entry.beside.c_str());
        else if (std::rename(entry.beside.c_str(), entry.target.c_str()) != 0)
            return failed("it cannot be replaced", entry.target);
        entries_.erase(entries_.begin());
    }
    return {};
}

bool same_file(const fs::path& a, const fs::path& b) {
    std::error_code failure;
    if (fs::equivalent(a, b, failure)) return true;
    auto place = [&](const fs::path& p) { return fs::weakly_canonical(fs::absolute(p, failure), failure); };
    return place(a) == place(b);
}

}  // namespace anvil
