#include "core/io/archive.h"

#include <zip.h>

#include <algorithm>

#include "core/base/plain_text.h"

namespace anvil {
namespace {

// What an archive may unpack to. A mesh packs to a tenth, seldom to a fiftieth; what packs far better is made to fill
// the memory.
constexpr zip_uint64_t largest_total = zip_uint64_t{16} << 30;
constexpr zip_uint64_t always_fine = 16 << 20, most_times_packed = 250;
constexpr zip_int64_t most_entries = 100'000;

}  // namespace

void ArchiveReader::Closer::operator()(zip* z) const { zip_discard(z); }

Result<ArchiveReader> ArchiveReader::open(std::string_view bytes) {
    zip_error_t error;
    zip_error_init(&error);
    zip_source_t* source = zip_source_buffer_create(bytes.data(), bytes.size(), 0, &error);
    ArchiveReader out;
    out.zip_.reset(source ? zip_open_from_source(source, ZIP_RDONLY, &error) : nullptr);
    if (!out.zip_) {
        if (source) zip_source_free(source);
        return Error{ErrorCode::bad_syntax, "it cannot be opened as a zip archive", ""};
    }
    if (zip_get_num_entries(out.zip_.get(), 0) > most_entries)
        return Error{ErrorCode::bad_count, "it holds more than 100000 entries", ""};
    return out;
}

bool ArchiveReader::holds(const std::string& name) const { return zip_name_locate(zip_.get(), name.c_str(), 0) >= 0; }

std::vector<std::string> ArchiveReader::names() const {
    std::vector<std::string> out;
    for (zip_int64_t k = 0; k < zip_get_num_entries(zip_.get(), 0); ++k)
        if (const char* name = zip_get_name(zip_.get(), static_cast<zip_uint64_t>(k), 0)) out.emplace_back(name);
    return out;
}

Result<std::string> ArchiveReader::entry(const std::string& name, std::uint64_t largest, const Progress& progress) {
    zip_stat_t stat;
    if (zip_stat(zip_.get(), name.c_str(), 0, &stat) != 0 || !(stat.valid & ZIP_STAT_SIZE))
        return Error{ErrorCode::bad_syntax, "it holds no " + in_quotes(name), ""};
    const bool packed_too_well =
        stat.size > always_fine && (stat.valid & ZIP_STAT_COMP_SIZE) && stat.size / most_times_packed > stat.comp_size;
    total_ += std::min(stat.size, largest_total);
    if (stat.size > largest || packed_too_well || total_ > largest_total)
        return Error{ErrorCode::bad_count,
                     in_quotes(name) + " would unpack to " + std::to_string(stat.size >> 20) +
                         " MiB, more than is read; the file is damaged, or made to fill the memory",
                     ""};
    zip_file_t* entry = zip_fopen(zip_.get(), name.c_str(), 0);
    if (!entry) return Error{ErrorCode::truncated, in_quotes(name) + " cannot be unpacked", ""};
    // Grow with what really comes, not with what is claimed.
    std::string bytes;
    char buffer[1 << 16];
    zip_int64_t n = 0;
    while (!progress.cancelled() && (n = zip_fread(entry, buffer, sizeof buffer)) > 0 && bytes.size() <= stat.size)
        bytes.append(buffer, static_cast<std::size_t>(n));
    zip_fclose(entry);
    if (progress.cancelled()) return cancelled_error();
    if (n < 0 || bytes.size() != stat.size) return Error{ErrorCode::truncated, in_quotes(name) + " is damaged", ""};
    return bytes;
}

Result<std::string> packed_archive(std::span<const ArchiveEntry> entries) {
    zip_error_t error;
    zip_error_init(&error);
    zip_source_t* target = zip_source_buffer_create(nullptr, 0, 0, &error);
    zip_t* archive = target ? zip_open_from_source(target, ZIP_CREATE | ZIP_TRUNCATE, &error) : nullptr;
    auto failed = [&](const char* why) {
        return Error{ErrorCode::cannot_write, std::string("it cannot be packed: ") + why, ""};
    };
    if (!archive) {
        if (target) zip_source_free(target);
        return failed(zip_error_strerror(&error));
    }
    zip_source_keep(target);  // read from when the archive is closed
    const std::unique_ptr<zip_source_t, void (*)(zip_source_t*)> kept(target, zip_source_free);
    bool good = true;
    for (const auto& [name, bytes] : entries) {
        zip_source_t* source = zip_source_buffer(archive, bytes.data(), bytes.size(), 0);
        const zip_int64_t at = source ? zip_file_add(archive, name.c_str(), source, ZIP_FL_ENC_UTF_8) : -1;
        if (source && at < 0) zip_source_free(source);
        // The first day that a zip can tell.
        constexpr zip_uint16_t midnight = 0, first_of_january_1980 = (0 << 9) | (1 << 5) | 1;
        good = good && at >= 0 &&
               zip_file_set_dostime(archive, static_cast<zip_uint64_t>(at), midnight, first_of_january_1980, 0) == 0;
    }
    if (!good || zip_close(archive) != 0) {
        const Error why = failed(zip_strerror(archive));
        zip_discard(archive);
        return why;
    }
    zip_stat_t stat;
    if (zip_source_stat(target, &stat) != 0 || zip_source_open(target) != 0) return failed("its bytes are lost");
    std::string out(stat.size, '\0');
    const zip_int64_t read = zip_source_read(target, out.data(), out.size());
    zip_source_close(target);
    if (read < 0 || static_cast<zip_uint64_t>(read) != out.size()) return failed("its bytes are lost");
    return out;
}

}  // namespace anvil
