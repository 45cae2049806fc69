#include "app/job_controller.h"

#include <set>

#include "app/ready_meshes.h"
#include "app/user_settings.h"
#include "core/base/memory.h"
#include "core/job/links.h"
#include "core/mesh/colouring.h"
#include "core/mesh/measures.h"

namespace anvil::app {
namespace {

constexpr std::size_t most_pieces_apart = 200;

/// Each piece of a body by itself.
std::vector<std::shared_ptr<const DisplayMesh>> pieces_shown(const Combined& combined, const Mesh& coloured) {
    std::vector<std::shared_ptr<const DisplayMesh>> out;
    const auto& material = coloured.material.raw();
    for (std::size_t k = 0; k < combined.pieces(); ++k) {
        Mesh piece = combined.piece(k);
        piece.materials = coloured.materials;
        piece.material.raw().assign(material.begin() + static_cast<long>(combined.piece_start[k]),
                                    material.begin() + static_cast<long>(combined.piece_start[k + 1]));
        out.push_back(std::make_shared<const DisplayMesh>(make_display(piece)));
    }
    return out;
}

/// Whether making it ready takes longer than a hand waits.
bool is_large(const Outcome* outcome) {
    constexpr std::size_t large = 20'000;  // faces
    return outcome && outcome->result.mesh && outcome->result.mesh->faces.size() > large;
}

/// Parts that are looked at one by one: those that wait, have steps of their own, or have a remark; where a step fails
/// all are, to show which and why.
std::vector<std::string> parts_to_inspect(const Job& job, const Result<Evaluation>& evaluation) {
    std::set<std::string> wanted;
    if (evaluation)
        for (const Remark& remark : evaluation->remarks) wanted.insert(remark.row.part);
    for (const Part* part : idle_parts(job)) wanted.insert(part->id);
    const bool failed = evaluation ? evaluation->first_error.has_value() : !evaluation.error().is_cancel();
    std::vector<std::string> out;
    for (const auto& part : job.parts)
        if (part->id != job.work() && (failed || !part->steps.empty() || wanted.contains(part->id)))
            out.push_back(part->id);
    return out;
}

}  // namespace

JobController::JobController(QObject* parent)
    : QObject(parent), evaluator_(std::make_shared<Evaluator>()), ready_(std::make_shared<ReadyMeshes>()) {
    readers_.setMaxThreadCount(1);
    aside_.setMaxThreadCount(1);
    worker_.moveToThread(&thread_);
    thread_.start();
    set_budget(saved_budget());
}

JobController::~JobController() {
    stop();
    thread_.quit();
    thread_.wait();
    readers_.waitForDone();
    aside_.waitForDone();
}

void JobController::change(Job next, const QString& name, const QString& merge) {
    history_.change(std::move(next), name.toStdString(), merge.toStdString());
    list_rows();
    Q_EMIT job_changed();
    schedule();
}
void JobController::end_merge() { history_.end_merge(); }
void JobController::take_back_drag() {
    if (!history_.take_back_merge("drag")) return;
    list_rows();
    Q_EMIT job_changed();
    schedule();
}
void JobController::undo() {
    history_.undo();
    list_rows();
    Q_EMIT job_changed();
    schedule();
}
void JobController::redo() {
    history_.redo();
    list_rows();
    Q_EMIT job_changed();
    schedule();
}

void JobController::open(Job job, const QString& file) {
    history_ = History(std::move(job));
    file_ = file;
    stop_after_ = ~std::size_t{0};
    list_rows();
    outcome_ = nullptr;
    inspection_ = nullptr;
    skins_.clear();
    error_.reset();
    first_run_ = run_ + 1;
    Q_EMIT job_changed();
    Q_EMIT inspected();
    schedule();
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

void JobController::follow_once(const Link& link,
                                std::function<void(std::shared_ptr<const Mesh>, const std::vector<PieceOf>&)> then) {
    struct Found {
        std::shared_ptr<const Mesh> body;
        std::vector<PieceOf> pieces;
        Error error;
    };
    auto found = std::make_shared<Found>();
    Job job = history_.job();
    const std::string id = add_link(job, "link", link, {});
    auto work = [found, job = std::move(job), id, stop_after = stop_after_,
                 evaluator = evaluator_](Progress& progress) {
        const auto done = evaluator->evaluate(job, progress, stop_after);
        if (!done) {
            found->error = done.error();
        } else if (const auto broken = done->broken.find(id); broken != done->broken.end()) {
            found->error = broken->second;
        } else {
            found->body = done->parts.at(id);
            found->pieces = pieces_of(*found->body, progress);
        }
    };
    ask("link", std::move(work), [this, found, then = std::move(then)] {
        if (found->body)
            then(found->body, found->pieces);
        else
            Q_EMIT failed(found->error);
    });
}

void JobController::run_on(QThreadPool& pool, std::function<Result<void>()> work, std::function<void(bool)> then) {
    ++unanswered_;
    pool.start([this, work = std::move(work), then = std::move(then)] {
        const auto done = with_memory_checked(work);
        post([this, then, done] {
            --unanswered_;
            if (!done) Q_EMIT failed(done.error());
            then(done.ok());
        });
    });
}

void JobController::aside(std::function<void()> work, std::function<void(bool)> then) {
    auto all = [work = std::move(work)]() -> Result<void> {
        work();
        return {};
    };
    run_on(aside_, std::move(all), std::move(then));
}

void JobController::set_stop_after(std::size_t count) {
    if (count == stop_after_) return;
    stop_after_ = count;
    list_rows();
    Q_EMIT job_changed();
    schedule();
}

void JobController::set_budget(std::size_t bytes) {
    budget_ = bytes;
    QMetaObject::invokeMethod(
        &worker_, [evaluator = evaluator_, bytes] { evaluator->kept().set_budget(bytes); }, Qt::QueuedConnection);
}

void JobController::stop() {
    pending_ = false;
    if (progress_) progress_->cancel();
    for (const auto& [about, question] : questions_) question->cancel();
}

void JobController::set_dragging(bool dragging) {
    dragging_ = dragging;
    if (!dragging && outcome_ && outcome_->quick) schedule();
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
                 evaluator = evaluator_, shown = outcome_, quick = dragging_ && is_large(outcome_.get())] {
        const auto done = with_memory_checked([&]() -> Result<void> {
            evaluate_and_show(run, job, stop_after, *progress, *evaluator, shown, quick);
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

/// On the worker's thread: what is found is posted to the owner's, what can be shown at once before what is looked for.
void JobController::evaluate_and_show(quint64 run, const Job& job, std::size_t stop_after, Progress& progress,
                                      Evaluator& evaluator, const std::shared_ptr<const Outcome>& before, bool quick) {
    auto evaluation = evaluator.evaluate(job, progress, stop_after, std::nullopt, ResultAt::its_list);
    // Parts are shown even where the steps fail.
    auto outcome = std::make_shared<Outcome>();
    ready_->begin_round(quick && before ? before->result.measures.get() : nullptr);
    outcome->quick = quick;
    std::map<std::string, ReadyMesh*> bodies;
    for (const auto& part : job.parts) {
        const auto* stored = std::get_if<StoredMesh>(&part->source);
        std::shared_ptr<const Mesh> given = stored ? stored->mesh : nullptr;
        if (evaluation && evaluation->given.contains(part->id)) given = evaluation->given.at(part->id);
        if (given) outcome->given[part->id] = ready_->measures_of(given);
        // What the part in work is before its last steps is not shown, but where it holds the base's body itself.
        if (part->id == job.work() && !part->has_own_body()) continue;
        if (evaluation && evaluation->parts.contains(part->id))
            bodies[part->id] = &ready_->of(evaluation->parts.at(part->id));
        else if (stored)
            bodies[part->id] = &ready_->of(stored->mesh);
    }
    std::vector<std::string> large;
    for (const std::string& id : parts_to_inspect(job, evaluation)) {
        const auto body = bodies.find(id);
        if (body == bodies.end()) continue;
        if (body->second->mesh->faces.size() > large_mesh)
            large.push_back(id);
        else
            inspect_part(job, *body->second, progress, {});
    }
    for (const auto& [id, body] : bodies) outcome->parts[id] = *body;
    if (const auto base = outcome->given.find(base_of(job)); base != outcome->given.end())
        outcome->base_measures = base->second;
    std::optional<Error> error;
    if (evaluation) {
        outcome->evaluation = std::make_shared<const Evaluation>(std::move(*evaluation));
        const Combined& combined = *outcome->evaluation->combined;
        std::optional<Mesh> coloured;
        if (combined.pieces() > 1 && combined.mesh.material.empty())
            coloured = coloured_by_piece(combined.mesh, combined.piece_start);
        outcome->result = ready_->of({outcome->evaluation, &combined.mesh}, coloured ? &*coloured : nullptr);
        if (coloured && combined.pieces() <= most_pieces_apart)
            outcome->pieces =
                quick && before && !before->pieces.empty() ? before->pieces : pieces_shown(combined, *coloured);
        for (const auto& [step, mesh] : outcome->evaluation->copies) outcome->copies[step] = ready_->of(mesh);
        for (const auto& [step, row] : outcome->evaluation->rows)
            if (row.cut && !row.cut->shown.faces.empty()) outcome->cuts[step] = ready_->of({row.cut, &row.cut->shown});
        for (const auto& [id, other] : outcome->evaluation->also) outcome->also[id] = ready_->of({other, &other->mesh});
        outcome->curves = curves_by_part(*outcome->evaluation, job.work());
        outcome->closed_holes = rims_of(*outcome->evaluation);
        error = outcome->evaluation->first_error;
    } else {
        error = evaluation.error();
    }
    outcome->kept_bytes = evaluator.kept().bytes();
    ready_->end_round();
    post([this, run, outcome, error] { show_outcome(run, outcome, error); });
    if (quick) {  // what comes next is on its way
        post([this, run] { ended(run); });
        return;
    }
    if (outcome->evaluation) inspect_result(run, job, *outcome->evaluation, progress);
    for (const std::string& id : large) {
        auto show = [&](std::shared_ptr<const Inspection> found) {
            post([this, run, id, found] { show_part_inspection(run, id, found); });
        };
        ReadyMesh& part = *bodies.at(id);
        inspect_part(job, part, progress,
                     [&](const Inspection& first) { show(std::make_shared<const Inspection>(first)); });
        if (part.inspection) show(part.inspection);
    }
    post([this, run] { ended(run); });
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

void JobController::ended(quint64 run) {
    if (run != run_) return;
    if (pending_)
        start();
    else
        set_busy(false);
}

}  // namespace anvil::app
