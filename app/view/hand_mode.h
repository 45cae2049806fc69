#pragma once

#include <QObject>
#include <deque>

#include "app/job_controller.h"
#include "core/spatial/outline_pick.h"

namespace anvil::app {

/// How elements are chosen with the mouse.
enum class Gesture { click, box, lasso, brush };

/// What is chosen, to draw: faces, or lines; null where it is nothing, or points.
std::shared_ptr<const DisplayMesh> display_of(const Mesh& mesh, const Selection& selection);

/// Work by hand on one body: what is chosen of it, and the tools. Each use of a tool goes into the job as an edit,
/// which its row switches off. Or what a step is used on is chosen anew, on the body before it.
class HandMode : public QObject {
    Q_OBJECT
  public:
    explicit HandMode(JobController& controller, QObject* parent = nullptr);

    /// On the body that all of a part's list leaves; `stands`: where what is in that list stands in the job.
    void start(const std::string& list, const Transform& stands);
    /// To choose anew what a step, or its copies, are used on or hold on to. Precondition: the kind has such a field,
    /// the body before it is there.
    void choose_anew(const Row& row);
    /// The step that it is done for; empty while tools are used.
    const std::string& chosen_for() const { return chosen_for_; }
    /// Whether a click takes all edges that go on along creases from the nearest one.
    bool takes_regions() const { return takes_regions_ && kind() == ElementKind::faces; }
    bool takes_lines() const { return takes_lines_ && kind() == ElementKind::edges; }
    /// Takes what is chosen for that step, and ends.
    void take();
    void stop();
    bool is_on() const { return !list_.empty(); }
    /// Id of the part whose list gets the edits.
    const std::string& list() const { return list_; }
    const Transform& stands() const { return stands_; }
    /// The body, as it is shown; in the coordinates of the list. Null while it is not there.
    const std::shared_ptr<const Mesh>& body() const { return of_; }
    /// Null while it is not there.
    const Picker* picker() const { return picker_.get(); }
    /// The body, welded.
    const Mesh& mesh() const { return now_.ground->mesh; }

    const Selection& selection() const { return now_.selection; }
    ElementKind kind() const { return now_.selection.kind; }
    /// What is chosen goes over into elements of the other kind.
    void set_kind(ElementKind kind);
    Gesture gesture() const { return gesture_; }
    void set_gesture(Gesture gesture);
    bool visible_only() const { return visible_only_; }
    void set_visible_only(bool on);
    FillStyle fill() const { return fill_; }
    void set_fill(FillStyle fill) { fill_ = fill; }
    /// Of rebuilt regions, mm; 0: by their size.
    void set_cell(double cell) { cell_ = cell; }

    enum class How { replace, add, take };
    /// Shift adds, Ctrl takes away.
    static How how_of(Qt::KeyboardModifiers keys) {
        return keys & Qt::ControlModifier ? How::take : keys & Qt::ShiftModifier ? How::add : How::replace;
    }
    void choose(std::span<const Element> elements, How how);
    /// The element that is nearest to where a face was hit.
    void choose_at(FaceId face, const Vec3& at, How how);
    void choose_in(const ViewMap& view, std::span<const Point2> outline, How how);
    void choose_findings(const std::shared_ptr<const Inspection>& inspection, FindingKind finding);
    void connected();
    void region();
    void chain();
    void grow();
    void shrink();
    void invert();
    void none();

    /// Uses a tool on what is chosen; what became of it is told by `said` once it is worked out.
    void use(HandTool tool);

    /// What is chosen, to draw; points one by one.
    std::shared_ptr<const DisplayMesh> display() const { return now_.display; }
    std::vector<Vec3> chosen_points() const;

  Q_SIGNALS:
    void changed();  ///< on or off, what is chosen, or how
    void said(const QString& text);

  private:
    /// The body, welded, and its creases once they are asked for.
    struct Ground {
        Mesh mesh;
        std::optional<Selection> creases{};
        const Selection& its_creases();
    };
    struct Now {
        std::shared_ptr<Ground> ground = std::make_shared<Ground>();
        Selection selection{};
        std::shared_ptr<const DisplayMesh> display{};
    };
    using Change = std::function<void(Now&)>;

    void take_mesh();
    void go_over_to(const std::shared_ptr<const Mesh>& body, const std::shared_ptr<const Picker>& picker);
    void change(Change how);
    /// The same for the selection alone.
    void choose_by(std::function<std::vector<Element>(Ground&, ElementKind)> which, How how);
    void select_by(std::function<Selection(const Mesh&, const Selection&)> how);
    /// Behind all changes that are waiting.
    void in_turn(std::function<void()> action);
    void do_waiting();
    void begin(ElementKind kind);
    const Step* step_chosen_for() const;
    /// What is chosen for that step is a value of this; nothing where it is gone.
    struct Target {
        const Kind* kind = nullptr;
        const Field* field = nullptr;
        bool of_copies = false;
    };
    static Target target_of(const Step& step);
    void take_selection();
    void take_held(const Step& step, const Target& target);
    void use_selection(HandTool tool);
    void set_value(const std::string& step, const Target& target, Value value);
    JobController& controller_;
    std::string list_;
    Transform stands_ = Transform::Identity();
    std::string chosen_for_;  // id of a step
    std::string edit_;        // id of the step that the last use is
    std::shared_ptr<const Mesh> of_;
    std::shared_ptr<const Picker> picker_;
    Now now_;
    /// Done one after the other; of a large body on another thread.
    struct Waiting {
        Change change{};
        std::function<void()> action{};
    };
    std::deque<Waiting> waiting_;
    bool at_work_ = false;
    int begun_ = 0;  // how often the body was chosen anew: what was under way for the one before is dropped
    Gesture gesture_ = Gesture::click;
    bool visible_only_ = true, waits_ = false;
    bool takes_regions_ = false;  // a click takes all faces up to the creases round the one under it
    bool takes_lines_ = false;    // a click takes all edges that go on from the one under it
    FillStyle fill_ = FillStyle::smallest;
    double cell_ = 0;
};

}  // namespace anvil::app
