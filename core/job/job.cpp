#include "core/job/job.h"

#include <algorithm>

#include "core/job/bundles.h"
#include "core/mesh/measures.h"

namespace anvil {
namespace {

template <class Items>
std::string unused_id(const Items& items, const char* prefix) {
    for (std::size_t n = items.size() + 1;; ++n) {
        const std::string id = prefix + std::to_string(n);
        if (std::none_of(items.begin(), items.end(), [&](const auto& item) { return item.id == id; })) return id;
    }
}

}  // namespace

const Mending* Part::find_mending(std::string_view mending) const {
    const auto at = std::ranges::find(mendings, mending, &Mending::id);
    return at == mendings.end() ? nullptr : &*at;
}
Mending* Part::find_mending(std::string_view mending) {
    return const_cast<Mending*>(std::as_const(*this).find_mending(mending));
}

const Part* Job::find_part(std::string_view id) const {
    const auto at = std::find_if(parts.begin(), parts.end(), [&](const Part& p) { return p.id == id; });
    return at == parts.end() ? nullptr : &*at;
}
Part* Job::find_part(std::string_view id) { return const_cast<Part*>(std::as_const(*this).find_part(id)); }

std::vector<const Part*> Job::idle_parts() const {
    std::vector<const Part*> idle;
    for (const Part& p : parts)
        if (p.id != base && std::none_of(steps.begin(), steps.end(), [&](const Step& s) { return s.part == p.id; }))
            idle.push_back(&p);
    return idle;
}

std::string Job::add_part(std::string name, std::shared_ptr<const Mesh> mesh) {
    const std::string id = unused_id(parts, "part-");
    parts.push_back({id, std::move(name), std::move(mesh), {}, {}});
    if (base.empty()) base = id;
    return id;
}

std::size_t Job::add_step(Operation operation, std::string part) {
    steps.push_back({unused_id(steps, "step-"), operation, std::move(part), true, 0, {}});
    return steps.size() - 1;
}

std::string Job::add_mending(const std::string& part, std::span<const Repair> repairs, MendOptions options) {
    std::vector<Mending> all;
    for (const Part& p : parts) all.insert(all.end(), p.mendings.begin(), p.mendings.end());
    Mending mending{
        .id = unused_id(all, "mending-"), .repairs = {repairs.begin(), repairs.end()}, .options = std::move(options)};
    std::ranges::sort(mending.repairs);
    find_part(part)->mendings.push_back(std::move(mending));
    return find_part(part)->mendings.back().id;
}

std::string Job::add_edit(const std::string& part, HandEdit edit) {
    auto& mendings = find_part(part)->mendings;
    const bool goes_on = !mendings.empty() && mendings.back().on && !mendings.back().edits.empty();
    const std::string id = goes_on ? mendings.back().id : add_mending(part, {});
    find_part(part)->find_mending(id)->edits.push_back(std::move(edit));
    return id;
}

void Job::remove_steps_of(const std::string& part) {
    drop_steps(steps, [&](const Step& s) { return s.part == part; });
}

void Job::remove_part(const std::string& id) {
    remove_steps_of(id);
    std::erase_if(parts, [&](const Part& p) { return p.id == id; });
    if (base != id) return;
    base.clear();
    const auto idle = idle_parts();
    if (!idle.empty())
        base = idle.front()->id;
    else if (!parts.empty())
        base = parts.front().id;
    remove_steps_of(base);
}

namespace {
constexpr std::pair<ImportUnit, const char*> unit_words[] = {
    {ImportUnit::millimetre, "mm"}, {ImportUnit::inch, "in"}, {ImportUnit::metre, "m"}};
}  // namespace

std::string_view word(ImportUnit unit) {
    for (const auto& [known, text] : unit_words)
        if (known == unit) return text;
    return "";
}
std::optional<ImportUnit> import_unit_from(std::string_view w) {
    for (const auto& [known, text] : unit_words)
        if (w == text) return known;
    return std::nullopt;
}

double millimetres(ImportUnit unit) {
    switch (unit) {
        case ImportUnit::millimetre: return 1;
        case ImportUnit::inch: return 25.4;
        case ImportUnit::metre: return 1000;
    }
    return 1;
}

Vec3 size_as(const Job& job, std::span<const std::string> parts, ImportUnit unit) {
    Box box;
    for (const std::string& id : parts)
        if (const Part* part = job.find_part(id)) box.add(bounds(*part->mesh));
    return box.empty() ? Vec3{} : box.size() * millimetres(unit);
}

void read_as(Job& job, std::span<const std::string> parts, ImportUnit unit) {
    for (const std::string& id : parts)
        if (Part* part = job.find_part(id); part && unit != ImportUnit::millimetre) {
            const Transform scale = scaling(millimetres(unit));
            part->mesh = std::make_shared<const Mesh>(transformed(*part->mesh, scale));
            for (Mending& m : part->mendings) {
                for (Vec3& p : m.options.places) p = apply(scale, p);
                for (HandEdit& edit : m.edits) {
                    for (Vec3& p : edit.points) p = apply(scale, p);
                    edit.cell *= millimetres(unit);
                }
            }
        }
    job.settings.import_unit = unit;
}

namespace {
constexpr std::pair<const char*, double InspectOptions::*> thresholds[] = {
    {"thin_below", &InspectOptions::thin_below},   {"gap_below", &InspectOptions::gap_below},
    {"short_below", &InspectOptions::short_below}, {"needle_above", &InspectOptions::needle_above},
    {"tiny_below", &InspectOptions::tiny_below},   {"crack_below", &InspectOptions::crack_below}};
}  // namespace

InspectOptions inspect_options(const JobSettings& settings, const Mesh& mesh) {
    InspectOptions options = usual_options(mesh);
    for (const auto& [name, field] : thresholds)
        if (const auto at = settings.told_from.find(name); at != settings.told_from.end()) options.*field = at->second;
    return options;
}

bool is_threshold(std::string_view name) {
    return std::ranges::any_of(thresholds, [&](const auto& known) { return name == known.first; });
}

void set_threshold(JobSettings& settings, std::string_view name, double value) {
    settings.told_from[std::string(name)] = value;
}

SettleOptions settle_options(const JobSettings& settings, Precision precision) {
    return {precision, settings.contact, settings.merge_flush};
}

void History::change(Job next, std::string name, std::string merge) {
    const bool merges = !merge.empty() && merge == merge_ && !undo_.empty();
    if (!merges) undo_.push_back({std::move(name), std::move(current_), serial_});
    current_ = std::move(next);
    serial_ = ++last_serial_;
    redo_.clear();
    merge_ = std::move(merge);
}

void History::undo() {
    if (undo_.empty()) return;
    Entry entry = std::move(undo_.back());
    undo_.pop_back();
    redo_.push_back({entry.name, std::move(current_), serial_});
    current_ = std::move(entry.job);
    serial_ = entry.serial;
    merge_.clear();
}

void History::redo() {
    if (redo_.empty()) return;
    Entry entry = std::move(redo_.back());
    redo_.pop_back();
    undo_.push_back({entry.name, std::move(current_), serial_});
    current_ = std::move(entry.job);
    serial_ = entry.serial;
    merge_.clear();
}

}  // namespace anvil
