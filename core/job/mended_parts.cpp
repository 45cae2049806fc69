#include "core/job/mended_parts.h"

#include <algorithm>

namespace anvil {

namespace {

std::size_t bytes_of(const Mesh& mesh) {
    return mesh.points.size() * sizeof(Vec3) + mesh.faces.size() * sizeof(Triangle) +
           mesh.material.size() * sizeof(std::uint32_t);
}
std::size_t bytes_of(const Inspection& inspection) {
    std::size_t bytes = bytes_of(inspection.mesh) + inspection.findings.size() * sizeof(Finding);
    for (const Finding& f : inspection.findings)
        bytes += f.vertices.size() * sizeof(VertexId) + f.faces.size() * sizeof(FaceId);
    return bytes;
}
std::size_t bytes_of(const Mended& m) { return bytes_of(m.mesh) + bytes_of(m.before) + bytes_of(m.after); }

}  // namespace

void PartMender::drop_over_budget() {
    while (bytes_ > budget_ && kept_.back().round != round_) {
        bytes_ -= kept_.back().bytes;
        kept_.pop_back();
    }
}

Result<std::shared_ptr<const Mended>> PartMender::run(const std::shared_ptr<const Mesh>& from,
                                                      const std::vector<Repair>& repairs,
                                                      const std::vector<HandEdit>& edits, const MendOptions& options,
                                                      Progress& progress) {
    const auto known = std::ranges::find_if(kept_, [&](const Kept& k) {
        return k.from == from && k.repairs == repairs && k.edits == edits && k.options == options;
    });
    if (known != kept_.end()) {
        known->round = round_;
        kept_.splice(kept_.begin(), kept_, known);
        return known->done;
    }
    auto done = edits.empty() ? mend(*from, repairs, options, progress) : mend_by_hand(*from, edits, options, progress);
    if (!done) return done.error();
    const std::size_t bytes = bytes_of(*done);
    kept_.push_front({from, repairs, edits, options, std::make_shared<const Mended>(std::move(*done)), bytes, round_});
    bytes_ += bytes;
    drop_over_budget();
    return kept_.front().done;
}

Result<MendedPart> PartMender::mended(const Part& part, const SettleOptions& settle, Progress& progress) {
    MendedPart out{part.mesh, {}, {}, {}};
    for (const Mending& mending : part.mendings) {
        out.done.push_back(nullptr);
        out.errors.emplace_back();
        if (!mending.on) continue;
        auto done = mend_once(part, mending, settle, out, progress);
        if (done) {
            out.done.back() = *done;
            out.mesh = {*done, &(*done)->mesh};
            continue;
        }
        Error error = done.error();
        if (error.is_cancel() || error.code == ErrorCode::out_of_memory) return error;
        error.place = part.name + (error.place.empty() ? "" : " (" + error.place + ")");
        error.row = mending.id;
        error.operand = -1;
        out.errors.back() = std::move(error);
    }
    return out;
}

/// One mending on what the part is before it; a question that it comes to is noted.
Result<std::shared_ptr<const Mended>> PartMender::mend_once(const Part& part, const Mending& mending,
                                                            const SettleOptions& settle, MendedPart& so_far,
                                                            Progress& progress) {
    MendOptions options = mending.options;
    options.precision = settle.precision;
    options.contact = settle.contact;
    const std::shared_ptr<const Mesh> from = so_far.mesh;
    auto done = run(from, mending.repairs, mending.edits, options, progress);
    if (!done || !mending.is_whole_plan()) return done;
    std::optional<Question> question = next_question(*from, **done, options, mending.answered);
    if (!question) return done;
    std::vector<Repair> before = mending.repairs;
    std::erase_if(before, [&](Repair r) { return r >= first_waiting(question->about); });
    done = run(from, before, {}, options, progress);
    if (done && !so_far.question) so_far.question = OpenQuestion{part.id, mending.id, from, std::move(*question)};
    return done;
}

}  // namespace anvil
