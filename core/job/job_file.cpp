#include "core/job/job_file.h"

#include <map>

#include "core/base/plain_text.h"
#include "core/io/archive.h"
#include "core/io/mesh_file.h"
#include "core/job/job_text.h"

namespace anvil {
namespace {

constexpr std::uint64_t largest_entry = std::uint64_t{4} << 30, largest_text = 64 << 20;

/// Unpacks a job file and hands its text to `parse`, which asks for each mesh once.
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
    auto archive = ArchiveReader::open(*bytes);
    if (!archive) return at_file({archive.error().code, "this is not a job: " + archive.error().text, ""});
    auto text = archive->entry("job.json", largest_text, progress);
    if (!text) return at_file(text.error());
    std::map<std::string, std::shared_ptr<const Mesh>> meshes;
    auto mesh_of = [&](const std::string& name) -> Result<std::shared_ptr<const Mesh>> {
        if (const auto known = meshes.find(name); known != meshes.end()) return known->second;
        auto entry = archive->entry(name, largest_entry, progress);
        if (!entry) return entry.error();
        auto mesh = parse_mesh(*entry, MeshFormat::ply);
        if (!mesh) return Error{mesh.error().code, mesh.error().text, on_one_line(name) + ", " + mesh.error().place};
        return meshes[name] = std::make_shared<const Mesh>(std::move(*mesh));
    };
    auto job = parse(*text, mesh_of);
    if (!job) return at_file(job.error());
    return job;
}

}  // namespace

Result<Job> read_job(const std::filesystem::path& file, Progress& progress) {
    return unpacked(file, progress, job_from_text);
}

Result<Job> read_job_in_part(const std::filesystem::path& file, Progress& progress, std::vector<LostPart>& lost) {
    std::map<std::string, std::string> why;  // by entry
    auto job = unpacked(file, progress, [&](const std::string& text, const MeshOfEntry& mesh) {
        return job_from_text(text, [&](const std::string& entry) -> Result<std::shared_ptr<const Mesh>> {
            auto read = mesh(entry);
            const bool gone = !read && !read.error().is_cancel() && read.error().code != ErrorCode::out_of_memory;
            if (!gone) return read;
            why.emplace(entry, read.error().text);
            return std::make_shared<const Mesh>();
        });
    });
    if (!job) return job;
    for (const auto& part : job->parts)
        if (const auto at = why.find("parts/" + part->id + ".ply"); at != why.end())
            lost.push_back({part->name, at->second});
        else if (const auto* stored = std::get_if<StoredMesh>(&part->source);
                 stored && stored->mesh->empty() && !why.empty())
            lost.push_back({part->name, why.begin()->second});
    return job;
}

Result<Job> read_job(const std::filesystem::path& file) {
    Progress progress;
    return read_job(file, progress);
}

Result<void> write_job(const Job& job, const std::filesystem::path& file) {
    std::vector<ArchiveEntry> entries{{"job.json", job_text(job)}};
    for (const auto& part : job.parts)
        if (const auto* stored = std::get_if<StoredMesh>(&part->source))
            entries.emplace_back("parts/" + part->id + ".ply", format_mesh(*stored->mesh, MeshFormat::ply));
    auto bytes = packed_archive(entries);
    if (!bytes) return Error{bytes.error().code, bytes.error().text, file.string()};
    return write_file(*bytes, file);
}

}  // namespace anvil
