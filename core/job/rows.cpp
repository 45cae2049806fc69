#include "core/job/rows.h"

#include <algorithm>

namespace anvil {
namespace {

constexpr int deepest_uses = 64;
/// Parts that use each other twice, level by level, would have as many as a power of two.
constexpr std::size_t most_rows = 20'000;

class Lister {
  public:
    explicit Lister(const Job& job) : job_(job) {}
    std::vector<Row> list() {
        if (const Part* work = job_.find_part(job_.work())) add_part(*work, false);
        for (const Part* part : idle_parts(job_)) add_part(*part, true);
        return std::move(rows_);
    }

  private:
    void add_part(const Part& part, bool idle) {
        const Innermost inner = innermost(job_, part);
        Row row;
        row.id = {inner.part ? inner.part->id : part.id, {part.id}};
        row.list = &part;
        row.use = idle ? nullptr : inner.use;
        if (!idle) row.at = together(part.bench, inner.placement);
        row.idle = idle;
        row.stands = part.bench.transform();
        rows_.push_back(row);
        row.depth = 1;
        row.number = "0.";
        int number = 0;
        if (const auto* use = std::get_if<Use>(&part.source)) add_list_of(*use, row, number);
        if (!idle) {
            row.depth = number = 0;
            row.number.clear();
        }
        add_steps(part, part.steps, row, number);
    }

    /// What is in the list of a part that is used. `like`: has the way so far, where what uses it stands, the depth,
    /// and how numbers begin.
    void add_list_of(const Use& use, Row like, int& number, int uses = 0) {
        const Part* part = job_.find_part(use.part);
        if (!part || uses > deepest_uses) return;
        like.stands = like.stands * use.placement.transform();
        if (const auto* source = std::get_if<Use>(&part->source)) add_list_of(*source, like, number, uses + 1);
        add_steps(*part, part->steps, like, number);
    }

    void add_steps(const Part& list, const Steps& steps, const Row& like, int& number) {
        for (const auto& step : steps) {
            if (rows_.size() >= most_rows || like.depth > deepest_uses) return;
            Row row = like;
            row.id = {list.id, like.id.way};
            row.id.way.push_back(step->id);
            row.list = &list;
            row.step = step.get();
            row.kind = find_kind(step->kind);
            row.use = nullptr;
            row.at.reset();
            row.number += std::to_string(++number);
            if (step->operand) {
                const Innermost inner = innermost(job_, *step->operand);
                row.use = inner.use;
                row.frame = row.stands;
                row.at = inner.placement;
                row.id.part = inner.part ? inner.part->id : step->operand->part;
            }
            rows_.push_back(row);
            ++row.depth;
            row.number += ".";
            int inner = 0;
            row.group = nullptr;
            if (step->operand) add_list_of(*step->operand, row, inner);
            row.group = step.get();
            add_steps(list, step->steps, row, inner);
        }
    }

    const Job& job_;
    std::vector<Row> rows_;
};

FoundStep find_in(const Part& part, const Step* group, const Steps& steps, std::string_view id) {
    for (const auto& step : steps) {
        if (step->id == id) return {&part, group, step.get()};
        if (const FoundStep inner = find_in(part, step.get(), step->steps, id); inner.step) return inner;
    }
    return {};
}

void add_used(const Steps& steps, std::set<std::string_view>& to) {
    for (const auto& step : steps) {
        if (step->operand) to.insert(step->operand->part);
        add_used(step->steps, to);
    }
}

std::set<std::string_view> used_parts(const Job& job) {
    std::set<std::string_view> out;
    for (const auto& part : job.parts) {
        if (const auto* use = std::get_if<Use>(&part->source)) out.insert(use->part);
        add_used(part->steps, out);
    }
    return out;
}

}  // namespace

Placement together(const Placement& outer, const Placement& inner) {
    return inner.is_identity()   ? outer
           : outer.is_identity() ? inner
                                 : placement_from(outer.transform() * inner.transform());
}

std::vector<Row> rows_of(const Job& job) { return Lister(job).list(); }

const Row* find_row(std::span<const Row> rows, const RowId& id) {
    const auto at = std::ranges::find_if(rows, [&](const Row& row) { return row.id.way == id.way; });
    return at == rows.end() || id.empty() ? nullptr : &*at;
}

RowId nearest_row(std::span<const Row> rows, const RowId& id) {
    if (const Row* row = find_row(rows, id)) return row->id;
    const auto at = std::ranges::find_if(rows, [&](const Row& row) { return row.id.part == id.part; });
    return at == rows.end() ? RowId() : at->id;
}

bool is_used_elsewhere(std::span<const Row> rows, const Row& row) {
    return row.step && std::ranges::any_of(rows, [&](const Row& other) {
               return other.step && other.use && other.id.part == row.id.part && other.step->id != row.step->id;
           });
}

Transform way_between(const Row& from, const Row* to) {
    const Transform there = to ? to->stands : Transform(Transform::Identity());
    // Exactly none where they are alike.
    return there.isApprox(from.stands, 0) ? Transform(Transform::Identity()) : Transform(there.inverse()) * from.stands;
}

std::string name_of(const Job& job, const Row& row) {
    const Part* part = job.find_part(row.id.part);
    const std::string name = part ? part->name : row.id.part;
    if (!row.step) return row.idle ? name : "base (" + name + ")";
    const std::string what = row.use ? name : row.kind ? row.kind->name : row.step->kind;
    const bool of_base = row.number.starts_with("0.");
    return (of_base ? "base, step " + row.number.substr(2) : "step " + row.number) + " (" + what + ")";
}

std::size_t steps_in_work(std::span<const Row> rows) {
    return static_cast<std::size_t>(std::ranges::count_if(rows, [](const Row& r) { return r.step && !r.idle; }));
}

std::set<std::string> below_line(std::span<const Row> rows, std::size_t count) {
    std::set<std::string> below, above;
    std::size_t seen = 0;
    for (const Row& row : rows)
        if (row.step && !row.idle) (seen++ < count ? above : below).insert(row.step->id);
    // Of a part that is used again above.
    for (const std::string& id : above) below.erase(id);
    return below;
}

bool is_used(const Job& job, std::string_view part) { return used_parts(job).contains(part); }

std::vector<const Part*> idle_parts(const Job& job) {
    const std::string work = job.work();
    std::set<std::string_view> used = used_parts(job);
    used.insert(work);
    std::vector<const Part*> out;
    for (const auto& part : job.parts)
        if (!used.contains(part->id) || (part->stays && part->id != work)) out.push_back(part.get());
    return out;
}

Innermost innermost(const Job& job, const Use& use) {
    Innermost out{job.find_part(use.part), &use, use.placement};
    for (int k = 0; out.part && k < deepest_uses; ++k) {
        const auto* source = std::get_if<Use>(&out.part->source);
        if (!source) break;
        out = {job.find_part(source->part), source, together(out.placement, source->placement), out.part->id};
    }
    return out;
}

Innermost innermost(const Job& job, const Part& part) {
    const auto* use = std::get_if<Use>(&part.source);
    if (!use) return {&part};
    Innermost out = innermost(job, *use);
    if (out.owner.empty()) out.owner = part.id;
    return out;
}

std::string base_of(const Job& job) {
    const Part* work = job.find_part(job.work());
    const Part* part = work ? innermost(job, *work).part : nullptr;
    return part ? part->id : std::string();
}

FoundStep find_step(const Job& job, std::string_view id) {
    for (const auto& part : job.parts)
        if (const FoundStep found = find_in(*part, nullptr, part->steps, id); found.step) return found;
    return {};
}

}  // namespace anvil
