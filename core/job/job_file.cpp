#include "core/job/job_file.h"

#include <zip.h>

#include <cstring>
#include <map>

#include "core/base/plain_text.h"
#include "core/io/file_batch.h"
#include "core/io/mesh_file.h"
#include "core/job/job_text.h"

namespace anvil {
namespace {

// What an archive may unpack to. A mesh packs to a tenth, seldom to a fiftieth; what packs far better is made to fill
// the memory.
constexpr zip_uint64_t largest_entry = zip_uint64_t{4} << 30, largest_total = zip_uint64_t{16} << 30;
constexpr zip_uint64_t largest_text = 64 << 20;
constexpr zip_uint64_t always_fine = 16 << 20, most_times_packed = 250;
constexpr zip_int64_t most_entries = 100'000;

struct ZipCloser {
    void operator()(zip_t* z) const { zip_discard(z); }
};
using Zip = std::unique_ptr<zip_t, ZipCloser>;

/// What the system says where it was that: the library's own words then name what it was at, such as seeking.
std::string why(zip_error_t* error) {
    return zip_error_system_type(error) == ZIP_ET_SYS ? std::strerror(zip_error_code_system(error))
                                                      : zip_error_strerror(error);
}

/// Unpacks entries within the limits, each mesh once.
class Archive {
  public:
    Archive(zip_t* archive, Progress& progress) : archive_(archive), progress_(progress) {}

    Result<std::string> entry(const std::string& name, zip_uint64_t largest) {
        zip_stat_t stat;
        if (zip_stat(archive_, name.c_str(), 0, &stat) != 0 || !(stat.valid & ZIP_STAT_SIZE))
            return Error{ErrorCode::bad_syntax, "the job holds no " + in_quotes(name), ""};
        const bool packed_too_well = stat.size > always_fine && (stat.valid & ZIP_STAT_COMP_SIZE) &&
                                     stat.size / most_times_packed > stat.comp_size;
        total_ += std::min(stat.size, largest_total);
        if (stat.size > largest || packed_too_well || total_ > largest_total)
            return Error{ErrorCode::bad_count,
                         in_quotes(name) + " would unpack to " + std::to_string(stat.size >> 20) +
                             " MiB, more than a job holds; the file is damaged, or made to fill the memory",
                         ""};
        zip_file_t* entry = zip_fopen(archive_, name.c_str(), 0);
        if (!entry) return Error{ErrorCode::truncated, in_quotes(name) + " cannot be unpacked", ""};
        // Grow with what really comes, not with what is claimed.
        std::string bytes;
        char buffer[1 << 16];
        zip_int64_t n = 0;
        while (!progress_.cancelled() && (n = zip_fread(entry, buffer, sizeof buffer)) > 0 && bytes.size() <= stat.size)
            bytes.append(buffer, static_cast<std::size_t>(n));
        zip_fclose(entry);
        if (progress_.cancelled()) return cancelled_error();
        if (n < 0 || bytes.size() != stat.size) return Error{ErrorCode::truncated, in_quotes(name) + " is damaged", ""};
        return bytes;
    }

    Result<std::shared_ptr<const Mesh>> mesh(const std::string& name) {
        if (const auto known = meshes_.find(name); known != meshes_.end()) return known->second;
        auto bytes = entry(name, largest_entry);
        if (!bytes) return bytes.error();
        auto mesh = parse_mesh(*bytes, MeshFormat::ply);
        if (!mesh) return Error{mesh.error().code, mesh.error().text, on_one_line(name) + ", " + mesh.error().place};
        return meshes_[name] = std::make_shared<const Mesh>(std::move(*mesh));
    }

  private:
    zip_t* archive_;
    Progress& progress_;
    zip_uint64_t total_ = 0;
    std::map<std::string, std::shared_ptr<const Mesh>> meshes_;
};

/// Unpacks a job file and hands its text to `parse`.
template <class Parse>
auto unpacked(const std::filesystem::path& file, Progress& progress, const Parse& parse)
    -> decltype(parse(std::string(), MeshOfEntry())) {
    // Opened through read_file first: its sentences about folders and missing files are the same everywhere.
    auto bytes = read_file(file);
    if (!bytes) return bytes.error();
    auto at_file = [&](Error error) {
        if (!error.is_cancel()) error.place = file.string() + (error.place.empty() ? "" : ", " + error.place);
        return error;
    };
    zip_error_t zip_error;
    zip_error_init(&zip_error);
    zip_source_t* source = zip_source_buffer_create(bytes->data(), bytes->size(), 0, &zip_error);
    Zip zip(source ? zip_open_from_source(source, ZIP_RDONLY, &zip_error) : nullptr);
    if (!zip) {
        if (source) zip_source_free(source);
        return at_file({ErrorCode::bad_syntax, "this is not a job: it cannot be opened as a zip archive", ""});
    }
    if (zip_get_num_entries(zip.get(), 0) > most_entries)
        return at_file({ErrorCode::bad_count, "it holds more entries than a job has", ""});
    Archive archive(zip.get(), progress);
    auto text = archive.entry("job.json", largest_text);
    if (!text) return at_file(text.error());
    auto job = parse(*text, [&](const std::string& entry) { return archive.mesh(entry); });
    if (!job) return at_file(job.error());
    return job;
}

/// A mesh of the job, by its part's id.
using Entry = std::pair<std::string, std::shared_ptr<const Mesh>>;

Result<void> packed(std::string text, std::span<const Entry> meshes, const std::filesystem::path& file) {
    FileBatch batch;
    auto pack = [&](const std::filesystem::path& beside) -> Result<void> {
        int code = 0;
        Zip archive(zip_open(beside.c_str(), ZIP_CREATE | ZIP_TRUNCATE, &code));
        auto failed = [&](const std::string& reason) {
            return Error{ErrorCode::cannot_write, "it cannot be written: " + reason, file.string()};
        };
        if (!archive) {
            zip_error_t error;
            zip_error_init_with_code(&error, code);
            return failed(why(&error));
        }
        std::vector<std::string> kept;  // libzip reads the buffers when it closes
        kept.reserve(meshes.size() + 1);
        auto add = [&](const std::string& name, std::string bytes) {
            kept.push_back(std::move(bytes));
            zip_source_t* source = zip_source_buffer(archive.get(), kept.back().data(), kept.back().size(), 0);
            if (!source) return false;
            const zip_int64_t entry = zip_file_add(archive.get(), name.c_str(), source, ZIP_FL_ENC_UTF_8);
            if (entry < 0) {
                zip_source_free(source);
                return false;
            }
            // No time of day in the file: the same job gives the same bytes. The first day that a zip can tell.
            constexpr zip_uint16_t midnight = 0, first_of_january_1980 = (0 << 9) | (1 << 5) | 1;
            return zip_file_set_dostime(archive.get(), static_cast<zip_uint64_t>(entry), midnight,
                                        first_of_january_1980, 0) == 0;
        };
        bool good = add("job.json", std::move(text));
        for (const auto& [id, mesh] : meshes)
            good = good && add("parts/" + id + ".ply", format_mesh(*mesh, MeshFormat::ply));
        if (!good || zip_close(archive.get()) != 0) return failed(why(zip_get_error(archive.get())));
        (void)archive.release();  // closed
        return {};
    };
    if (auto added = batch.add(file, pack); !added) return added;
    return batch.commit();
}

}  // namespace

Result<Job> read_job(const std::filesystem::path& file, Progress& progress) {
    return unpacked(file, progress, job_from_text);
}

Result<Job> read_job(const std::filesystem::path& file) {
    Progress progress;
    return read_job(file, progress);
}

Result<void> write_job(const Job& job, const std::filesystem::path& file) {
    std::vector<Entry> meshes;
    for (const auto& part : job.parts)
        if (const auto* stored = std::get_if<StoredMesh>(&part->source)) meshes.emplace_back(part->id, stored->mesh);
    return packed(job_text(job), meshes, file);
}

}  // namespace anvil
