// What is found out about a result after it is shown.
#include "app/job_controller.h"
#include "core/base/memory.h"

namespace anvil::app {

void JobController::inspect_part(const Job& job, ReadyMesh& part, Progress& progress,
                                 const std::function<void(const Inspection&)>& quick) {
    const InspectOptions options = inspect_options(job.settings, *part.mesh);
    if (part.inspection && part.inspection->options == options) return;
    if (auto inspection = inspect(*part.mesh, progress, options, quick))
        part.inspection = std::make_shared<const Inspection>(std::move(*inspection));
}

void JobController::inspect_result(quint64 run, const Job& job, const Evaluation& evaluation, Progress& progress) {
    if (!evaluation.has_base) {
        post([this, run] { show_inspection(run, nullptr); });
        return;
    }
    std::vector<Inspection> pieces;
    const Combined& combined = *evaluation.combined;
    const InspectOptions options = inspect_options(job.settings, combined.mesh);
    auto quick = [&](const Inspection& first) {
        if (combined.pieces() == 1 && combined.mesh.faces.size() > large_mesh)
            post([this, run, value = std::make_shared<const Inspection>(first)] { show_inspection(run, value); });
    };
    for (std::size_t k = 0; k < combined.pieces(); ++k) {
        auto inspection = inspect(combined.piece(k), progress, options, quick);
        if (!inspection) return;
        pieces.push_back(std::move(*inspection));
    }
    Inspection whole = joined(std::move(pieces));
    // As large as it is where it stands: turned, it takes another room.
    if (const Part* work = job.find_part(job.work()); work && !work->bench.is_identity())
        whole.measures.bounds = bounds(transformed(combined.mesh, work->bench.transform()));
    const bool thin = whole.count(FindingKind::thin_skins) > 0;
    post([this, run, value = std::make_shared<const Inspection>(std::move(whole))] { show_inspection(run, value); });
    if (thin) look_for_skins(run, job, evaluation, options.thin_below, progress);
}

/// Whose cutters have left the skins that were found.
void JobController::look_for_skins(quint64 run, const Job& job, const Evaluation& evaluation, double below,
                                   Progress& progress) {
    const auto lineage = evaluation.lineages.find(job.work());
    if (lineage == evaluation.lineages.end() || !lineage->second) return;
    auto skins = with_memory_checked(
        [&] { return skins_left(job, *evaluation.combined, *lineage->second, below, progress); });
    if (!skins || skins->empty()) return;
    post([this, run, value = std::move(*skins)] { show_skins(run, value); });
}

void JobController::show_inspection(quint64 run, std::shared_ptr<const Inspection> inspection) {
    if (run != run_ || run < first_run_ || progress_->cancelled()) return;
    inspection_ = std::move(inspection);
    skins_.clear();
    Q_EMIT inspected();
}

void JobController::show_skins(quint64 run, std::vector<SkinLeft> skins) {
    if (run != run_ || run < first_run_) return;
    skins_ = std::move(skins);
    Q_EMIT inspected();
}

void JobController::show_part_inspection(quint64 run, const std::string& part,
                                         std::shared_ptr<const Inspection> inspection) {
    if (run != run_ || run < first_run_ || progress_->cancelled() || !outcome_ || !outcome_->parts.contains(part))
        return;
    auto next = std::make_shared<Outcome>(*outcome_);
    next->parts[part].inspection = std::move(inspection);
    outcome_ = std::move(next);
    Q_EMIT inspected();
}

}  // namespace anvil::app
