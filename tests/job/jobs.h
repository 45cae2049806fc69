#pragma once

#include "core/job/edits.h"
#include "core/job/evaluate.h"
#include "core/job/kinds/mend_values.h"
#include "tests/support/support.h"

namespace anvil::test {

inline std::string add(Job& job, const char* name, Mesh mesh) {
    return add_part(job, name, std::make_shared<const Mesh>(std::move(mesh)));
}
inline Evaluation evaluated(Evaluator& evaluator, const Job& job, std::size_t stop_after = ~std::size_t{0}) {
    Progress progress;
    auto done = evaluator.evaluate(job, progress, stop_after);
    INFO((done ? "" : done.error().sentence()));
    REQUIRE(done);
    return std::move(*done);
}
inline double volume(const Evaluation& e) { return signed_volume(e.combined->mesh); }

inline void set_mesh(Job& job, const std::string& part, Mesh mesh) {
    edit_part(job, part, [&](Part& p) { p.source = StoredMesh{std::make_shared<const Mesh>(std::move(mesh))}; });
}
inline const std::shared_ptr<const Mesh>& mesh_of(const Job& job, const std::string& part) {
    return std::get<StoredMesh>(job.find_part(part)->source).mesh;
}
inline void set_on(Job& job, const std::string& step, bool on) {
    edit_step(job, step, [&](Step& s) { s.on = on; });
}
inline void set_operation(Job& job, const std::string& step, Operation operation) {
    edit_step(job, step, [&](Step& s) { s.kind = word(operation); });
}
/// The row of a step, the first one.
inline RowId row_of(const Job& job, const std::string& step) {
    for (const Row& row : rows_of(job))
        if (row.id.step() == step) return row.id;
    return {};
}
inline void move_to(Job& job, const std::string& step, const Vec3& position) {
    edit_use(job, row_of(job, step), [&](Use& use) { use.placement.position = position; });
}
inline std::string add_mending(Job& job, const std::string& list, std::span<const Repair> repairs,
                               const MendOptions& options = {}) {
    MendSettings settings{{repairs.begin(), repairs.end()}, options, {}};
    std::ranges::sort(settings.repairs);
    return add_treatment(job, {list}, "mend", values_of(settings));
}
inline void edit_mending(Job& job, const std::string& step, const std::function<void(MendSettings&)>& edit) {
    edit_step(job, step, [&](Step& s) {
        MendSettings settings = mend_settings(s.values);
        edit(settings);
        s.values = values_of(settings);
    });
}
inline std::shared_ptr<const Mended> mended(const Evaluation& e, const std::string& step) {
    const RowOutcome* row = e.row(step);
    return row && row->treated ? row->treated->mended : nullptr;
}

}  // namespace anvil::test
