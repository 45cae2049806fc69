#include "app/job_controller.h"

#include <QFile>
#include <QFileInfo>
#include <set>

#include "core/base/memory.h"
#include "core/io/mesh_file.h"
#include "core/job/job_file.h"
#include "core/mesh/colouring.h"

namespace anvil::app {
namespace {

/// Meshes of more faces than this are shown first and looked at then, what is cheap to find first.
constexpr std::size_t large_mesh = 50'000;

/// `shown`: the same mesh as it is to be drawn, where that differs.
ReadyMesh make_ready(std::shared_ptr<const Mesh> mesh, const Mesh* shown = nullptr) {
    ReadyMesh ready;
    ready.given = mesh;
    ready.measures = std::make_shared<const Measures>(measure(welded(*mesh)));
    ready.display = std::make_shared<const DisplayMesh>(make_display(shown ? *shown : *mesh));
    ready.picker = std::make_shared<const Picker>(*mesh);
    ready.mesh = std::move(mesh);
    return ready;
}

/// The crossing curves that each operand has a part in.
std::map<std::string, std::shared_ptr<const DisplayMesh>> curves_by_part(const Evaluation& evaluation) {
    std::map<std::string, std::vector<std::vector<Vec3>>> lines;
    for (const CrossingCurve& curve : evaluation.combined->curves)
        for (const std::uint32_t o : std::set{curve.a, curve.b}) {
            auto& line = lines[evaluation.operand_parts[o]].emplace_back(curve.points);
            if (curve.closed) line.push_back(curve.points.front());
        }
    std::map<std::string, std::shared_ptr<const DisplayMesh>> out;
    for (const auto& [part, list] : lines) out[part] = std::make_shared<const DisplayMesh>(make_display_lines(list));
    return out;
}

std::shared_ptr<const DisplayMesh> rims(const Evaluation& evaluation) {
    std::vector<std::vector<Vec3>> lines;
    for (const ClosedHole& hole : evaluation.combined->closed_holes) {
        lines.push_back(hole.rim);
        lines.back().push_back(hole.rim.front());
    }
    return lines.empty() ? nullptr : std::make_shared<const DisplayMesh>(make_display_lines(lines));
}

/// Each piece prints by itself, so each gets a file of its own. Returns what was done, for the hint line.
Result<QString> write_pieces(const Combined& combined, const QString& file) {
    const std::size_t pieces = combined.pieces();
    const QFileInfo info(file);
    const QString beside = info.path() + "/" + info.completeBaseName();
    for (std::size_t k = 0; k < pieces; ++k) {
        const QString name = pieces == 1 ? file : QString("%1-%2.%3").arg(beside).arg(k + 1).arg(info.suffix());
        if (auto written = write_mesh(combined.piece(k), name.toStdString()); !written) return written.error();
    }
    const QString rounded =
        combined.largest_move > 0
            ? " " + JobController::tr("Rounding moved points by %1 mm at most.").arg(combined.largest_move, 0, 'g', 2)
            : QString();
    if (pieces == 1)
        return JobController::tr("Exported %1 faces to %2.").arg(combined.mesh.faces.size()).arg(file) + rounded;
    return JobController::tr("Exported %1 pieces to %2-1.%3 and so on.").arg(pieces).arg(beside, info.suffix()) +
           rounded;
}

/// Parts that are looked at one by one: those that wait, were mended, or have a remark; where a step fails all are, to
/// show which and why.
std::vector<std::string> parts_to_inspect(const Job& job, const Result<Evaluation>& evaluation) {
    std::set<std::string> remarkable;
    if (evaluation) {
        if (!evaluation->base_note.empty()) remarkable.insert(job.base);
        for (const StepOutcome& row : evaluation->steps)
            if (!row.note.empty()) remarkable.insert(row.part);
    }
    const auto idle = job.idle_parts();
    const bool failed = evaluation ? evaluation->first_error() != nullptr : !evaluation.error().is_cancel();
    std::vector<std::string> out;
    for (const Part& part : job.parts)
        if (failed || !part.mendings.empty() || remarkable.contains(part.id) ||
            std::ranges::find(idle, &part) != idle.end())
            out.push_back(part.id);
    return out;
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
    first_run_ = run_ + 1;
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

void JobController::deliver(const QString& file) {
    if (error_) {
        Q_EMIT failed(*error_);
        return;
    }
    if (busy_ || !outcome_ || !outcome_->evaluation) {
        Q_EMIT failed({ErrorCode::cannot_write, "the result is still being worked out; try again when it is shown",
                       file.toStdString()});
        return;
    }
    if (outdated_) {
        Q_EMIT failed({ErrorCode::cannot_write,
                       "the result shown is not that of the job as it is now, since working it out was stopped; change "
                       "something, or undo, and export when it is shown",
                       file.toStdString()});
        return;
    }
    progress_ = std::make_shared<Progress>();
    const quint64 run = ++run_;
    delivering_ = true;
    set_busy(true);
    auto work = [this, run, file, job = history_.job(), stop_after = stop_after_, progress = progress_,
                 evaluator = evaluator_, shown = outcome_] {
        const Result<QString> said = with_memory_checked([&]() -> Result<QString> {
            const auto format = format_of(file.toStdString());
            if (!format) return format.error();
            if (!is_single_precision(*format)) return write_pieces(*shown->evaluation->combined, file);
            // What was shown is in double precision; rounding it again could make faces cross.
            const auto evaluation =
                evaluator->evaluate(job, *progress, stop_after, settle_options(job.settings, Precision::single_precision));
            if (!evaluation) return evaluation.error();
            return write_pieces(*evaluation->combined, file);
        });
        if (said)
            post([this, run, text = *said] { finished_delivery(run, text, std::nullopt); });
        else
            post([this, run, error = said.error()] { finished_delivery(run, {}, error); });
    };
    QMetaObject::invokeMethod(&worker_, std::move(work), Qt::QueuedConnection);
}

void JobController::finished_delivery(quint64 run, const QString& said, std::optional<Error> error) {
    if (run != run_) return;
    delivering_ = false;
    ended(run);
    if (!error)
        Q_EMIT delivered(said);
    else if (!error->is_cancel())
        Q_EMIT failed(*error);
}

void JobController::ask(const QString& about, std::function<void(Progress&)> work, std::function<void()> then,
                        std::function<void()> dropped) {
    auto& asked = questions_[about];
    if (asked) asked->cancel();
    auto progress = asked = std::make_shared<Progress>();
    ++unanswered_;
    auto run = [this, about, progress, work = std::move(work), then = std::move(then), dropped = std::move(dropped)] {
        if (!progress->cancelled()) {
            const auto done = with_memory_checked([&]() -> Result<void> {
                work(*progress);
                return {};
            });
            if (!done) {
                progress->cancel();  // nothing to show
                post([this, error = done.error()] { Q_EMIT failed(error); });
            }
        }
        post([this, about, progress, then, dropped] {
            --unanswered_;
            if (const auto at = questions_.find(about); at != questions_.end() && at->second == progress)
                questions_.erase(at);
            if (!progress->cancelled())
                then();
            else if (dropped)
                dropped();
        });
    };
    QMetaObject::invokeMethod(&worker_, std::move(run), Qt::QueuedConnection);
}

void JobController::read(const QString& file, std::function<void(Job)> then) {
    if (delivering_) {  // which would be dropped without a word
        Q_EMIT failed({ErrorCode::cannot_open, "an export is still being written; open this when it is done",
                       file.toStdString()});
        return;
    }
    stop();
    progress_ = std::make_shared<Progress>();
    const quint64 run = ++run_;
    outdated_ = true;  // of what was stopped
    inspecting_ = false;
    set_busy(true);
    auto work = [this, run, file, then = std::move(then), progress = progress_] {
        auto job = with_memory_checked([&] { return read_job(file.toStdString(), *progress); });
        post([this, run, then, progress, job = std::make_shared<Result<Job>>(std::move(job))] {
            // It may have been stopped after it was read.
            finished_reading(run, progress->cancelled() ? Result<Job>(cancelled_error()) : std::move(*job), then);
        });
    };
    QMetaObject::invokeMethod(&worker_, std::move(work), Qt::QueuedConnection);
}

void JobController::finished_reading(quint64 run, Result<Job> job, const std::function<void(Job)>& then) {
    if (run != run_) return;
    pending_ = false;
    set_busy(false);
    if (job) then(std::move(*job));
    if (!busy_ && outdated_) schedule();  // the job that is still open was stopped for it
    if (!job && !job.error().is_cancel()) Q_EMIT failed(job.error());
}

void JobController::write_copy(const QString& file) {
    if (!history_.is_changed() || job().parts.empty()) return;
    copy_ = file;
    if (!copy_wanted_) copy_wanted_ = std::make_shared<std::atomic<bool>>(true);
    ++unanswered_;
    auto work = [this, file, job = history_.job(), wanted = copy_wanted_] {
        Result<void> written;
        if (*wanted) {
            written = with_memory_checked([&] { return write_job(job, file.toStdString()); });
            if (!*wanted) QFile::remove(file);  // dropped meanwhile
        }
        post([this, written] {
            --unanswered_;
            if (!written) Q_EMIT failed(written.error());
        });
    };
    QMetaObject::invokeMethod(&worker_, std::move(work), Qt::QueuedConnection);
}

void JobController::drop_copy() {
    if (copy_wanted_) *copy_wanted_ = false;
    copy_wanted_ = nullptr;
    if (!copy_.isEmpty()) QFile::remove(copy_);
}

std::shared_ptr<const Mended> JobController::mended(const std::string& part, const std::string& mending) const {
    const Part* known = job().find_part(part);
    if (!known || !outcome_) return nullptr;
    const auto ready = outcome_->parts.find(part);
    if (ready == outcome_->parts.end() || ready->second.mendings.size() != known->mendings.size()) return nullptr;
    for (std::size_t i = 0; i < known->mendings.size(); ++i)
        if (known->mendings[i].id == mending) return ready->second.mendings[i];
    return nullptr;
}

const Error* JobController::row_error(const std::string& row) const {
    if (!outcome_ || !outcome_->evaluation) return nullptr;
    const Evaluation& e = *outcome_->evaluation;
    if (e.base_error && e.base_error->row == row) return &*e.base_error;
    for (const StepOutcome& step : e.steps)
        if (step.error && step.step == row) return &*step.error;
    for (const auto& [id, part] : e.mended)
        for (const std::optional<Error>& error : part.errors)
            if (error && error->row == row) return &*error;
    return nullptr;
}

const Question* JobController::question(const std::string& part, const std::string& mending) const {
    if (!outcome_) return nullptr;
    const auto ready = outcome_->parts.find(part);
    if (ready == outcome_->parts.end() || !ready->second.question) return nullptr;
    const OpenQuestion& open = *ready->second.question;
    return open.mending == mending ? &open.question : nullptr;
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
    for (const auto& [about, question] : questions_) question->cancel();
}

void JobController::schedule() {
    outdated_ = true;
    if (!busy_) {
        start();
        return;
    }
    pending_ = true;
    // What is dragged is worked out to its end, so that something is seen; nothing else is.
    if ((!dragging_ || inspecting_) && !delivering_) progress_->cancel();
}

void JobController::set_busy(bool busy) {
    if (busy == busy_) return;
    busy_ = busy;
    Q_EMIT busy_changed();
}

void JobController::start() {
    pending_ = inspecting_ = false;
    progress_ = std::make_shared<Progress>();
    const quint64 run = ++run_;
    set_busy(true);
    auto work = [this, run, job = history_.job(), stop_after = stop_after_, progress = progress_,
                 evaluator = evaluator_, shown = outcome_] {
        const auto done = with_memory_checked([&]() -> Result<void> {
            evaluate_and_show(run, job, stop_after, *progress, *evaluator);
            return {};
        });
        if (!done)
            post([this, run, kept = shown ? shown : std::make_shared<const Outcome>(), error = done.error()] {
                show_outcome(run, kept, error);
                ended(run);
            });
    };
    QMetaObject::invokeMethod(&worker_, std::move(work), Qt::QueuedConnection);
}

/// The parts as the steps see them, ready to draw; what is known of them from the last time is taken over.
/// `evaluation`: null where there is none.
std::map<std::string, ReadyMesh> JobController::ready_parts(const Job& job, const Evaluation* evaluation) const {
    std::map<std::string, ReadyMesh> ready;
    for (const Part& part : job.parts) {
        const auto known = ready_.find(part.id);
        ReadyMesh& r = ready[part.id];
        if (!evaluation && known != ready_.end() && known->second.given == part.mesh) {
            r = known->second;
            continue;
        }
        const auto at =
            evaluation ? evaluation->mended.find(part.id) : std::map<std::string, MendedPart>::const_iterator();
        const MendedPart* mended = evaluation && at != evaluation->mended.end() ? &at->second : nullptr;
        const std::shared_ptr<const Mesh> mesh = mended ? mended->mesh : part.mesh;
        r = known != ready_.end() && known->second.mesh == mesh ? known->second : make_ready(mesh);
        r.mendings = mended ? mended->done : std::vector<std::shared_ptr<const Mended>>();
        if (known != ready_.end() && known->second.given == part.mesh) {
            r.given_measures = known->second.given_measures;
            r.given_display = known->second.given_display;
        } else if (mesh == part.mesh) {
            r.given_measures = r.measures;
            r.given_display = r.display;
        } else {
            r.given_measures = std::make_shared<const Measures>(measure(welded(*part.mesh)));
            r.given_display = std::make_shared<const DisplayMesh>(make_display(*part.mesh));
        }
        r.given = part.mesh;
        r.question = mended ? mended->question : std::nullopt;
    }
    return ready;
}

/// On the worker's thread: what is found is posted to the owner's, what can be shown at once before what is looked for.
void JobController::evaluate_and_show(quint64 run, const Job& job, std::size_t stop_after, Progress& progress,
                                      Evaluator& evaluator) {
    auto evaluation = evaluator.evaluate(job, progress, stop_after);
    // Parts are shown even where the steps fail.
    auto outcome = std::make_shared<Outcome>();
    ready_ = ready_parts(job, evaluation ? &*evaluation : nullptr);
    std::vector<std::string> large;
    for (const std::string& id : parts_to_inspect(job, evaluation))
        if (ReadyMesh& part = ready_[id]; part.mesh->faces.size() > large_mesh)
            large.push_back(id);
        else
            inspect_part(job, part, progress, {});
    outcome->parts = ready_;
    if (const auto base = outcome->parts.find(job.base); base != outcome->parts.end())
        outcome->base_measures = base->second.given_measures;
    std::optional<Error> error;
    if (evaluation) {
        outcome->evaluation = std::make_shared<const Evaluation>(std::move(*evaluation));
        const Combined& combined = *outcome->evaluation->combined;
        std::optional<Mesh> coloured;
        if (combined.pieces() > 1 && combined.mesh.material.empty())
            coloured = coloured_by_piece(combined.mesh, combined.piece_start);
        outcome->result = make_ready({outcome->evaluation, &combined.mesh}, coloured ? &*coloured : nullptr);
        outcome->curves = curves_by_part(*outcome->evaluation);
        outcome->closed_holes = rims(*outcome->evaluation);
        if (const Error* first = outcome->evaluation->first_error()) error = *first;
    } else {
        error = evaluation.error();
    }
    post([this, run, outcome, error] { show_outcome(run, outcome, error); });
    if (outcome->evaluation) inspect_result(run, job, *outcome->evaluation, progress);
    for (const std::string& id : large) {
        auto show = [&](std::shared_ptr<const Inspection> found) {
            post([this, run, id, found] { show_part_inspection(run, id, found); });
        };
        ReadyMesh& part = ready_[id];
        inspect_part(job, part, progress,
                     [&](const Inspection& first) { show(std::make_shared<const Inspection>(first)); });
        if (part.inspection) show(part.inspection);
    }
    post([this, run] { ended(run); });
}

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
    post([this, run, value = std::make_shared<const Inspection>(joined(std::move(pieces)))] {
        show_inspection(run, value);
    });
}

void JobController::show_outcome(quint64 run, std::shared_ptr<const Outcome> outcome, std::optional<Error> error) {
    if (run != run_ || run < first_run_ || (error && error->is_cancel())) return;
    if (error && outcome_ && !outcome->evaluation) {  // keep the last result in sight
        auto kept = std::make_shared<Outcome>(*outcome);
        kept->evaluation = outcome_->evaluation;
        kept->result = outcome_->result;
        outcome = kept;
    }
    outcome_ = std::move(outcome);
    error_ = error;
    outdated_ = pending_;
    inspecting_ = true;
    Q_EMIT evaluated();
    if (error) {
        if (!error->row.empty()) error->text += "; it is left out until that is mended";
        Q_EMIT failed(*error);
    }
    if (pending_ && dragging_) progress_->cancel();  // no time to inspect while the part moves on
}

void JobController::show_inspection(quint64 run, std::shared_ptr<const Inspection> inspection) {
    if (run != run_ || run < first_run_ || progress_->cancelled()) return;
    inspection_ = std::move(inspection);
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

void JobController::ended(quint64 run) {
    if (run != run_) return;
    if (pending_)
        start();
    else
        set_busy(false);
}

}  // namespace anvil::app
