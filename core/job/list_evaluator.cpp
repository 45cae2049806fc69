#include "core/job/list_evaluator.h"

#include <algorithm>

#include "core/base/memory.h"
#include "core/base/plain_text.h"
#include "core/job/anchors.h"
#include "core/job/copies.h"
#include "core/job/cutting.h"
#include "core/job/edit_lists.h"
#include "core/job/endless.h"
#include "core/job/groups.h"
#include "core/job/hand_edits.h"
#include "core/job/kept_bytes.h"
#include "core/job/links.h"
#include "core/job/made_shape.h"
#include "core/job/placed_result.h"
#include "core/job/rows.h"
#include "core/job/treatment.h"
#include "core/job/value_key.h"
#include "core/mesh/measures.h"
#include "core/mesh/weld.h"

namespace anvil {
namespace {

/// Rows of a bundle and of those within it: an operand with more is worked out by itself. Parts that use each other
/// twice, level by level, would have as many as a power of two.
constexpr std::size_t most_in_bundle = 2000;

std::size_t rows_in(const std::vector<CombineRow>& rows) {
    std::size_t count = rows.size();
    for (const CombineRow& row : rows) count += rows_in(row.bundle);
    return count;
}

}  // namespace

/// One evaluation.
class ListEvaluator::Run {
  public:
    Run(ListEvaluator& of, const Job& job, const std::set<std::string>& below, const SettleOptions& settle, ResultAt at,
        Progress& progress)
        : of_(of), job_(job), below_(below), settle_(settle), at_(at), progress_(progress) {}

    Result<ListOutcome> run() {
        for (const auto& part : job_.parts)
            if (auto done = shaped(*part); !done) {
                if (ends_evaluation(done.error())) return done.error();
                out_.broken.emplace(part->id, done.error());
            }
        const Part* work = job_.find_part(job_.work());
        if (!work || out_.broken.contains(job_.work())) return nothing();
        Shaped body = known_.at({work->id, {}});
        if (endless_shape(job_, body.body.part)) {
            out_.broken.emplace(work->id, endless_body());
            return nothing();
        }
        // Rounded for the file where it is delivered.
        SettleOptions settle = settle_;
        if (is_placed(*work)) settle.precision = Precision::double_precision;
        auto done = of_.segments_.run(body.body, body.tail, settle, progress_);
        if (!done) return done.error();
        out_.result = std::move(*done);
        if (auto placed = place_result(*work); !placed) return placed.error();
        out_.lineages[work->id] =
            std::make_shared<Lineage>(Lineage{.combined = out_.result.combined, .of = out_.result.operands});
        note(body.tail);
        if (auto done_too = take_others(); !done_too) return done_too.error();
        return std::move(out_);
    }

  private:
    ListOutcome nothing() {
        auto empty = std::make_shared<Combined>();
        empty->empty = true;
        empty->reason = "There is no part yet.";
        out_.result.combined = out_.placed = std::move(empty);
        return std::move(out_);
    }

    bool is_placed(const Part& work) const { return at_ == ResultAt::its_place && !work.bench.is_identity(); }

    /// Whether a treatment has left coordinates that a file in single precision will round: then they are settled for
    /// it.
    bool is_to_be_rounded(const SegmentResult& result) const {
        return at_ == ResultAt::its_place && settle_.precision == Precision::single_precision &&
               result.settled_pieces < result.combined->pieces() &&
               std::ranges::any_of(result.combined->mesh.points.raw(),
                                   [](const Vec3& p) { return !(in_single_precision(p) == p); });
    }

    /// The result where the list of the part in work stands: all that is in it was worked out as if it stood nowhere
    /// else, so what lies flush stays flush.
    Result<void> place_result(const Part& work) {
        out_.placed = out_.result.combined;
        if (!is_placed(work) && !is_to_be_rounded(out_.result)) return {};
        const Transform stands = work.bench.transform();
        KeyMaker key("placed 1");
        key.add(out_.result.key).add(settle_.precision).add(settle_.contact).add(settle_.merge_flush);
        add_transform(key, stands);
        if (auto known = of_.kept_.find<Combined>(key.key())) {
            out_.placed = known;
            return {};
        }
        auto placed = placed_result(out_.result, stands, settle_, progress_);
        if (!placed) return placed.error();
        const std::size_t bytes = bytes_of(placed->mesh);
        out_.placed = of_.kept_.keep(key.key(), std::make_shared<const Combined>(std::move(*placed)), bytes);
        return {};
    }

    /// The other parts to deliver.
    Result<void> take_others() {
        for (const std::string& id : job_.results) {
            const Part* part = job_.find_part(id);
            const auto at = known_.find({id, {}});
            if (id == job_.work() || !part || at == known_.end() || out_.also.contains(id)) continue;
            Shaped other = at->second;
            if (endless_shape(job_, other.body.part)) {
                out_.broken.emplace(id, endless_body());
                continue;
            }
            const Use use{.part = id, .placement = part->bench};
            other.body = at_place(std::move(other.body), use);
            place_rows(other.tail, use.placement.transform());
            auto done = of_.segments_.run(other.body, other.tail, settle_, progress_);
            if (!done) return done.error();
            if (done->error) out_.broken.emplace(id, *done->error);
            out_.also[id] = done->combined;
            if (!is_to_be_rounded(*done)) continue;
            auto rounded = placed_result(*done, Transform::Identity(), settle_, progress_);
            if (!rounded) return rounded.error();
            out_.also[id] = std::make_shared<const Combined>(std::move(*rounded));
        }
        return {};
    }

    /// A part after all but its last run of combining steps, and those.
    struct Shaped {
        Body body;
        std::vector<CombineRow> tail;
    };
    Result<Shaped> shaped(const Part& part) {
        auto out = shaped(part, part.steps, {part.id, {}});
        if (!out) return out;
        out_.parts[part.id] = out->body.mesh;
        out_.lineages[part.id] = out->body.lineage;
        return out;
    }

    /// A part as far as some of its steps make it.
    using Stage = std::pair<std::string, std::optional<std::string>>;  // id of the part, and of the step
    Result<Shaped> shaped(const Part& part, const Steps& steps, const Stage& stage) {
        if (const auto at = known_.find(stage); at != known_.end()) return at->second;
        if (std::ranges::find(open_, stage) != open_.end()) return circle(part, stage);
        if (open_.size() >= deepest)
            return Error{ErrorCode::bad_count, "parts follow each other more than 64 deep: " + part.name, ""};
        open_.push_back(stage);
        auto body = source_of(part);
        if (!body) {
            open_.pop_back();
            return body.error();
        }
        Shaped out{std::move(*body), {}};
        auto done = take_steps(steps, true, out);
        open_.pop_back();
        if (!done) return done.error();
        known_.emplace(stage, out);
        return out;
    }

    /// "a part is made of itself: lantern, plate, lantern".
    Error circle(const Part& part, const Stage& stage) const {
        std::string way;
        for (auto at = std::ranges::find(open_, stage); at != open_.end(); ++at)
            way += job_.find_part(at->first)->name + ", ";
        return {ErrorCode::bad_index, "a part is made of itself: " + way + part.name, ""};
    }

    Result<Body> source_of(const Part& part) {
        if (const auto* use = std::get_if<Use>(&part.source)) return body_of(*use);
        if (const auto* link = std::get_if<Link>(&part.source)) return linked(part, *link);
        Lineage lineage{.maker = part.id};
        if (const auto* shape = std::get_if<Shape>(&part.source)) {
            const auto solid = made_shape(*shape, of_.kept_);
            if (!solid) return solid.error();
            lineage.mesh = {*solid, &(*solid)->mesh};
            lineage.sides = {*solid, &(*solid)->side};
        } else {
            lineage.mesh = std::get<StoredMesh>(part.source).mesh;
        }
        out_.given[part.id] = lineage.mesh;
        return Body{lineage.mesh, of_.keys_.of(lineage.mesh),        Transform::Identity(), false,
                    part.id,      std::make_shared<Lineage>(lineage)};
    }

    /// What a link follows, where it stands in its own list.
    Result<Body> linked(const Part& part, const Link& link) {
        const Part* of = job_.find_part(link.part);
        if (!of) return Error{ErrorCode::lost, "the part that it follows is not there any more", ""};
        auto done = link.as_of ? stage_of(*of, *link.as_of) : shaped(*of);
        if (!done) return done.error();
        if (auto made = make_body(*done); !made) return made.error();
        Body body = std::move(done->body);
        body.part = part.id;
        if (link.piece)
            if (auto taken = take_piece(part, *link.piece, body); !taken) return taken.error();
        out_.given[part.id] = body.mesh;
        return body;
    }

    /// A part after one of its steps; before any, where that is empty.
    Result<Shaped> stage_of(const Part& part, const std::string& step) {
        const auto steps = steps_up_to(part.steps, step);
        if (!steps)
            return Error{ErrorCode::lost,
                         "the step up to which it follows " + in_quotes(part.name) + " is not there any more", ""};
        // What became of the rows is told of the whole list.
        const auto rows = out_.rows;
        auto out = shaped(part, *steps, {part.id, step});
        for (const auto& [id, row] : rows) out_.rows[id] = row;
        return out;
    }

    /// One of the separate bodies of a body, which it becomes.
    Result<void> take_piece(const Part& part, const PieceOf& wanted, Body& body) {
        KeyMaker key("piece 1");
        key.add(body.key).add(wanted.number).add(wanted.count).add(wanted.middle).add(wanted.volume);
        auto mesh = of_.kept_.find<Mesh>(key.key());
        if (!mesh) {
            auto made = with_memory_checked([&] { return piece_like(wanted, *body.mesh, progress_); });
            if (!made) return made.error();
            const std::size_t bytes = bytes_of(*made);
            mesh = of_.kept_.keep(key.key(), std::make_shared<const Mesh>(std::move(*made)), bytes);
        }
        go_on_with(mesh, part.id, false, body);
        return {};
    }

    /// A part at its place, all its steps done.
    Result<Body> body_of(const Use& use) {
        const Part* part = job_.find_part(use.part);
        if (!part) return Error{ErrorCode::bad_index, "it uses a part that is not there: " + use.part, ""};
        auto done = shaped(*part);
        if (!done) return done.error();
        if (!done->tail.empty())
            if (auto made = settle_segment(*done); !made) return made.error();
        Body body = at_place(std::move(done->body), use);
        if (use.copies)
            if (auto copied = copy(*use.copies, use, nullptr, {}, body); !copied) return copied.error();
        return body;
    }

    /// A body many times. `to`: what it acts on, by that step; null: nothing.
    Result<void> copy(const Copies& copies, const Use& use, Shaped* to, const std::string& step, Body& body) {
        const Kind* kind = find_copies(copies.kind);
        if (!kind)
            return Error{ErrorCode::newer_version, "this version knows no copies of the kind " + in_quotes(copies.kind),
                         ""};
        if (auto checked = check_values(*kind, copies.values); !checked) return checked.error();
        if (kind->needs_body && !to)
            return Error{ErrorCode::out_of_range, "there is no body that the copies could be spread over", ""};
        if (kind->needs_body)
            if (auto made = make_body(*to); !made) return made;
        if (kind->needs_body && !step.empty()) {
            RowOutcome& row = out_.rows[step];
            row.from = to->body.mesh;
            row.lineage = to->body.lineage;
        }
        const Vec3 foot = apply(innermost(job_, use).placement.transform(), Vec3{});
        const Body* on = kind->needs_body ? &to->body : nullptr;
        auto held = on ? held_of(copies.values, *on) : Held();
        if (!held) return held.error();
        auto all = all_copies(copies, body, foot, on, *held, of_.kept_, progress_);
        if (!all) return all.error();
        body.lineage = std::make_shared<Lineage>(Lineage{.mesh = *all, .copies = true, .of = {{{}, body.lineage}}});
        body.mesh = *all;
        body.key = of_.keys_.of(*all);
        body.stands = Transform::Identity();
        return {};
    }
    static Body at_place(Body body, const Use& use) {
        body.stands = use.placement.transform() * body.stands;
        body.closes_sheets = body.closes_sheets || use.closes_sheets;
        return body;
    }

    Result<void> take_steps(const Steps& steps, bool counted, Shaped& to) {
        for (const auto& step : steps) {
            const Kind* kind = find_kind(step->kind);
            const bool counts = counted && step->on && !below_.contains(step->id) && kind;
            RowOutcome& row = out_.rows[step->id];
            row.counted = counts;
            if (!kind) continue;
            Result<void> done;
            if (kind->of == KindClass::combine)
                done = add_row(*step, *kind, counts, to);
            else if (kind->of == KindClass::cut)
                done = counts ? add_cut(*step, *kind, to) : Result<void>();
            else if (kind->of == KindClass::group)
                done = take_group(*step, counts, to);
            else if (counts)
                done = treat(*step, *kind, to);
            if (!done) return done;
        }
        return {};
    }

    /// A combining step waits for those behind it: together they are one arrangement.
    Result<void> add_row(const Step& step, const Kind& kind, bool counts, Shaped& to) {
        CombineRow row;
        row.step = &step;
        row.operation = kind.operation;
        const Part* part = step.operand ? job_.find_part(step.operand->part) : nullptr;
        if (part) {
            auto operand = shaped(*part);
            // Of a bundle, copies are of what it makes.
            if (operand && !operand->tail.empty() && (step.operand->copies || rows_in(operand->tail) > most_in_bundle))
                if (auto settled = settle_segment(*operand); !settled) operand = settled.error();
            if (!operand && ends_evaluation(operand.error())) return operand.error();
            if (operand) {
                row.operand = at_place(operand->body, *step.operand);
                if (auto copied = copy_operand(step, kind, to, row.operand); !copied) {
                    if (ends_evaluation(copied.error())) return copied.error();
                    row.operand = {};
                    if (counts) row.error = copied.error();
                    if (row.error) row.error->row = step.id;
                }
                row.bundle = std::move(operand->tail);
                lay_in_bundle(row.bundle, *step.operand, counts);
            } else if (counts) {
                row.error = operand.error();
                row.error->row = step.id;
            }
        }
        row.counted = counts && row.operand.mesh;
        to.tail.push_back(std::move(row));
        return {};
    }
    /// A cut is rows of the segment that it stands in; one that goes by the body begins another.
    Result<void> add_cut(const Step& step, const Kind& kind, Shaped& to) {
        RowOutcome& row = out_.rows[step.id];
        const bool by_body = needs_body(kind, step.values);
        if (by_body)
            if (auto made = make_body(to); !made) return made;
        if (kind.held_field(step.values) && by_body) {
            row.from = to.body.mesh;
            row.lineage = to.body.lineage;
        }
        if (waits_for_selection(kind, step.values)) {
            row.counted = false;
            row.note = "Nothing is selected for it yet.";
            return {};
        }
        auto made = made_cut(step, kind, by_body ? &to.body : nullptr, box_of(to), of_.kept_, progress_);
        if (!made) {
            if (ends_evaluation(made.error())) return made.error();
            note_error(row, step.id, made.error());
            return {};
        }
        row.cut = made->cut;
        std::ranges::move(rows_of_cut(step, *made), std::back_inserter(to.tail));
        return {};
    }
    static Box box_of(const Body& body) { return placed(bounds(*body.mesh), body.stands); }
    /// Round all that a segment has so far; what has no end left out.
    Box box_of(const Shaped& to) const {
        Box out = box_of(to.body);
        for (const CombineRow& row : to.tail)
            if (row.operand.mesh && row.ends && !endless_shape(job_, row.operand.part)) out.add(box_of(row.operand));
        return out;
    }
    Result<void> copy_operand(const Step& step, const Kind& kind, Shaped& to, Body& operand) {
        const Body single = operand;
        const auto& copies = step.operand->copies;
        if (copies) {
            if (auto copied = copy(*copies, *step.operand, &to, step.id, operand); !copied) return copied;
            out_.copies[step.id] = operand.mesh;
        }
        const Kind* endless = endless_shape(job_, single.part);
        if (!endless) return {};
        if (single.mesh != out_.given[single.part]) return endless_body();
        if (auto trouble = endless_trouble(kind.operation)) return *trouble;
        Box meets = box_of(to);
        meets.add(box_of(operand));
        operand = single;
        let_reach(operand, *endless, meets, of_.kept_);
        return copies ? copy(*copies, *step.operand, &to, step.id, operand) : Result<void>();
    }
    static void place_rows(std::vector<CombineRow>& rows, const Transform& at) {
        for (CombineRow& row : rows) {
            row.operand.stands = at * row.operand.stands;
            place_rows(row.bundle, at);
        }
    }
    static void lay_in_bundle(std::vector<CombineRow>& rows, const Use& use, bool counted) {
        for (CombineRow& row : rows) {
            row.operand.stands = use.placement.transform() * row.operand.stands;
            row.counted = row.counted && counted;
            if (row.counted && !counts_in_bundle(row.operation)) {
                row.counted = false;
                row.note = "It changes nothing: a bundle makes a solid, and only what changes a solid counts in it.";
            }
            lay_in_bundle(row.bundle, use, row.counted);
        }
    }

    /// What waits is combined, and goes on as a body of its own; where that cannot be, the body goes on as it was.
    Result<void> settle_segment(Shaped& to) {
        SettleOptions settle = settle_;
        settle.precision = Precision::double_precision;
        auto done = of_.segments_.run(to.body, to.tail, settle, progress_);
        if (!done && ends_evaluation(done.error())) return done.error();
        const std::optional<Error> why = done ? done->error : done.error();
        if (why)
            for (CombineRow& row : to.tail) {
                if (!out_.rows[row.step->id].counted) continue;  // as it was meant
                row.error = why;
                row.error->row = row.step->id;
                row.counted = false;
            }
        note(to.tail);
        if (why) {
            to.tail.clear();
            return {};
        }
        const std::shared_ptr<const Mesh> mesh(done->combined, &done->combined->mesh);
        auto lineage = std::make_shared<Lineage>(Lineage{.combined = done->combined, .of = std::move(done->operands)});
        to.body = {mesh, of_.keys_.of(mesh), Transform::Identity(), false, to.body.part, std::move(lineage)};
        to.tail.clear();
        return {};
    }

    void note(const std::vector<CombineRow>& rows) {
        for (std::size_t k = 0; k < rows.size(); ++k) {
            const CombineRow& row = rows[k];
            RowOutcome& out = out_.rows[row.step->id];
            if (row.is_cut) {
                if (k == 0 || rows[k - 1].step != row.step) note_cut(rows, k);
                continue;
            }
            out.counted = row.counted;
            out.error = row.error;
            out.note = row.note;
            out.seconds = row.seconds;
            out.volume_before = row.volume_before;
            out.volume_after = row.volume_after;
            out.pieces_before = row.pieces_before;
            out.pieces_after = row.pieces_after;
            note(row.bundle);
        }
    }

    /// All rows of a cut, of which this is the first, are told as one.
    void note_cut(const std::vector<CombineRow>& rows, std::size_t first) {
        const CombineRow& row = rows[first];
        RowOutcome& out = out_.rows[row.step->id];
        out.volume_before = row.volume_before;
        out.pieces_before = row.pieces_before;
        bool changes = false;
        for (std::size_t k = first; k < rows.size() && rows[k].step == row.step; ++k) {
            if (rows[k].error) out.error = rows[k].error;
            out.volume_after = rows[k].volume_after;
            out.pieces_after = rows[k].pieces_after;
            changes = changes || rows[k].note.empty();
        }
        out.counted = row.counted;
        out.seconds = row.seconds;
        out.note = changes ? std::string() : row.note;
    }

    /// The body where it stands, for what needs it there.
    Result<void> make_body(Shaped& to) {
        if (!to.tail.empty())
            if (auto done = settle_segment(to); !done) return done;
        if (to.body.stands.isApprox(Transform::Identity(), 0)) return {};
        to.body.mesh = std::make_shared<const Mesh>(to.body.placed());
        to.body.key = of_.keys_.of(to.body.mesh);
        to.body.stands = Transform::Identity();
        return {};
    }

    Result<void> treat(const Step& step, const Kind& kind, Shaped& to) {
        if (auto made = make_body(to); !made) return made;
        RowOutcome& row = out_.rows[step.id];
        row.from = to.body.mesh;
        if (kind.held_field()) row.lineage = to.body.lineage;
        auto done = treated(step, kind, to.body);
        if (!done) {
            if (ends_evaluation(done.error())) return done.error();
            note_error(row, step.id, done.error());
            return {};
        }
        row.treated = *done;
        row.seconds = (*done)->seconds;
        go_on_with((*done)->mesh, step.id, (*done)->same_faces, to.body);
        return {};
    }

    /// The body is that mesh now, by a step.
    void go_on_with(const std::shared_ptr<const Mesh>& mesh, const std::string& step, bool same_faces, Body& body) {
        if (mesh == body.mesh) return;
        body.lineage = std::make_shared<Lineage>(Lineage{
            .maker = step, .mesh = mesh, .old = body.mesh, .same_faces = same_faces, .of = {{{}, body.lineage}}});
        body.mesh = mesh;
        body.key = of_.keys_.of(mesh);
    }

    Result<std::shared_ptr<const Treated>> treated(const Step& step, const Kind& kind, const Body& body) {
        KeyMaker key("treated 1");
        key.add(kind.word).add(kind.revision).add(body.key).add(settle_.precision).add(settle_.contact);
        add_values(key, step.values);
        TreatSettings settings{settle_.precision, settle_.contact};
        auto held = held_of(step.values, body);
        if (!held) return held.error();
        settings.held = std::move(held->elements);
        key.add(held->key);
        if (auto found = find_parts(step, kind, settings, key); !found) return found.error();
        if (auto known = of_.kept_.find<Treated>(key.key())) return known;
        auto done = treated_anew(step, kind, body.mesh, settings, progress_);
        if (!done) return done.error();
        if (kind.stays_sound)
            if (auto sound = check_stays_sound(body, *done, of_.keys_.of(done->mesh), of_.kept_, progress_); !sound)
                return sound.error();
        const std::size_t bytes = done->mended ? bytes_of(*done->mended) : bytes_of(*done->mesh);
        return of_.kept_.keep(key.key(), std::make_shared<const Treated>(std::move(*done)), bytes);
    }

    /// The bodies of the parts that the step names.
    Result<void> find_parts(const Step& step, const Kind& kind, TreatSettings& settings, KeyMaker& key) {
        for (const auto& [name, value] : step.values) {
            const Field* field = kind.find_field(name);
            const auto* id = std::get_if<std::string>(&value);
            if (!field || field->type != Field::Type::part || id->empty()) continue;
            const Part* part = job_.find_part(*id);
            auto body = body_of({.part = *id, .placement = part ? part->bench : Placement()});
            if (!body) return body.error();
            settings.parts[name] = std::make_shared<const Mesh>(body->placed());
            key.add(name).add(of_.keys_.of(settings.parts[name]));
        }
        return {};
    }

    Result<void> take_edits(const std::string& group, const Steps& steps, Shaped& to) {
        std::vector<const Step*> edits;
        for (const auto& step : steps)
            if ((out_.rows[step->id].counted = step->on && !below_.contains(step->id))) edits.push_back(step.get());
        if (edits.empty()) return {};
        auto mesh = edited_by_hand(edits, to.body, settle_, of_.kept_, out_.rows, progress_);
        if (!mesh) return mesh.error();
        go_on_with(*mesh, group, false, to.body);
        return {};
    }

    /// The steps of a group, and what they did together.
    Result<void> take_group(const Step& step, bool counts, Shaped& to) {
        if (!counts || combines_only(step)) return take_steps(step.steps, counts, to);
        if (auto made = make_body(to); !made) return made;
        const std::shared_ptr<const Mesh> from = to.body.mesh;
        const ContentKey before = to.body.key;
        const bool by_hand = std::ranges::all_of(step.steps, [](const auto& inner) { return is_edit_by_hand(*inner); });
        if (auto done = by_hand ? take_edits(step.id, step.steps, to) : take_steps(step.steps, true, to); !done)
            return done;
        std::vector<HandDone> edits;
        for (const auto& inner : step.steps)
            if (const auto& done = out_.rows[inner->id].treated; done && done->by_hand) edits.push_back(*done->by_hand);
        RowOutcome& row = out_.rows[step.id];
        row.from = from;
        for (const auto& inner : step.steps) row.seconds += out_.rows[inner->id].seconds;
        if (edits.empty() || !to.tail.empty()) return {};
        auto told = told_together(std::move(edits), row.from, before, to.body, settle_.precision, of_.kept_, progress_);
        if (!told) return told.error();
        row.treated = std::move(*told);
        return {};
    }

    ListEvaluator& of_;
    const Job& job_;
    const std::set<std::string>& below_;
    const SettleOptions& settle_;
    ResultAt at_;
    Progress& progress_;
    static constexpr std::size_t deepest = 64;
    std::map<Stage, Shaped> known_;
    std::vector<Stage> open_;  // whose lists are being taken
    ListOutcome out_;
};

Result<ListOutcome> ListEvaluator::run(const Job& job, const std::set<std::string>& below, const SettleOptions& settle,
                                       ResultAt at, Progress& progress) {
    return Run(*this, job, below, settle, at, progress).run();
}

}  // namespace anvil
