#include "core/job/segment.h"

#include <tbb/parallel_invoke.h>

#include <algorithm>
#include <chrono>
#include <utility>

#include "core/arrange/operands.h"
#include "core/combine/diagnose.h"
#include "core/combine/near_operands.h"
#include "core/combine/proven_faces.h"
#include "core/combine/volume.h"
#include "core/job/value_key.h"
#include "core/mesh/measures.h"

namespace anvil {
namespace {

constexpr std::size_t most_recent = 8;

/// About, of what is kept.
std::size_t bytes_of(const Operand& o) { return o.mesh.points.size() * 40 + o.mesh.faces.size() * 160 + 1000; }
std::size_t bytes_of(const Arrangement& a) {
    return a.faces.size() * 132 + (a.points.size() - a.points.input_count()) * 112 + a.active.index_of.size() * 8 +
           a.crossing_pairs() * 48 + a.faces.of_cluster.size() * 20 + 10'000;
}
std::size_t bytes_of(const Combined& c) {
    std::size_t bytes = c.mesh.points.size() * sizeof(Vec3) + c.mesh.faces.size() * 2 * sizeof(Triangle) + 1000;
    for (const CrossingCurve& curve : c.curves) bytes += curve.points.size() * sizeof(Vec3);
    return bytes;
}

/// The order in which ids are given: "step-2" before "step-10".
bool given_before(const std::string& a, const std::string& b) {
    return a.size() != b.size() ? a.size() < b.size() : a < b;
}

bool combines(const CombineRow& row) { return row.operation != Operation::gather; }
bool acts(const CombineRow& row) { return row.counted && combines(row); }

template <class Rows, class Visit>
void for_each_row(Rows& rows, const Visit& visit) {
    for (auto& row : rows) {
        visit(row);
        for_each_row(row.bundle, visit);
    }
}

/// The rows that count, as the engine takes them, bundles within them.
std::vector<CombineStep> engine_steps(std::span<const CombineRow> rows) {
    std::vector<CombineStep> steps;
    for (const CombineRow& row : rows)
        if (acts(row)) steps.push_back({row.operation, row.number, engine_steps(row.bundle)});
    return steps;
}

/// Tells of each row what it does to its body, and of the rows of its bundle what they do to its operand.
class RowTeller {
  public:
    explicit RowTeller(const Arrangement& arrangement) : arrangement_(arrangement), volumes_(arrangement) {}

    void tell(std::uint32_t base, std::vector<CombineRow>& rows) const {
        const std::vector<CombineStep> all = engine_steps(rows);
        std::size_t taken = 0;
        CellPieces now = pieces_at_first(arrangement_.cells, base);
        double volume = volumes_.volume(now);
        for (CombineRow& row : rows) {
            row.volume_before = volume;
            row.pieces_before = now.count;
            if (acts(row)) {
                const std::span<const CombineStep> before = std::span(all).first(taken);
                const CombineStep& step = all[taken++];
                CellPieces behind = pieces_after(arrangement_.cells, now, step);
                row.note = diagnose_step(arrangement_, before, step, base, now, behind);
                now = std::move(behind);
                volume = volumes_.volume(now);
                tell(row.number, row.bundle);
            }
            row.volume_after = volume;
            row.pieces_after = now.count;
        }
    }

  private:
    const Arrangement& arrangement_;
    VolumeTeller volumes_;
};

ContentKey placed_key(const Body& body) {
    KeyMaker key("placed body 1");
    key.add(body.key);
    return add_transform(key, body.stands).key();
}

/// Where nothing is combined the body is the result as it is, sound or not.
void be_alone(const Body& body, std::vector<CombineRow>& rows, SegmentResult& out) {
    auto whole = std::make_shared<Combined>();
    whole->piece_start = {0};
    gather_into(*whole, welded(body.placed()), 0);
    if (whole->empty) whole->reason = "The base has no faces.";
    const Mesh* given[] = {body.mesh.get()};
    whole->take_materials(given);
    out.operand_parts = {body.part};
    out.operands = {{{}, body.lineage}};
    out.key = placed_key(body);
    const double volume = signed_volume(whole->mesh);
    for (CombineRow& row : rows) row.volume_before = row.volume_after = volume;
    out.combined = std::move(whole);
}

/// Puts what gathering rows name beside the result, and counts its volume in.
void gather(std::span<const Mesh* const> operands, std::vector<CombineRow>& rows, SegmentResult& out) {
    std::shared_ptr<Combined> whole;
    std::vector<const Mesh*> given(operands.begin(), operands.end());
    for (std::size_t i = 0; i < rows.size(); ++i) {
        if (!rows[i].counted || combines(rows[i])) continue;
        const Mesh placed = welded(rows[i].operand.placed());
        if (!whole) whole = std::make_shared<Combined>(*out.combined);
        gather_into(*whole, placed, static_cast<std::uint32_t>(given.size()));
        given.push_back(rows[i].operand.mesh.get());
        out.operand_parts.push_back(rows[i].operand.part);
        out.operands.push_back({rows[i].step->id, rows[i].operand.lineage});
        out.key = KeyMaker("gathered 1").add(out.key).add(placed_key(rows[i].operand)).key();
        const double volume = signed_volume(placed);
        rows[i].volume_after += volume;
        for (std::size_t later = i + 1; later < rows.size(); ++later) {
            rows[later].volume_before += volume;
            rows[later].volume_after += volume;
        }
    }
    if (!whole) return;
    whole->take_materials(given);
    out.combined = std::move(whole);
}

void prepend(std::string& to, const std::string& text) { to = to.empty() ? text : text + " " + to; }

/// What is below a row that does not count does not, either.
void leave_out_bundle(CombineRow& row) {
    for (CombineRow& inner : row.bundle) {
        inner.counted = false;
        leave_out_bundle(inner);
    }
}

}  // namespace

/// A body as an operand.
struct SegmentEvaluator::Wanted {
    Body body;
    Taken taken = Taken::repaired;
    ContentKey key{};
    std::string use{};  // id of its step; of several the first
};
/// A mesh made ready, or why it cannot be an operand.
struct SegmentEvaluator::Ready {
    std::shared_ptr<const Operand> operand;
    std::optional<Error> error;
};
/// The body first, then the operands in the order of their steps' ids, each once.
struct SegmentEvaluator::Operands {
    std::vector<Wanted> list;
    std::vector<std::shared_ptr<const Ready>> ready;  // side by side with `list`

    /// Takes those out that cannot be taken; their rows do not count.
    void drop_broken(std::vector<CombineRow>& rows) {
        Operands kept;
        std::vector<std::uint32_t> number(list.size(), 0);
        for (std::size_t o = 0; o < list.size(); ++o) {
            if (ready[o]->error) continue;
            number[o] = static_cast<std::uint32_t>(kept.list.size());
            kept.list.push_back(std::move(list[o]));
            kept.ready.push_back(std::move(ready[o]));
        }
        for_each_row(rows, [&](CombineRow& row) { row.number = number[row.number]; });
        *this = std::move(kept);
    }
};
/// Cells chosen and settled, and what the rows did, bundles behind their heads.
struct SegmentEvaluator::Extracted {
    Combined combined;
    struct Facts {
        double volume_before, volume_after;
        std::size_t pieces_before, pieces_after;
        std::string note;
    };
    std::vector<Facts> rows;
    double seconds = 0;
    ContentKey key{};
};

/// Cuts that would leave nothing do not count. Whether there was one.
bool SegmentEvaluator::leave_out_what_takes_all(const Extracted& done, std::vector<CombineRow>& rows) {
    const Step* found = nullptr;
    std::size_t next = 0;
    for_each_row(rows, [&](const CombineRow& row) {
        const Extracted::Facts& fact = done.rows[next++];
        if (found || !row.is_cut || !acts(row)) return;
        const bool all_gone = !is_trim(row.operation) && fact.pieces_before > 0 && fact.pieces_after == 0;
        if (all_gone) found = row.step;
    });
    // Or what they leave is thinner than can be told.
    if (!found && done.combined.mesh.faces.empty())
        for (const CombineRow& row : rows)
            if (row.is_cut && acts(row)) found = row.step;
    if (!found) return false;
    for_each_row(rows, [&](CombineRow& row) {
        if (row.step != found) return;
        row.counted = false;
        row.error = Error{ErrorCode::out_of_range, "it would leave nothing of the body", ""};
        row.error->row = found->id;
    });
    return true;
}

SegmentEvaluator::Operands SegmentEvaluator::operands_of(const Body& body, std::vector<CombineRow>& rows) {
    Operands out;
    auto wanted = [&](const Body& of, Taken taken) {
        KeyMaker key("operand 1");
        key.add(of.key).add(taken);
        return Wanted{of, taken, add_transform(key, of.stands).key(), {}};
    };
    auto usual = [](const Body& of) { return of.closes_sheets ? Taken::closed : Taken::repaired; };
    out.list.push_back(wanted(body, starts_as_surface(engine_steps(rows)) ? Taken::as_surface : usual(body)));
    std::vector<CombineRow*> order;
    for_each_row(rows, [&](CombineRow& row) {
        if (combines(row) && row.operand.mesh) order.push_back(&row);
    });
    std::ranges::stable_sort(order, given_before, [](const CombineRow* row) { return row->step->id; });
    for (CombineRow* row : order) {
        Wanted one = wanted(row->operand, usual(row->operand));
        const auto known = std::ranges::find(out.list, one.key, &Wanted::key);
        one.use = row->step->id;
        row->number = static_cast<std::uint32_t>(known - out.list.begin());
        if (known == out.list.end()) out.list.push_back(std::move(one));
    }
    return out;
}

Result<void> SegmentEvaluator::make_ready(Operands& operands, Progress& progress) {
    progress.stage("making the parts ready", 0.0, 0.3);
    const std::size_t count = operands.list.size();
    for (const Wanted& one : operands.list) operands.ready.push_back(kept_.find<Ready>(one.key));
    std::vector<MadeOperand> made = make_operands(count, [&](std::size_t i) -> MadeOperand {
        const Wanted& one = operands.list[i];
        if (const auto& known = operands.ready[i]) return known->operand;
        return make_operand(one.body.placed(), one.taken, progress);
    });
    for (std::size_t i = 0; i < count; ++i) {
        if (operands.ready[i]) continue;
        Ready ready;
        if (made[i]) {
            ready.operand = std::move(*made[i]);
        } else {
            ready.error = made[i].error();
            if (ends_evaluation(*ready.error)) return *ready.error;
        }
        const std::size_t bytes = ready.operand ? bytes_of(*ready.operand) : 0;
        operands.ready[i] = kept_.keep(operands.list[i].key, std::make_shared<const Ready>(std::move(ready)), bytes);
    }
    return {};
}

Result<std::shared_ptr<const Arrangement>> SegmentEvaluator::arranged(const Operands& operands, bool& reused,
                                                                      Progress& progress) {
    KeyMaker content("arrangement 1");
    std::vector<std::shared_ptr<const Operand>> list;
    for (std::size_t i = 0; i < operands.list.size(); ++i) {
        content.add(operands.list[i].key);
        list.push_back(operands.ready[i]->operand);
    }
    auto known = kept_.find<Arrangement>(content.key());
    reused = known != nullptr;
    if (known) return known;
    list = with_near_points_one(std::move(list), progress);
    const auto before = most_alike(list);
    auto made = arrange(std::move(list), progress, &contacts_, before.get());
    if (!made) return made.error();
    const std::size_t bytes = bytes_of(*made);
    known = kept_.keep(content.key(), std::make_shared<const Arrangement>(std::move(*made)), bytes);
    recent_.push_back(known);
    if (recent_.size() > most_recent) recent_.erase(recent_.begin());
    return known;
}

/// The one of the recent arrangements that has most of the operands at the same places; null where none has any.
std::shared_ptr<const Arrangement> SegmentEvaluator::most_alike(
    std::span<const std::shared_ptr<const Operand>> operands) const {
    std::shared_ptr<const Arrangement> out;
    std::size_t most = 0;
    for (auto at = recent_.rbegin(); at != recent_.rend(); ++at) {
        const auto known = at->lock();
        if (!known) continue;
        const auto& others = known->soup.operands();
        std::size_t alike = 0;
        for (std::size_t o = 0; o < std::min(others.size(), operands.size()); ++o) alike += others[o] == operands[o];
        if (alike > most) most = alike, out = known;
    }
    return out;
}

Result<std::shared_ptr<const SegmentEvaluator::Extracted>> SegmentEvaluator::extracted(const Operands& operands,
                                                                                       std::vector<CombineRow>& rows,
                                                                                       const SettleOptions& settle,
                                                                                       bool& reused,
                                                                                       Progress& progress) {
    KeyMaker content("extracted 1");
    for (const Wanted& one : operands.list) content.add(one.key);
    content.add(settle.precision).add(settle.contact).add(settle.merge_flush);
    for_each_row(rows, [&](const CombineRow& row) {
        content.add(row.counted).add(row.operation).add(row.bundle.size()).add(row.number);
    });
    if (auto known = kept_.find<Extracted>(content.key())) {
        reused = true;
        return known;
    }
    const auto start = std::chrono::steady_clock::now();
    auto arrangement = arranged(operands, reused, progress);
    if (!arrangement) return arrangement.error();
    std::vector<CombineRow> told = rows;
    for_each_row(told, [](CombineRow& row) { row.note.clear(); });
    Result<Combined> combined = cancelled_error();
    // Of the newest result that begins with this body.
    using Proven = std::vector<std::shared_ptr<const ProvenFaces>>;
    const ContentKey proven_key = KeyMaker("proven 1").add(operands.list[0].key).key();
    SettleOptions options = settle;
    options.tells_proven = true;
    if (const auto known = kept_.find<Proven>(proven_key)) options.before = *known;
    tbb::parallel_invoke([&] { combined = combine(**arrangement, engine_steps(rows), progress, options); },
                         [&] { RowTeller(**arrangement).tell(0, told); });
    if (!combined) return combined.error();
    if (std::ranges::any_of(combined->proven, [](const auto& piece) { return piece != nullptr; })) {
        std::size_t bytes = 0;
        for (const auto& piece : combined->proven) bytes += piece ? piece->bytes() : 0;
        kept_.keep(proven_key, std::make_shared<const Proven>(std::exchange(combined->proven, {})), bytes);
    }
    Extracted out{.combined = std::move(*combined), .rows = {}, .key = content.key()};
    std::vector<const Mesh*> given;
    for (const Wanted& one : operands.list) given.push_back(one.body.mesh.get());
    out.combined.take_materials(given);
    // What is off, or below the stop line, is arranged with the others, but nothing of it is told.
    std::vector<char> counts(operands.list.size(), 0);
    counts[0] = 1;
    for_each_row(rows, [&](const CombineRow& row) {
        if (acts(row)) counts[row.number] = 1;
    });
    std::erase_if(out.combined.flush, [&](const FlushArea& f) { return !counts[f.a] || !counts[f.b]; });
    std::erase_if(out.combined.closed_holes, [&](const ClosedHole& h) { return !counts[h.operand]; });
    for_each_row(told, [&](const CombineRow& row) {
        out.rows.push_back({row.volume_before, row.volume_after, row.pieces_before, row.pieces_after, row.note});
    });
    out.seconds = std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
    const std::size_t bytes = bytes_of(out.combined);
    return kept_.keep(content.key(), std::make_shared<const Extracted>(std::move(out)), bytes);
}

Result<SegmentResult> SegmentEvaluator::run(const Body& body, std::vector<CombineRow>& rows,
                                            const SettleOptions& settle, Progress& progress) {
    SegmentResult out;
    auto alone = [&] {
        be_alone(body, rows, out);
        const Mesh* given[] = {body.mesh.get()};
        gather(given, rows, out);
        return std::move(out);
    };
    Operands operands;
    for (bool again = true; again;) {
        again = false;
        bool any = false;
        for_each_row(rows, [&](const CombineRow& row) { any = any || acts(row); });
        if (!any) return alone();
        operands = operands_of(body, rows);
        if (auto made = make_ready(operands, progress); !made) return made.error();
        if (const auto& why = operands.ready[0]->error) {
            out.error = *why;
            for_each_row(rows, [&](CombineRow& row) { row.counted = row.counted && !combines(row); });
            return alone();
        }
        for_each_row(rows, [&](CombineRow& row) {
            if (!acts(row)) return;
            const std::optional<Error>& why = operands.ready[row.number]->error;
            if (!why) return;
            row.error = *why;
            row.error->row = row.step->id;
            row.counted = false;
            leave_out_bundle(row);
            again = true;
        });
    }
    // Of steps that do not count, too: nothing is said of it.
    operands.drop_broken(rows);

    auto done = extracted(operands, rows, settle, out.reused_arrangement, progress);
    if (!done) return done.error();
    if (leave_out_what_takes_all(**done, rows)) return run(body, rows, settle, progress);
    std::size_t next = 0;
    for_each_row(rows, [&](CombineRow& row) {
        const Extracted::Facts& facts = (*done)->rows[next++];
        row.seconds = (*done)->seconds;
        row.volume_before = facts.volume_before;
        row.volume_after = facts.volume_after;
        row.pieces_before = facts.pieces_before;
        row.pieces_after = facts.pieces_after;
        if (!facts.note.empty()) row.note = facts.note;
    });
    std::vector<const Mesh*> given;
    for (std::size_t o = 0; o < operands.list.size(); ++o) {
        const Wanted& one = operands.list[o];
        const Operand& made = *operands.ready[o]->operand;
        given.push_back(one.body.mesh.get());
        out.operand_parts.push_back(one.body.part);
        out.operands.push_back({one.use, one.body.lineage});
        if (one.taken != Taken::as_surface && made.sheet && !made.flat) out.sheets.push_back(one.body.part);
        for (const std::string& note : made.notes) {
            if (o == 0) prepend(out.note, note);
            for_each_row(rows, [&](CombineRow& row) {
                if (acts(row) && row.number == o) prepend(row.note, note);
            });
        }
    }
    out.combined = {*done, &(*done)->combined};
    out.key = (*done)->key;
    out.settled_pieces = out.combined->pieces();
    gather(given, rows, out);
    return out;
}

}  // namespace anvil
