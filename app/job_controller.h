#pragma once

#include <QObject>
#include <QThread>
#include <QThreadPool>
#include <atomic>
#include <functional>
#include <map>
#include <memory>
#include <optional>

#include "core/inspect/inspect.h"
#include "core/job/edits.h"
#include "core/job/evaluate.h"
#include "core/job/history.h"
#include "core/job/job_file.h"
#include "core/job/skins_left.h"
#include "core/mesh/display.h"
#include "core/spatial/pick.h"

namespace anvil::app {

/// Meshes of more faces than this are shown first and looked at then, what is cheap to find first.
inline constexpr std::size_t large_mesh = 50'000;

/// A body made ready to draw and to pick.
struct ReadyMesh {
    std::shared_ptr<const Mesh> mesh;
    std::shared_ptr<const Measures> measures;
    std::shared_ptr<const DisplayMesh> display;
    std::shared_ptr<const Picker> picker;
    std::shared_ptr<const Inspection> inspection;  ///< of parts that wait on the bench, have steps, or have a remark;
                                                   ///< before they are placed. Of large ones it comes later
};

class ReadyMeshes;

/// A finished evaluation, all values, ready to show.
struct Outcome {
    std::shared_ptr<const Evaluation> evaluation;
    ReadyMesh result;  ///< in the coordinates of its list; it stands where that does: `JobController::result_stands`
    std::map<std::string, ReadyMesh> parts;                  ///< by part id: after all but their last combining steps
    std::vector<std::shared_ptr<const DisplayMesh>> pieces;  ///< of a result in several, each in a shade of its own
    std::map<std::string, ReadyMesh> also;    ///< by part id: of the other parts to deliver, where they lie
    std::map<std::string, ReadyMesh> copies;  ///< by step id: all copies of its operand, in its list
    std::map<std::string, ReadyMesh> cuts;    ///< by step id: what stands for a cut in the view, in its list
    std::map<std::string, std::shared_ptr<const Measures>> given;  ///< by part id: of the meshes as they came
    std::map<std::string, std::shared_ptr<const DisplayMesh>>
        curves;  ///< by part id, of cuts by step id: where its surface meets others'
    std::shared_ptr<const DisplayMesh> closed_holes;  ///< rims of the holes that were closed; null where there is none
    std::shared_ptr<const Measures> base_measures;    ///< of the base as it stands before any step
    std::size_t kept_bytes = 0;                       ///< about, of what is kept for the next change
    bool quick = false;  ///< while something is dragged: what is new cannot be picked, and is not inspected
};

/// What a row shows in the view, and where.
struct ShownBody {
    const ReadyMesh* ready = nullptr;  ///< null where it was not worked out
    Transform stands = Transform::Identity();
};

/// A decision that a treatment waits for: what comes before `first_waiting` in its plan is done, the rest is not.
struct OpenQuestion {
    RowId row;
    std::shared_ptr<const Mesh> from;  ///< what is mended
    Transform stands;                  ///< where that is, in the job
    Question question;
};

/// Of a row, for its mark.
enum class Verdict {
    none,     ///< it does not count, or was not looked at
    sound,    ///< it did what it was asked to, and what it leaves is print-ready
    caution,  ///< there is something to know, or to answer
    fault     ///< it was left out, or what it leaves has faults
};

/// Holds the job and its history, evaluates it on a thread of its own whenever it changes, and inspects each result.
/// Every signal is emitted on the owner's thread.
class JobController : public QObject {
    Q_OBJECT
  public:
    explicit JobController(QObject* parent = nullptr);
    ~JobController() override;

    const Job& job() const { return history_.job(); }
    const History& history() const { return history_; }
    /// The rows of the job sheet. They point into the job, and hold until it changes.
    const std::vector<Row>& rows() const { return rows_; }
    /// Null where there is none.
    const Row* row(const RowId& id) const { return find_row(rows_, id); }
    void change(Job next, const QString& name, const QString& merge = {});
    void end_merge();
    /// Takes back what was changed by dragging since the last `end_merge`.
    void take_back_drag();
    void undo();
    void redo();
    /// Takes a job that was read; its history starts here.
    void open(Job job, const QString& file);
    /// Saves to `file`; false, after `failed`, where that went wrong.
    bool save(const QString& file);
    QString file() const { return file_; }

    /// Writes the result to `file`, each piece to one of its own, settled for the precision that the format holds. Then
    /// `delivered` or `failed`.
    void deliver(const QString& file);

    /// So many rows of steps count, from the top; the rest wait below the stop line.
    std::size_t stop_after() const { return stop_after_; }
    bool is_below_stop(const Row& row) const { return row.step && below_.contains(row.step->id); }
    /// Last in a list; of the part in work in front of what waits below the stop line.
    Place end_of(const std::string& list) const;
    void set_stop_after(std::size_t count);

    /// Bytes that results may take which are kept for the next change.
    std::size_t budget() const { return budget_; }
    void set_budget(std::size_t bytes);

    /// While something is dragged, evaluations are finished rather than stopped and started again.
    /// Large bodies are then made ready to be shown only.
    void set_dragging(bool dragging);
    /// Stops the work under way; the last result stays.
    void stop();
    bool is_busy() const { return busy_; }
    Progress* progress() const { return progress_.get(); }

    /// Does what goes by no job on a thread of its own, one after the other, whatever the worker is at; then `then` on
    /// this one, whether it was done: where memory ran out it was not, which is told.
    void aside(std::function<void()> work, std::function<void(bool)> then);

    /// Does the work of a question on the worker's thread, behind what it is at, and then `then` on this one. A
    /// question about the same that is not answered yet is dropped for it, and so are all by `stop`: `dropped` then.
    void ask(const QString& about, std::function<void(Progress&)> work, std::function<void()> then,
             std::function<void()> dropped = {});

    /// Works out what a link follows, as things are, and its separate bodies; or `failed`.
    void follow_once(const Link& link,
                     std::function<void(std::shared_ptr<const Mesh>, const std::vector<PieceOf>&)> then);

    /// Reads a job on the worker's thread, in place of what it is at; what it gives goes to `then`. Where that cannot
    /// be read, or was stopped, `failed`, and the job stays as it was.
    void read(const QString& file, std::function<void(Job, std::vector<LostPart>)> then);
    /// A body of a file of meshes.
    struct BodyOfFile {
        std::string name;
        std::shared_ptr<const Mesh> mesh;  ///< welded
        bool unitless = false;             ///< its file names no unit
    };
    /// Reads all bodies of files, or none: `failed` tells why. On a thread of its own, one call after the other; what
    /// is worked out goes on.
    void read_bodies(const QStringList& files, std::function<void(std::vector<BodyOfFile>)> then);
    /// Writes a copy of the job on the worker's thread, unless nothing has changed since it was saved.
    void write_copy(const QString& file);
    /// A copy that is there already counts as the job's own.
    void take_copy(const QString& file) { copy_ = file; }
    /// Takes the copy away, also one that is still to be written.
    void drop_copy();

    std::shared_ptr<const Outcome> outcome() const { return outcome_; }
    std::shared_ptr<const Inspection> inspection() const { return inspection_; }
    /// The thin skins that a step's cutter has left in the result.
    std::vector<SkinLeft> skins_of(std::string_view step) const;
    /// Whether something that was asked is still to be answered.
    bool is_asked() const { return unanswered_ > 0; }

    /// What became of a step, by its id; null where it was not worked out yet.
    const RowOutcome* done(std::string_view step) const;
    /// What repairs of a step did; null where it is off, makes none, or was not worked out yet.
    std::shared_ptr<const Mended> mended(std::string_view step) const;
    /// What a step waits to be told; null where it waits for nothing.
    const Question* question(std::string_view step) const;
    /// The first decision that a row waits for.
    std::optional<OpenQuestion> open_question() const;
    ShownBody body_of(const Row& row) const;
    /// A part's body as all of its list leaves it: of the part in work the result. Null where it was not worked out.
    const ReadyMesh* body_of_list(const std::string& part) const;
    /// Where the result stands now, as the list of the part in work does.
    Transform result_stands() const { return rows_.empty() ? Transform(Transform::Identity()) : rows_.front().stands; }
    /// Why there is no result, or what the result was worked out without: the first of all such rows.
    std::optional<Error> error() const { return error_; }
    /// Why a row was left out; null where it was not.
    const Error* row_error(const Row& row) const;
    Verdict verdict(const Row& row) const;
    /// What a row did with the bodies before and after it: of an edit whose own are too large to be kept, its group's.
    const RowOutcome* shown(const Row& row) const;

  Q_SIGNALS:
    void job_changed();
    void evaluated();  ///< outcome() or error() is new
    void inspected();  ///< inspection() is new, or skins_of()
    void busy_changed();
    void failed(const anvil::Error& error);
    void delivered(const QString& said);  ///< what was written where

  private:
    void schedule();
    void start();
    void list_rows();
    void evaluate_and_show(quint64 run, const Job& job, std::size_t stop_after, Progress& progress,
                           Evaluator& evaluator, const std::shared_ptr<const Outcome>& before, bool quick);
    static void inspect_part(const Job& job, ReadyMesh& part, Progress& progress,
                             const std::function<void(const Inspection&)>& quick);
    void inspect_result(quint64 run, const Job& job, const Evaluation& evaluation, Progress& progress);
    /// Calls on the owner's thread, in the order in which they are posted.
    template <class Call>
    void post(Call call) {
        QMetaObject::invokeMethod(this, std::move(call), Qt::QueuedConnection);
    }
    void show_outcome(quint64 run, std::shared_ptr<const Outcome> outcome, std::optional<Error> error);
    void show_inspection(quint64 run, std::shared_ptr<const Inspection> inspection);
    void look_for_skins(quint64 run, const Job& job, const Evaluation& evaluation, double below, Progress& progress);
    void show_skins(quint64 run, std::vector<SkinLeft> skins);
    void show_part_inspection(quint64 run, const std::string& part, std::shared_ptr<const Inspection> inspection);
    void finished_reading(quint64 run, Result<Job> job, std::vector<LostPart> lost,
                          const std::function<void(Job, std::vector<LostPart>)>& then);
    void finished_delivery(quint64 run, const QString& said, std::optional<Error> error);
    void ended(quint64 run);
    void set_busy(bool busy);

    History history_;
    std::vector<Row> rows_;
    QString file_;
    std::size_t stop_after_ = ~std::size_t{0};
    std::size_t budget_;
    std::set<std::string> below_;          // ids of the steps below the stop line
    const Step* last_counting_ = nullptr;  // the step that makes the result; null where the base is that
    std::shared_ptr<const Outcome> outcome_;
    std::shared_ptr<const Inspection> inspection_;
    std::vector<SkinLeft> skins_;
    std::optional<Error> error_;

    QThread thread_;
    QThreadPool readers_, aside_;  // of one thread each
    void run_on(QThreadPool& pool, std::function<Result<void>()> work, std::function<void(bool)> then);
    QObject worker_;                        // lives on thread_; carries the calls there
    std::shared_ptr<Evaluator> evaluator_;  // used on thread_ only
    std::shared_ptr<ReadyMeshes> ready_;    // used on thread_ only
    std::shared_ptr<Progress> progress_;
    std::map<QString, std::shared_ptr<Progress>> questions_;
    int unanswered_ = 0;
    QString copy_;
    std::shared_ptr<std::atomic<bool>> copy_wanted_;
    quint64 run_ = 0;
    quint64 first_run_ = 0;    // of this job: what earlier ones find is about another
    bool outdated_ = true;     // the outcome is not that of the job as it is
    bool delivering_ = false;  // what is written is written whole, whatever changes meanwhile
    bool busy_ = false, pending_ = false, dragging_ = false;
    bool inspecting_ = false;  // the outcome of the present run is shown
};

}  // namespace anvil::app
