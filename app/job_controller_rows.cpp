// The rows of the job, and what the outcome has to say of them.
#include "app/job_controller.h"

namespace anvil::app {

void JobController::list_rows() {
    rows_ = rows_of(job());
    below_ = below_line(rows_, stop_after_);
    last_counting_ = nullptr;
    for (const Row& row : rows_)
        if (row.step && !row.group && row.list->id == job().work() && row.step->on && !is_below_stop(row))
            last_counting_ = row.step;
}

Place JobController::end_of(const std::string& list) const {
    if (list == job().work())
        for (const Row& row : rows_)
            if (row.list->id == list && is_below_stop(row)) return place_of(row);
    return {list, {}};
}

const RowOutcome* JobController::done(std::string_view step) const {
    return outcome_ && outcome_->evaluation ? outcome_->evaluation->row(step) : nullptr;
}

std::vector<SkinLeft> JobController::skins_of(std::string_view step) const {
    std::vector<SkinLeft> out;
    for (const SkinLeft& skin : skins_)
        if (skin.step == step) out.push_back(skin);
    return out;
}

std::shared_ptr<const Mended> JobController::mended(std::string_view step) const {
    const RowOutcome* what = done(step);
    return what && what->treated ? what->treated->mended : nullptr;
}

const Error* JobController::row_error(const Row& row) const {
    if (!outcome_ || !outcome_->evaluation) return nullptr;
    if (row.is_base()) return outcome_->evaluation->base_error ? &*outcome_->evaluation->base_error : nullptr;
    const RowOutcome* what = row.step ? done(row.step->id) : nullptr;
    return what && what->error ? &*what->error : nullptr;
}

Verdict JobController::verdict(const Row& row) const {
    if (!outcome_ || !outcome_->evaluation || is_below_stop(row) || (row.step && !row.step->on)) return Verdict::none;
    if (row_error(row)) return Verdict::fault;
    auto of = [](const Inspection* found) {
        return !found ? Verdict::none : found->print_ready ? Verdict::sound : Verdict::fault;
    };
    if (row.idle && !row.step) {
        const ReadyMesh* body = body_of(row).ready;
        return of(body ? body->inspection.get() : nullptr);
    }
    const bool makes_result = row.list->id == job().work() && !row.group && row.step == last_counting_;
    if (row.is_base())
        return !outcome_->evaluation->base_note.empty() ? Verdict::caution
               : makes_result                           ? of(inspection_.get())
                                                        : Verdict::sound;
    if (!row.kind) return Verdict::caution;
    const RowOutcome* what = done(row.step->id);
    if (!what || !what->counted) return Verdict::none;
    const bool refused = what->treated && what->treated->by_hand && what->treated->by_hand->refused;
    if (!what->note.empty() || refused || question(row.step->id)) return Verdict::caution;
    if (std::ranges::any_of(skins_, [&](const SkinLeft& skin) { return skin.step == row.step->id; }))
        return Verdict::caution;
    if (const Treated* treated = what->treated.get()) {
        if (treated->mended) return of(&treated->mended->after);
        if (treated->stays_sound) return Verdict::sound;
    }
    if (makes_result) return of(inspection_.get());
    // What combining leaves is closed, manifold and free of crossings: it is proven to be.
    if (row.cuts()) return what->cut ? Verdict::sound : Verdict::none;
    return row.combines() && row.kind->operation != Operation::gather && !is_trim(row.kind->operation) ? Verdict::sound
                                                                                                       : Verdict::none;
}

const RowOutcome* JobController::shown(const Row& row) const {
    const RowOutcome* what = row.step ? done(row.step->id) : nullptr;
    return what && !what->from && row.group ? done(row.group->id) : what;
}

const Question* JobController::question(std::string_view step) const {
    const RowOutcome* what = done(step);
    return what && what->treated && what->treated->question ? &*what->treated->question : nullptr;
}

std::optional<OpenQuestion> JobController::open_question() const {
    for (const Row& row : rows_)
        if (const Question* asked = row.step ? question(row.step->id) : nullptr)
            return OpenQuestion{row.id, done(row.step->id)->from, row.stands, *asked};
    return std::nullopt;
}

ShownBody JobController::body_of(const Row& row) const {
    if (!outcome_) return {};
    auto ready = [&](const std::string& part) -> const ReadyMesh* {
        const auto at = outcome_->parts.find(part);
        return at == outcome_->parts.end() ? nullptr : &at->second;
    };
    std::string part = row.list->id;
    if (row.idle && !row.step)
        if (const auto at = outcome_->also.find(part); at != outcome_->also.end())
            return {&at->second, Transform::Identity()};
    ShownBody out{nullptr, row.stands};
    if (row.cuts()) {
        const auto at = outcome_->cuts.find(row.step->id);
        if (at != outcome_->cuts.end()) out.ready = &at->second;
        return out;
    }
    const Use* use = row.step && row.step->operand ? &*row.step->operand : nullptr;
    if (use && use->copies)
        if (const auto at = outcome_->copies.find(row.step->id); at != outcome_->copies.end())
            return {&at->second, row.stands};
    if (row.is_base()) use = std::get_if<Use>(&row.list->source);
    if (use) {
        part = use->part;
        out.stands = row.stands * use->placement.transform();
    }
    out.ready = ready(part);
    // Where nothing was done to it since, it stands where the job says now, not where it stood when it was worked out.
    for (const Part* made = job().find_part(part); made;) {
        const auto* source = std::get_if<Use>(&made->source);
        const ReadyMesh* before = source ? ready(source->part) : nullptr;
        if (!before || !out.ready || before->mesh != out.ready->mesh) break;
        out.stands = out.stands * source->placement.transform();
        made = job().find_part(source->part);
    }
    return out;
}

const ReadyMesh* JobController::body_of_list(const std::string& part) const {
    if (!outcome_) return nullptr;
    if (part == job().work()) return outcome_->result.mesh ? &outcome_->result : nullptr;
    const auto at = outcome_->parts.find(part);
    return at == outcome_->parts.end() ? nullptr : &at->second;
}

}  // namespace anvil::app
