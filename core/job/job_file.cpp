#include "core/job/job_file.h"

#include <unistd.h>
#include <zip.h>

#include <algorithm>
#include <cstdio>
#include <set>

#include "core/io/mesh_file.h"
#include "core/job/bundles.h"

namespace anvil {
namespace {

using nlohmann::json;
constexpr zip_uint64_t largest_entry = zip_uint64_t{1} << 32;

struct ZipCloser {
    void operator()(zip_t* z) const { zip_discard(z); }
};
using Zip = std::unique_ptr<zip_t, ZipCloser>;

Result<std::string> read_entry(zip_t* archive, const std::string& name, const std::string& file) {
    zip_stat_t stat;
    if (zip_stat(archive, name.c_str(), 0, &stat) != 0 || !(stat.valid & ZIP_STAT_SIZE))
        return Error{ErrorCode::bad_syntax, "the job holds no \"" + name + "\"", file};
    if (stat.size > largest_entry) return Error{ErrorCode::bad_count, "\"" + name + "\" claims more than 4 GiB", file};
    zip_file_t* entry = zip_fopen(archive, name.c_str(), 0);
    if (!entry) return Error{ErrorCode::truncated, "\"" + name + "\" cannot be unpacked", file};
    // Grow with what really comes, not with what is claimed.
    std::string bytes;
    char buffer[1 << 16];
    zip_int64_t n;
    while ((n = zip_fread(entry, buffer, sizeof buffer)) > 0) bytes.append(buffer, static_cast<std::size_t>(n));
    zip_fclose(entry);
    if (n < 0 || bytes.size() != stat.size) return Error{ErrorCode::truncated, "\"" + name + "\" is damaged", file};
    return bytes;
}

json vec(const Vec3& v) { return {v.x, v.y, v.z}; }
Vec3 vec(const json& j) {
    Vec3 v{j.at(0).get<double>(), j.at(1).get<double>(), j.at(2).get<double>()};
    if (!is_finite(v)) throw json::other_error::create(501, "a number is not finite", &j);
    return v;
}

json to_json(const Mending& m) {
    json out = m.extra.is_object() ? m.extra : json::object();
    out["id"] = m.id;
    out["on"] = m.on;
    out["repairs"] = json::array();
    for (const Repair r : m.repairs) out["repairs"].push_back(word(r));
    const MendOptions& o = m.options;
    out["weld"] = o.weld_distance;
    out["min_shell"] = o.smallest_shell;
    out["thickness"] = o.thickness;
    out["fill"] = word(o.fill);
    out["bridge"] = o.bridge_within;
    for (const HandEdit& e : m.edits) {
        json edit{{"tool", word(e.tool)}, {"points", json::array()}};
        for (const Vec3& p : e.points) edit["points"].push_back(vec(p));
        if (e.tool == HandTool::fill_border) edit["fill"] = word(e.fill);
        if (e.cell > 0) edit["cell"] = e.cell;
        out["edits"].push_back(std::move(edit));
    }
    for (const Question::About about : m.answered) out["answered"].push_back(word(about));
    // JSON has no infinity: what is not limited is left out.
    if (o.border_reach >= 0) out["border_reach"] = o.border_reach;
    if (std::isfinite(o.longest_hole)) out["max_hole"] = o.longest_hole;
    if (!o.places.empty()) {
        out["places"] = json::array();
        for (const Vec3& p : o.places) out["places"].push_back(vec(p));
    }
    return out;
}

json to_json(const Job& job) {
    json out = job.extra.is_object() ? job.extra : json::object();
    out["format"] = {{"major", job_format_major}, {"minor", job_format_minor}};
    out["units"] = "mm";
    out["base"] = job.base;
    out["settings"] = job.settings;
    out["parts"] = json::array();
    for (const Part& p : job.parts) {
        json part = p.extra.is_object() ? p.extra : json::object();
        part["id"] = p.id;
        part["name"] = p.name;
        part["mesh"] = "parts/" + p.id + ".ply";
        part["position"] = vec(p.placement.position);
        part["rotation"] = vec(p.placement.angles);
        for (const Mending& m : p.mendings) part["mendings"].push_back(to_json(m));
        out["parts"].push_back(std::move(part));
    }
    out["steps"] = json::array();
    for (const Step& s : job.steps) {
        json step = s.extra.is_object() ? s.extra : json::object();
        step["id"] = s.id;
        step["operation"] = word(s.operation);
        step["part"] = s.part;
        step["on"] = s.on;
        step["depth"] = s.depth;
        out["steps"].push_back(std::move(step));
    }
    return out;
}

/// Takes what is known out of an object; the rest stays as its extra fields.
json without(json object, std::initializer_list<const char*> known) {
    for (const char* k : known) object.erase(k);
    return object;
}

Result<HandEdit> edit_from(const json& in, const std::string& mending, const std::string& file) {
    HandEdit edit;
    const std::string tool = in.at("tool").get<std::string>();
    const auto known = hand_tool_from(tool);
    const auto fill = fill_style_from(in.value("fill", std::string(word(edit.fill))));
    if (!known || !fill)
        return Error{ErrorCode::newer_version,
                     "mending \"" + mending + "\" has an edit by hand unknown here: \"" + tool + "\"", file};
    edit.tool = *known;
    edit.fill = *fill;
    edit.cell = in.value("cell", 0.0);
    if (edit.cell < 0) return Error{ErrorCode::bad_syntax, "mending \"" + mending + "\" has a size below zero", file};
    for (const json& p : in.at("points")) edit.points.push_back(vec(p));
    return edit;
}

Result<Mending> mending_from(const json& in, const std::string& file) {
    Mending m;
    m.id = in.at("id").get<std::string>();
    m.on = in.value("on", true);
    for (const json& r : in.at("repairs")) {
        const auto repair = repair_from(r.get<std::string>());
        if (!repair)
            return Error{ErrorCode::newer_version,
                         "mending \"" + m.id + "\" has a repair unknown here: \"" + r.get<std::string>() + "\"", file};
        m.repairs.push_back(*repair);
    }
    std::ranges::sort(m.repairs);
    MendOptions& o = m.options;
    o.weld_distance = in.value("weld", o.weld_distance);
    o.border_reach = in.value("border_reach", o.border_reach);
    o.longest_hole = in.value("max_hole", o.longest_hole);
    o.smallest_shell = in.value("min_shell", o.smallest_shell);
    o.thickness = in.value("thickness", o.thickness);
    o.bridge_within = in.value("bridge", o.bridge_within);
    const std::string fill = in.value("fill", std::string(word(o.fill)));
    const auto style = fill_style_from(fill);
    if (!style)
        return Error{ErrorCode::newer_version,
                     "mending \"" + m.id + "\" fills holes in a way unknown here: \"" + fill + "\"", file};
    o.fill = *style;
    if (o.weld_distance < 0 || o.longest_hole < 0 || o.smallest_shell < 0 || o.thickness < 0 || o.bridge_within < 0)
        return Error{ErrorCode::bad_syntax, "mending \"" + m.id + "\" has a size below zero", file};
    if (const auto places = in.find("places"); places != in.end())
        for (const json& p : *places) o.places.push_back(vec(p));
    for (const json& e : in.value("edits", json::array())) {
        auto edit = edit_from(e, m.id, file);
        if (!edit) return edit.error();
        m.edits.push_back(std::move(*edit));
    }
    for (const json& about : in.value("answered", json::array()))
        if (const auto known = about_from(about.get<std::string>())) m.answered.push_back(*known);
    m.extra = without(in, {"id", "on", "answered", "edits", "repairs", "weld", "border_reach", "max_hole", "min_shell",
                           "thickness", "bridge", "fill", "places"});
    return m;
}

Result<Job> from_json(const json& in, zip_t* archive, const std::string& file) {
    const int major = in.at("format").at("major").get<int>();
    if (major > job_format_major)
        return Error{ErrorCode::newer_version,
                     "this job was saved by a newer version (format " + std::to_string(major) + ", known is " +
                         std::to_string(job_format_major) + "); update to open it",
                     file};
    Job job;
    job.base = in.at("base").get<std::string>();
    job.settings = in.value("settings", json::object());
    job.extra = without(in, {"format", "units", "base", "settings", "parts", "steps"});
    std::set<std::string> part_ids, step_ids, mending_ids;
    for (const json& p : in.at("parts")) {
        Part part;
        part.id = p.at("id").get<std::string>();
        part.name = p.at("name").get<std::string>();
        if (part.id.empty() || part.id.find_first_of("/\\") != std::string::npos || !part_ids.insert(part.id).second)
            return Error{ErrorCode::bad_syntax, "part id \"" + part.id + "\" is empty, used twice, or holds a slash",
                         file};
        part.placement = {vec(p.at("position")), vec(p.at("rotation"))};
        const std::string entry = p.at("mesh").get<std::string>();
        auto bytes = read_entry(archive, entry, file);
        if (!bytes) return bytes.error();
        auto mesh = parse_mesh(*bytes, MeshFormat::ply);
        if (!mesh) return Error{mesh.error().code, mesh.error().text, file + ", " + entry + ", " + mesh.error().place};
        part.mesh = std::make_shared<const Mesh>(std::move(*mesh));
        for (const json& m : p.value("mendings", json::array())) {
            auto mending = mending_from(m, file);
            if (!mending) return mending.error();
            if (mending->id.empty() || !mending_ids.insert(mending->id).second)
                return Error{ErrorCode::bad_syntax, "mending id \"" + mending->id + "\" is empty or used twice", file};
            part.mendings.push_back(std::move(*mending));
        }
        part.extra = without(p, {"id", "name", "mesh", "position", "rotation", "mendings"});
        job.parts.push_back(std::move(part));
    }
    for (const json& s : in.at("steps")) {
        Step step;
        step.id = s.at("id").get<std::string>();
        step.part = s.at("part").get<std::string>();
        step.on = s.value("on", true);
        const std::string operation = s.at("operation").get<std::string>();
        const auto known = operation_from(operation);
        if (!known)
            return Error{ErrorCode::newer_version,
                         "step \"" + step.id + "\" is of a kind unknown here: \"" + operation + "\"", file};
        step.operation = *known;
        if (step.id.empty() || !step_ids.insert(step.id).second)
            return Error{ErrorCode::bad_syntax, "step id \"" + step.id + "\" is empty or used twice", file};
        if (!job.find_part(step.part))
            return Error{ErrorCode::bad_index,
                         "step \"" + step.id + "\" uses a part that is not there: \"" + step.part + "\"", file};
        step.depth = s.value("depth", 0);
        const int deepest = job.steps.empty() ? 0 : std::min(job.steps.back().depth + 1, deepest_bundle);
        if (step.depth < 0 || step.depth > deepest)
            return Error{ErrorCode::bad_index,
                         "step \"" + step.id + "\" lies in a bundle that is not there: its depth is " +
                             std::to_string(step.depth) + ", " + std::to_string(deepest) + " is the deepest possible",
                         file};
        step.extra = without(s, {"id", "operation", "part", "on", "depth"});
        job.steps.push_back(std::move(step));
    }
    if (!job.parts.empty() && !job.find_part(job.base))
        return Error{ErrorCode::bad_index, "the base is a part that is not there: \"" + job.base + "\"", file};
    return job;
}

}  // namespace

Result<Job> read_job(const std::filesystem::path& file) {
    // Opened through read_file first: its sentences about folders and missing files are the same everywhere.
    auto bytes = read_file(file);
    if (!bytes) return bytes.error();
    zip_error_t zip_error;
    zip_error_init(&zip_error);
    zip_source_t* source = zip_source_buffer_create(bytes->data(), bytes->size(), 0, &zip_error);
    Zip archive(source ? zip_open_from_source(source, ZIP_RDONLY, &zip_error) : nullptr);
    if (!archive) {
        if (source) zip_source_free(source);
        return Error{ErrorCode::bad_syntax, "this is not a job: it cannot be opened as a zip archive", file.string()};
    }
    auto text = read_entry(archive.get(), "job.json", file.string());
    if (!text) return text.error();
    try {
        return from_json(json::parse(*text), archive.get(), file.string());
    } catch (const json::exception& e) {
        return Error{ErrorCode::bad_syntax, std::string("job.json is not as it should be: ") + e.what(), file.string()};
    }
}

Result<void> write_job(const Job& job, const std::filesystem::path& file) {
    const std::string beside = file.string() + ".part-" + std::to_string(::getpid());
    int code = 0;
    Zip archive(zip_open(beside.c_str(), ZIP_CREATE | ZIP_TRUNCATE, &code));
    auto failed = [&](const std::string& why) {
        std::remove(beside.c_str());
        return Error{ErrorCode::cannot_write, "it cannot be written: " + why, file.string()};
    };
    if (!archive) {
        zip_error_t error;
        zip_error_init_with_code(&error, code);
        return failed(zip_error_strerror(&error));
    }
    std::vector<std::string> kept;  // libzip reads the buffers when it closes
    kept.reserve(job.parts.size() + 1);
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
        return zip_file_set_dostime(archive.get(), static_cast<zip_uint64_t>(entry), midnight, first_of_january_1980,
                                    0) == 0;
    };
    bool good = add("job.json", to_json(job).dump(2) + "\n");
    for (const Part& p : job.parts) good = good && add("parts/" + p.id + ".ply", format_mesh(*p.mesh, MeshFormat::ply));
    if (!good) return failed(zip_strerror(archive.get()));
    if (zip_close(archive.get()) != 0) return failed(zip_strerror(archive.get()));
    (void)archive.release();  // closed
    if (std::rename(beside.c_str(), file.c_str()) != 0) return failed("it cannot be replaced");
    return {};
}

}  // namespace anvil
