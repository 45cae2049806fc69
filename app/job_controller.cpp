#include "app/job_controller.h"

#include "core/job/job_file.h"

namespace anvil::app {
namespace {

ReadyMesh make_ready(std::shared_ptr<const Mesh> mesh) {
    ReadyMesh ready;
    ready.measures = std::make_shared<const Measures>(measure(welded(*mesh)));
    ready.display = std::make_shared<const DisplayMesh>(make_display(*mesh));
    ready.picker = std::make_shared<const Picker>(*mesh);
    ready.mesh = std::move(mesh);
    return ready;
}

}  // namespace

JobController::JobController(QObject* parent) : QObject(parent), evaluator_(std::make_shared<Evaluator>()) {
    worker_.moveToThread(&thread_);
    thread_.start();
}

JobController::~JobController() {
    stop();
    thread_.quit();
    thread_.wait();
}

void JobController::change(Job next, const QString& name, const QString& merge) {
    history_.change(std::move(next), name.toStdString(), merge.toStdString());
    Q_EMIT job_changed();
    schedule();
}
void JobController::end_merge() { history_.end_merge(); }
void JobController::undo() {
    history_.undo();
    Q_EMIT job_changed();
    schedule();
}
void JobController::redo() {
    history_.redo();
    Q_EMIT job_changed();
    schedule();
}

void JobController::open(Job job, const QString& file) {
    history_ = History(std::move(job));
    file_ = file;
    stop_after_ = ~std::size_t{0};
    outcome_ = nullptr;
    inspection_ = nullptr;
    error_.reset();
    Q_EMIT job_changed();
    Q_EMIT inspected();
    schedule();
}

bool JobController::save(const QString& file) {
    if (auto saved = write_job(job(), file.toStdString()); !saved) {
        Q_EMIT failed(saved.error());
        return false;
    }
    file_ = file;
    history_.mark_saved();
    Q_EMIT job_changed();
    return true;
}

void JobController::set_stop_after(std::size_t count) {
    if (count == stop_after_) return;
    stop_after_ = count;
    Q_EMIT job_changed();
    schedule();
}

void JobController::stop() {
    pending_ = false;
    if (progress_) progress_->cancel();
}

void JobController::schedule() {
    if (!busy_) {
        start();
        return;
    }
    pending_ = true;
    if (!dragging_) progress_->cancel();
}

void JobController::set_busy(bool busy) {
    if (busy == busy_) return;
    busy_ = busy;
    Q_EMIT busy_changed();
}

void JobController::start() {
    pending_ = false;
    progress_ = std::make_shared<Progress>();
    const quint64 run = ++run_;
    set_busy(true);
    auto work = [this, run, job = history_.job(), stop_after = stop_after_, progress = progress_,
                 evaluator = evaluator_] {
        auto post = [this](auto call) { QMetaObject::invokeMethod(this, std::move(call), Qt::QueuedConnection); };
        auto evaluation = evaluator->evaluate(job, *progress, stop_after);
        // Parts are shown even where the steps fail.
        auto outcome = std::make_shared<Outcome>();
        std::map<std::string, ReadyMesh> ready;
        for (const Part& part : job.parts) {
            const auto known = ready_.find(part.id);
            ready[part.id] =
                known != ready_.end() && known->second.mesh == part.mesh ? known->second : make_ready(part.mesh);
            if (!(ready[part.id].inspected_at == part.placement)) {
                ready[part.id].inspection = nullptr;
                ready[part.id].inspected_at = part.placement;
            }
        }
        auto inspect_part = [&](const Part& part) {
            ReadyMesh& r = ready[part.id];
            if (r.inspection) return;
            if (auto inspection = inspect(part.placed(), *progress))
                r.inspection = std::make_shared<const Inspection>(std::move(*inspection));
        };
        // Waiting parts are looked at one by one; where a step fails, so are all, to show which and why.
        for (const Part* idle : job.idle_parts()) inspect_part(*idle);
        if (!evaluation && !evaluation.error().is_cancel())
            for (const Part& part : job.parts) inspect_part(part);
        ready_ = ready;
        outcome->parts = std::move(ready);
        if (const auto base = outcome->parts.find(job.base); base != outcome->parts.end())
            outcome->base_measures = base->second.measures;
        if (!evaluation) {
            post([this, run, outcome, error = evaluation.error()] { finished(run, outcome, error); });
            return;
        }
        outcome->evaluation = std::make_shared<const Evaluation>(std::move(*evaluation));
        const Mesh& mesh = outcome->evaluation->combined.mesh;
        outcome->result = make_ready({outcome->evaluation, &mesh});
        post([this, run, outcome] { finished(run, outcome, std::nullopt); });
        if (!outcome->evaluation->has_base) {
            post([this, run] { finished_inspection(run, nullptr); });
            return;
        }
        std::vector<Inspection> pieces;
        const Combined& combined = outcome->evaluation->combined;
        for (std::size_t k = 0; k < combined.pieces(); ++k) {
            auto inspection = inspect(combined.piece(k), *progress);
            if (!inspection) break;
            pieces.push_back(std::move(*inspection));
        }
        auto value = pieces.size() == combined.pieces() ? std::make_shared<const Inspection>(joined(std::move(pieces)))
                                                        : nullptr;
        post([this, run, value] { finished_inspection(run, value); });
    };
    QMetaObject::invokeMethod(&worker_, std::move(work), Qt::QueuedConnection);
}

void JobController::finished(quint64 run, std::shared_ptr<const Outcome> outcome, std::optional<Error> error) {
    if (run != run_) return;
    const bool cancelled = error && error->is_cancel();
    if (!cancelled) {
        if (error && outcome_ && !outcome->evaluation) {  // keep the last result in sight
            auto kept = std::make_shared<Outcome>(*outcome);
            kept->evaluation = outcome_->evaluation;
            kept->result = outcome_->result;
            outcome = kept;
        }
        outcome_ = std::move(outcome);
        error_ = error;
        Q_EMIT evaluated();
        if (error) Q_EMIT failed(*error);
    }
    if (error) {
        if (pending_)
            start();
        else
            set_busy(false);
    } else if (pending_ && dragging_) {
        progress_->cancel();  // no time to inspect while the part moves on
    }
}

void JobController::finished_inspection(quint64 run, std::shared_ptr<const Inspection> inspection) {
    if (run != run_) return;
    if (!progress_->cancelled()) {
        inspection_ = std::move(inspection);
        Q_EMIT inspected();
    }
    if (pending_)
        start();
    else
        set_busy(false);
}

}  // namespace anvil::app
