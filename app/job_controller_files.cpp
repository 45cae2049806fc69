// Jobs, bodies and results from file to file, on the worker's thread.
#include <QFile>
#include <QFileInfo>

#include "app/job_controller.h"
#include "app/words.h"
#include "core/base/memory.h"
#include "core/io/mesh_file.h"
#include "core/job/export_files.h"
#include "core/job/job_file.h"
#include "core/mesh/weld.h"

namespace anvil::app {
namespace {

/// For the hint line.
QString said_of(const Exported& done, const Combined& combined) {
    auto base = [](const std::string& file) { return QFileInfo(QString::fromStdString(file)).fileName(); };
    const QString first = QString::fromStdString(done.files.front());
    const QString faces = counted(done.faces, JobController::tr("face"), JobController::tr("faces"));
    QString out;
    if (done.files.size() > 1) {
        constexpr std::size_t most = 3;
        QStringList more;
        for (std::size_t k = 1; k < std::min(done.files.size(), most); ++k) more << base(done.files[k]);
        if (done.files.size() > most) more << JobController::tr("%1 more").arg(done.files.size() - most);
        out = JobController::tr("Exported %1 files: %2, %3.").arg(done.files.size()).arg(first, more.join(", "));
    } else if (done.bodies > 1) {
        out = JobController::tr("Exported %1 with %2 to %3.")
                  .arg(counted(done.bodies, JobController::tr("body"), JobController::tr("bodies")), faces, first);
    } else {
        out = JobController::tr("Exported %1 to %2.").arg(faces, first);
    }
    if (combined.largest_move > 0)
        out += " " + JobController::tr("Rounding moved points by %1 mm at most.").arg(combined.largest_move, 0, 'g', 2);
    return out;
}

Result<QString> write_results(const Job& job, const Evaluation& evaluation, const QString& file) {
    const auto done = export_files(job, evaluation, file.toStdString());
    if (!done) return done.error();
    return said_of(*done, *evaluation.combined);
}

}  // namespace

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
            const Part* delivered = job.find_part(job.work());
            const bool shown_as_written = !is_single_precision(*format) && delivered && delivered->bench.is_identity();
            if (shown_as_written) return write_results(job, *shown->evaluation, file);
            // What was shown is in double precision, and in its list; rounding it again could make faces cross.
            const auto evaluation = evaluator->evaluate(
                job, *progress, stop_after,
                settle_options(job.settings, is_single_precision(*format) ? Precision::single_precision
                                                                          : Precision::double_precision));
            if (!evaluation) return evaluation.error();
            return write_results(job, *evaluation, file);
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

void JobController::read(const QString& file, std::function<void(Job, std::vector<LostPart>)> then) {
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
        std::vector<LostPart> lost;
        auto job = with_memory_checked([&] { return read_job_in_part(file.toStdString(), *progress, lost); });
        post([this, run, then, progress, lost, job = std::make_shared<Result<Job>>(std::move(job))] {
            // It may have been stopped after it was read.
            finished_reading(run, progress->cancelled() ? Result<Job>(cancelled_error()) : std::move(*job), lost, then);
        });
    };
    QMetaObject::invokeMethod(&worker_, std::move(work), Qt::QueuedConnection);
}

void JobController::finished_reading(quint64 run, Result<Job> job, std::vector<LostPart> lost,
                                     const std::function<void(Job, std::vector<LostPart>)>& then) {
    if (run != run_) return;
    pending_ = false;
    set_busy(false);
    if (job) then(std::move(*job), std::move(lost));
    if (!busy_ && outdated_) schedule();  // the job that is still open was stopped for it
    if (!job && !job.error().is_cancel()) Q_EMIT failed(job.error());
}

void JobController::read_bodies(const QStringList& files, std::function<void(std::vector<BodyOfFile>)> then) {
    auto out = std::make_shared<std::vector<BodyOfFile>>();
    auto read = [files, out]() -> Result<void> {
        for (const QString& file : files) {
            auto bodies = read_meshes(file.toStdString());
            if (!bodies) return bodies.error();
            const bool unitless = !names_unit(*format_of(file.toStdString()));
            for (const NamedMesh& body : *bodies)
                out->push_back({body.name, std::make_shared<const Mesh>(welded(body.mesh)), unitless});
        }
        return {};
    };
    run_on(readers_, std::move(read), [out, then = std::move(then)](bool done) {
        if (done) then(std::move(*out));
    });
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

}  // namespace anvil::app
