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

ContentKey key_of(const ContentKey& mesh, const std::vector<Repair>& repairs, const std::vector<HandEdit>& edits,
                  const MendOptions& o) {
    KeyMaker out("mended 1");
    out.add(mesh).add_list(repairs).add(edits.size());
    for (const HandEdit& e : edits) out.add(e.tool).add_list(e.points).add(e.fill).add(e.cell);
    out.add(o.weld_distance).add(o.border_reach).add(o.longest_hole).add(o.bridge_within).add(o.fill);
    out.add(o.smallest_shell).add(o.sheets).add(o.thickness).add(o.precision).add(o.contact).add_list(o.places);
    return out.key();
}

}  // namespace

Result<std::shared_ptr<const Mended>> PartMender::run(const std::shared_ptr<const Mesh>& from,
                                                      const std::vector<Repair>& repairs,
                                                      const std::vector<HandEdit>& edits, const MendOptions& options,
                                                      Progress& progress) {
    const ContentKey key = key_of(keys_.of(from), repairs, edits, options);
    if (auto known = kept_.find<Mended>(key)) return known;
    auto done = edits.empty() ? mend(*from, repairs, options, progress) : mend_by_hand(*from, edits, options, progress);
    if (!done) return done.error();
    const std::size_t bytes = bytes_of(*done);
    return kept_.keep(key, std::make_shared<const Mended>(std::move(*done)), bytes);
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
