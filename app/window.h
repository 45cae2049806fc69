#pragma once

#include <QLockFile>
#include <QMainWindow>
#include <QTimer>
#include <functional>
#include <map>

#include "app/job_controller.h"
#include "app/view/viewport.h"

namespace anvil::app {

class HintLine;
class JobSheet;
class Ledger;
class SpreadRow;
class StepPanel;
class MendPanel;
class FieldPanel;
class Route;
class SidePanel;
class HandMode;
class HandStrip;
class QuestionStrip;
class RecoveryStrip;
class UnsavedStrip;
class UnitStrip;
class FindBox;
class FirstHints;
class FlushStrip;
class NoticeStrip;
class EmptyBench;

/// What a tool of the station Cut works on.
struct CutSubject {
    std::string list;  ///< id of the part in whose list the cut goes
    Transform stands;  ///< of that, in the job
    Box box;           ///< of the body, in its list
    QString name;      ///< of the part, in quotes
};

/// Where an outline is drawn: on a flat face that was met, or square to the view. In the job.
struct DrawingPlane {
    Vec3 origin, normal;
    std::optional<Viewport::Hit> on{};  ///< the face that was met
};

/// The one window: tool row, job sheet, view, ledger, hint line.
class Window : public QMainWindow {
    Q_OBJECT
  public:
    explicit Window(QWidget* parent = nullptr);
    ~Window() override;

    /// Jobs are opened in place of the present one, meshes are brought in beside what is there. What cannot be read is
    /// said in the hint line, and the job stays as it was.
    void open_files(const QStringList& files);
    void open_demo();
    void open_demo_scan();
    void choose(const RowId& row);
    /// Chooses the first row that is about a part.
    void choose_part(const std::string& part);
    /// Chooses the first row of a step.
    void choose_step(const std::string& step);
    void save_report(const QString& file);
    /// Puts repairs into a part's list, at the places that the options name, or everywhere.
    void mend_list(const std::string& list, const std::vector<Repair>& repairs, const MendOptions& options);
    /// Puts a treatment of that kind into the list that is at hand.
    void treat(const std::string& kind);

    JobController& controller() { return controller_; }
    Viewport* viewport() const { return viewport_; }
    JobSheet* job_sheet() const { return sheet_; }
    StepPanel* step_panel() const { return step_panel_; }
    SpreadRow* spread_row() const { return spread_row_; }
    MendPanel* mend_panel() const { return mend_panel_; }
    FieldPanel* field_panel() const { return field_panel_; }
    Ledger* ledger() const { return ledger_; }
    UnitStrip* unit_strip() const { return unit_strip_; }
    UnsavedStrip* unsaved_strip() const { return unsaved_strip_; }
    FirstHints* first_hints() const { return first_hints_; }
    NoticeStrip* notice_strip() const { return notice_strip_; }
    FlushStrip* flush_strip() const { return flush_strip_; }
    RecoveryStrip* recovery_strip() const { return recovery_strip_; }
    QuestionStrip* question_strip() const { return question_strip_; }
    HandMode* hand() const { return hand_; }
    HandStrip* hand_strip() const { return hand_strip_; }
    HintLine* hint_line() const { return hint_line_; }
    FindBox* find_box() const { return find_box_; }
    QAction* action(const QString& name) const { return actions_.at(name); }
    Route* route() const { return route_; }
    SidePanel* left_panel() const { return left_; }
    SidePanel* right_panel() const { return right_; }
    /// Puts a new shape of that kind onto what is under the pointer, or in the middle of the view, sized to the body.
    void add_shape(const std::string& kind);
    /// Asks in the view where a plane cut goes.
    void start_plane_cut();
    /// Asks where holes go, one after the other.
    void start_drilling();
    /// Asks where an outline of that shape goes, and how large it is.
    void start_outline_cut(const std::string& shape);
    void lay_against();
    void ask_what_against(const QString& name, const Vec3& place, const Vec3& normal);
    /// What the selected step is used on, or holds on to.
    void select_anew(const Field& field);
    /// Keeps a copy of unsaved work beside the user's files, for after a crash. Runs by itself every minute.
    void autosave();
    /// Where it keeps a copy of unsaved work.
    const QString& autosave_file() const { return autosave_file_; }
    /// What an export is called unless somebody types another name: as the base is, beside the job.
    QString export_name() const;

  protected:
    void closeEvent(QCloseEvent*) override;
    void resizeEvent(QResizeEvent*) override;
    bool eventFilter(QObject* object, QEvent* event) override;

  private:
    QAction* add_action(const QString& name, const QString& text, const QString& icon_name, const QKeySequence& key,
                        const QString& tip, std::function<void()> run);
    static QString mesh_filter();
    void make_actions();
    void make_mend_actions();
    void show_hand();
    QString usual_hint() const;
    void make_surface_actions();
    void make_section_actions();
    void make_measure_actions();
    int nearest_axis() const;
    void make_layout();
    void make_route();
    void fill_find_box();
    void refresh_actions();
    void refresh_title();
    void add_kind_action(const QString& prefix, const Kind& kind, const QString& icon_name, const QString& tip,
                         std::function<void(const std::string&)> run);
    void make_treat_actions();
    void make_shape_actions();
    void make_copies_actions();
    void make_cut_actions();
    std::optional<CutSubject> cut_subject();
    void ask_points(const CutSubject& subject, const std::vector<Vec3>& so_far);
    void ask_flat_face(const CutSubject& subject, const Viewport::Hit& hit,
                       std::function<void(std::vector<Anchor>, const Vec3&, const Vec3&)> then);
    void ask_hole(const CutSubject& subject);
    void add_hole(const CutSubject& subject, std::vector<Anchor> face, const Vec3& place, const Vec3& normal);
    void ask_stroke(const CutSubject& subject, const std::string& shape, const std::vector<Vec3>& so_far,
                    const DrawingPlane& plane, bool exact = false);
    void put_outline(const CutSubject& subject, const DrawingPlane& plane, Values values);
    DrawingPlane drawing_plane(const CutSubject& subject, const QPointF& at) const;
    void put_plane(const CutSubject& subject, const Vec3& origin, const Vec3& normal, std::vector<Anchor> face = {});
    void put_cut(const CutSubject& subject, const std::string& kind, Values values);
    bool take_cut_key(int key);
    bool swap_kept_side(const Row& row);
    void ask_face_of_cut(const Row& row);
    void ask_places_of_cut(const Row& row, const Field& field);
    void start_on_selection(const std::string& kind, Values values = {});
    std::optional<Vec3> pivot_in(const CutSubject& subject) const;
    std::optional<Vec3> place_drawn(const DrawingPlane& plane, const QPointF& at, bool snaps) const;
    void take_direction(const Field& field, bool by_edge);
    void set_direction(const Field& field, const Vec3& direction);
    void select_for_new();
    void make_place_actions();
    void make_align_actions();
    /// Moves what the selected rows are about along an axis, by what is worked out from their boxes.
    void arrange_chosen(const QString& done, int axis,
                        const std::function<std::vector<double>(std::span<const Box>)>& by);
    void make_link_actions();
    void refresh_link_actions();
    static bool is_group(const Row& row);
    Vec3 beside(const Row& row) const;
    Placement bench_for(const Row& row, const Link& link) const;
    void add_linked(const Row& row, const Link& link, const QString& done);
    void freeze_chosen();
    void part_pieces();
    void take_out_chosen();
    void group_chosen();
    void duplicate_chosen();
    /// Moves what the selected row is about by what is worked out from its body, and where that stands.
    void move_chosen(const QString& name, const std::function<Transform(const Mesh&, const Transform&)>& by);
    double bed_of(const Row& row) const;
    void tell_tools();
    void inspect_chosen();
    void inspect_row(const Row& row);
    std::shared_ptr<const Inspection> inspected(const std::shared_ptr<const Mesh>& body);
    std::string list_at_hand() const;
    Place place_in(const std::string& list) const;
    Transform stands_of(const std::string& list) const;
    std::string subject_part() const;
    void toggle_chosen();
    void remove_chosen();
    void apply_operation(Operation operation);
    void ask_for_meshes();
    void bring_in(const QStringList& meshes);
    void add_bodies(const QStringList& meshes, std::vector<JobController::BodyOfFile> bodies);
    void tell_lost(const QString& file, const std::vector<LostPart>& lost);
    void recover(const QString& file);
    void open_job();
    bool save(bool as);
    void start_with(Job job, const QString& file);
    bool has_unsaved() const;
    /// Does it, with unsaved changes once it is said what becomes of them.
    void leave_then(std::function<void()> go);
    void start_autosave();
    void fail(const Error& error);

    JobController controller_;
    HandMode* hand_ = nullptr;
    HandStrip* hand_strip_ = nullptr;
    std::map<QString, QAction*> actions_;
    Route* route_ = nullptr;
    SidePanel *left_ = nullptr, *right_ = nullptr;
    int panels_that_fit_ = 2;
    JobSheet* sheet_ = nullptr;
    StepPanel* step_panel_ = nullptr;
    SpreadRow* spread_row_ = nullptr;
    MendPanel* mend_panel_ = nullptr;
    FieldPanel* field_panel_ = nullptr;
    Viewport* viewport_ = nullptr;
    EmptyBench* empty_bench_ = nullptr;
    Ledger* ledger_ = nullptr;
    UnitStrip* unit_strip_ = nullptr;
    RecoveryStrip* recovery_strip_ = nullptr;
    UnsavedStrip* unsaved_strip_ = nullptr;
    FirstHints* first_hints_ = nullptr;
    NoticeStrip* notice_strip_ = nullptr;
    FlushStrip* flush_strip_ = nullptr;
    bool leaving_ = false;  // it was said what becomes of unsaved changes
    QuestionStrip* question_strip_ = nullptr;
    HintLine* hint_line_ = nullptr;
    FindBox* find_box_ = nullptr;
    QTimer autosave_timer_;
    QString autosave_file_;
    std::unique_ptr<QLockFile> autosave_lock_;  // tells other programs that this one has not crashed
    RowId chosen_;
    bool draws_on_faces_ = true;  // else square to the view
    std::string to_select_for_;   // id of a new step that waits for what it is used on
    std::string fresh_cut_;       // id of the step that was just put in: Esc takes it back
    RowId before_cut_;            // what was selected before that
    // Of the body at the chosen row, where that is none that is inspected anyway.
    std::shared_ptr<const Mesh> looked_at_, asked_about_;
    std::shared_ptr<const Inspection> found_;
};

}  // namespace anvil::app
