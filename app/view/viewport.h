#pragma once

#include <QElapsedTimer>
#include <QTimer>
#include <QWidget>
#include <optional>

#include "app/job_controller.h"
#include "app/view/camera.h"
#include "app/view/hand_mode.h"
#include "app/view/looks.h"
#include "app/view/picture_maker.h"
#include "app/view/typed_numbers.h"
#include "core/spatial/snap.h"

namespace anvil::app {

class HorizonDial;

/// A place marked in the view.
struct Pin {
    Vec3 place;
    int number;
    bool chosen;
    bool mended = false;  ///< a place that was repaired, not one to look after
};

/// The view of the model: draws the result and the cutters, turns, slides, zooms, chooses and moves parts.
class Viewport : public QWidget {
    Q_OBJECT
  public:
    Viewport(JobController& controller, HandMode& hand, QWidget* parent = nullptr);
    ~Viewport() override;

    /// What the row is about is drawn in outline, with handles where it can be moved.
    void set_chosen(const RowId& row);
    /// Gives all rows that are selected: where the chosen one is among them they are moved together.
    std::function<std::vector<RowId>()> selected_rows{};
    void set_pins(std::vector<Pin> pins);
    /// Shows a body by itself, after a treatment or before it; an empty row: the whole job.
    void show_alone(const RowId& treatment);
    void set_compare(Compare compare);
    Compare compare() const { return compare_; }
    /// Where the line between before (left) and mended (right) is, as a share of the width.
    double divider() const { return divider_; }
    void set_surface(Surface surface);
    /// What the ledger lists: whose faces `Surface::findings` shows.
    void set_findings(std::shared_ptr<const Inspection> inspection, std::optional<FindingKind> kind,
                      const Transform& stands);
    /// Whether the picture that is shown will be followed by another: something moves, or a better one is being drawn.
    bool is_drawing() const { return rest_.isActive() || pulled_ || pictures_.is_busy() || (stale_ && isVisible()); }
    /// How many pictures were drawn so far.
    quint64 pictures() const { return pictures_drawn_; }
    /// What is shown once everything is drawn.
    QImage finished_picture();
    /// Shows the pieces of a result apart, by a share of its size; only the picture changes.
    void set_spread(double share);
    double spread() const { return spread_; }
    void set_see_through(bool on);
    bool see_through() const { return see_through_; }
    /// Cuts the view by a plane through the middle of the scene: square to an axis of the job (0 to 2), or to where the
    /// eye looks (3); what is nearer to the eye goes.
    void start_section(int square_to);
    void flip_section();
    void end_section();
    const std::optional<SectionPlane>& section() const { return section_; }
    /// Where the handle that moves it lies.
    std::optional<QPointF> section_handle() const;
    const Camera& camera() const { return camera_; }
    void set_camera(const Camera& camera);
    void frame_all();
    /// Frames everything once the next result is there.
    void frame_when_ready() { framed_ = false; }
    void frame_place(const Vec3& place);
    /// What is met first from the eye.
    struct Hit {
        std::string part;  ///< id; empty: nothing
        Vec3 place, normal;
        std::shared_ptr<const Mesh> mesh{};  ///< that was met, where it stands, and which face of it
        Transform stands = Transform::Identity();
        FaceId face{};
    };
    /// Clicks on two places measure between them; what was measured stays until it is taken off.
    void start_measuring(bool on);
    bool is_measuring() const { return measuring_; }
    void clear_measurements();
    struct Measurement {
        Vec3 a, b;
        QString text;   ///< "24 mm, faces at 90°"
        QString value;  ///< "24 mm"
    };
    const std::vector<Measurement>& measurements() const { return measurements_; }
    /// What is asked for in the view; Esc ends it. Each of the answers may be left out.
    struct Request {
        QString asked{};                          ///< shown in the hint line
        std::function<void(const Hit&)> click{};  ///< a place on a surface
        bool snaps = false;                       ///< corners, middles and centres near the pointer are met exactly
        std::string but{};                        ///< id of a part that is looked through; empty: none
        /// A straight line that was dragged over the view, in this widget; with Ctrl by steps of 15 degrees. It is
        /// drawn on to the edges of the view, but for where `shows` has an outline.
        std::function<void(const QPointF&, const QPointF&)> line{};
        std::function<bool(int)> key{};  ///< a key of Qt's; whether it was an answer
        /// A way that was drawn over the view by hand, in this widget; of a click one point.
        std::function<void(const QPolygonF&)> stroke{};
        std::vector<Vec3> drawn{};  ///< shown as a line, in the job
        /// Instead of `line`, or of a further point of `drawn`, where numbers were typed: from where to where the
        /// pointer has gone, and the numbers.
        std::function<void(const QPointF&, const QPointF&, const std::vector<double>&)> typed{};
        QString typed_label{};  ///< what the numbers mean
        std::vector<Unit> typed_units{Unit::millimetre};
        struct Shown {
            QPolygonF line{};  ///< in this widget
            QString said{};
        };
        /// What the line, or the next point, would make: drawn, and told beside the pointer. The numbers are empty
        /// where none were typed.
        std::function<Shown(const QPointF&, const QPointF&, const std::vector<double>&)> shows{};
    };
    void ask(Request request);
    bool is_asking() const { return asking_.has_value(); }
    /// Asks for a place on a surface.
    void pick(const QString& asked, const std::string& but, std::function<void(const Hit&)> taken, bool snaps = false) {
        ask({.asked = asked, .click = std::move(taken), .snaps = snaps, .but = but});
    }
    void end_asking();
    /// What is met first under a point of this widget. `snaps`: onto a corner, middle or centre near it.
    Hit hit_at(const QPointF& at, bool snaps = false) const;
    /// Gives keys to whoever wants them before the view does; whether it was taken.
    std::function<bool(int)> other_keys{};
    /// Says what can be done with what is selected, where nothing is under the pointer; empty: the usual.
    std::function<QString()> idle_hint{};
    /// Where something stands that is put on what lies under a point of this widget: on the body there, or on the bed.
    Placement standing_under(const QPointF& at) const;
    /// Where a point of the scene lies in this widget.
    QPointF pixel_of(const Vec3& place) const;
    /// Where the handle of a shape's measure lies; nothing where it has none.
    std::optional<QPointF> measure_handle(const std::string& field) const;
    /// Where the handle of a cut's field lies; of several of that field the one of that number.
    std::optional<QPointF> cut_handle(const std::string& field, int number = 0) const;
    /// Where the handle lies that scales along an axis of the part's list (0 to 2), or all together (3).
    std::optional<QPointF> scale_handle(int axis) const;
    /// What the selected part is rotated and scaled about: its middle, or where that was put.
    Vec3 pivot() const;
    bool has_pivot() const;
    /// Puts it to a place of the job, for as long as the window is open; nothing: back to the middle.
    void set_pivot(const std::optional<Vec3>& place);
    /// Where the handle that rotates about an axis lies.
    std::optional<QPointF> rotate_handle(int axis) const;
    Vec3 chosen_middle() const;

    QSize sizeHint() const override { return {640, 520}; }

  Q_SIGNALS:
    void camera_changed();
    void compare_changed();
    void section_changed();
    void measuring_changed();
    void part_clicked(const std::string& part);  ///< empty: the ground
    void hint(const QString& text);
    void key_command(const QString& name);
    void files_dropped(const QStringList& files);

  protected:
    void paintEvent(QPaintEvent*) override;
    void changeEvent(QEvent*) override;
    void resizeEvent(QResizeEvent*) override;
    void mousePressEvent(QMouseEvent*) override;
    void mouseMoveEvent(QMouseEvent*) override;
    void mouseReleaseEvent(QMouseEvent*) override;
    void wheelEvent(QWheelEvent*) override;
    void keyPressEvent(QKeyEvent*) override;
    void enterEvent(QEnterEvent*) override;
    void dragEnterEvent(QDragEnterEvent*) override;
    void dropEvent(QDropEvent*) override;

  private:
    enum class Drag { none, press, turn, slide, handle, level, divider, outline, line };
    /// What the selected part can be taken hold of by.
    struct Handle {
        enum class Does { move, rotate, scale, measure, section, cut };
        Does does{};
        int axis = -1;  ///< of scaling 3: all together
        MeasureHandle measure{};
        QPolygonF line{};  ///< on the screen: a bar, an arc, or one point
        Vec3 at{}, along{};
    };
    Scene scene(bool before = false) const;
    void add_alone(Scene& scene, bool before) const;
    void add_surface(Scene& scene, const std::shared_ptr<const Mesh>& mesh) const;
    void add_marks(Scene& scene) const;
    /// Of the step of the row that is shown alone; null where it is used on nothing.
    const Field* field_used_on() const;
    NamedElements used_on(bool before) const;
    /// Whether one body is shown by itself: that of a treatment, or what is worked on by hand.
    bool is_alone() const { return !alone_.empty() || hand_.is_on(); }
    bool is_divided() const { return !alone_.empty() && !hand_.is_on() && compare_ == Compare::both; }
    /// The chosen row, where that can be moved.
    const Row* movable() const;
    /// The chosen row, where that is a cut.
    const Row* cut_row() const;
    const Row* row_with_handles() const;
    QString hint_of_cut(const Handle& handle) const;
    void draw_cut_handles(QPainter& painter) const;
    void add_cut_handles(std::vector<Handle>& handles) const;
    void refresh();
    void ask_picture();
    /// `but`: id of a part that is looked through.
    Hit hit_under(const QPointF& at, const std::string& but = {}) const;
    std::string part_under(const QPointF& at) const { return hit_under(at).part; }
    std::vector<Handle> handles() const;
    void begin_handle(const Handle& handle);
    void drag_handle(const QPointF& at, bool snaps);
    void drag_scale(const QPointF& at);
    void drag_level(const QPointF& at, bool snaps);
    void pull(const QPointF& at, bool snaps);
    void take_pull();
    Box box_in_list() const;
    double snapped_travel(double freely);
    double travel_along(const Vec3& along, const QPointF& at) const;
    Vec3 gone_in_plane(const Vec3& normal, const QPointF& at) const;
    double turn_about(const Vec3& axis, const QPointF& at) const;
    void drag_cut(const QPointF& at);
    bool can_type() const;
    std::pair<QString, std::vector<Unit>> typed_as() const;
    bool take_typed(const QKeyEvent& event);
    void tell_typed();
    void clear_typed();
    void answer_typed();
    void end_handle();
    void restore_dragged();
    void draw_typed(QPainter& painter) const;
    /// What a handle was dragged by, or the number that was typed instead.
    double number_or(double dragged) const { return numbers_.empty() ? dragged : numbers_.front(); }
    Vec3 travel_in_plane(const Vec3& along, const Vec3& across, const QPointF& at) const;
    void draw_line(QPainter& painter) const;
    void draw_drawn(QPainter& painter) const;
    QPointF line_end(const QPointF& at, bool by_steps) const;
    QString hint_of(const Handle& handle) const;
    void take_pick(const QPointF& at);
    std::optional<Handle> handle_under(const QPointF& at) const;
    void move_chosen(const Vec3& by, bool exactly = false);
    void take_others_along();
    void draw_overlay(QPainter& painter) const;
    void draw_handles(QPainter& painter) const;
    std::optional<Handle> handle_of_section() const;
    void draw_section(QPainter& painter) const;
    void draw_pins(QPainter& painter) const;
    void draw_divider(QPainter& painter) const;
    void draw_points(QPainter& painter, const std::vector<Vec3>& points, const Transform& stands) const;
    void draw_outline(QPainter& painter) const;
    void begin_by_hand(const QMouseEvent& event);
    void click_by_hand(const QPointF& at, HandMode::How how);
    void take_outline(HandMode::How how);
    QPolygonF brush_at(const QPointF& at) const;
    ViewMap hand_map() const;
    void draw_legend(QPainter& painter) const;
    void update_hint(const QPointF& at);

    JobController& controller_;
    HandMode& hand_;
    QPolygonF outline_;  // of the box or lasso that is being drawn
    PictureMaker pictures_;
    QSize asked_pixels_;
    PictureMaker::Request asked_;  // last
    quint64 pictures_drawn_ = 0;
    HorizonDial* dial_;
    Camera camera_;
    void begin_moving();
    QTimer pulls_;  // runs while the next step of what is dragged waits
    QElapsedTimer since_pull_;
    /// Where the pointer has gone to, which is still to be taken.
    struct Pulled {
        QPointF at;
        bool snaps;
    };
    std::optional<Pulled> pulled_;
    QTimer rest_;                  // runs while something moves, and a moment longer
    double still_ms_ = 0;          // that the last picture at rest took
    bool moves_coarsely_ = false;  // pictures take so long that they are drawn with fewer pixels while something moves
    bool framed_ = false, see_through_ = false, stale_ = true;
    Looks looks_;
    RowId alone_;
    Compare compare_ = Compare::after;
    Surface surface_ = Surface::plain;
    double divider_ = 0.5;
    std::shared_ptr<const Inspection> inspection_;
    std::optional<FindingKind> kind_;
    Transform inspected_at_ = Transform::Identity();
    RowId chosen_;
    double spread_ = 0;
    std::optional<SectionPlane> section_;
    /// A place under the pointer, and what it is.
    struct Snapped {
        Vec3 place, normal;
        QString what;
        double radius = 0;
    };
    std::optional<Snapped> snapped_at(const QPointF& at, const std::string& but = {}, bool at_once = true) const;
    void hover_to_measure(const QPointF& at);
    void take_to_measure(const QPointF& at);
    QRectF label_of(const Measurement& m) const;
    void draw_measurements(QPainter& painter) const;
    Vec3 snapped_move(const QPointF& at, const Vec3& freely);
    struct KnownPlaces {
        std::weak_ptr<const Mesh> mesh;
        std::shared_ptr<const SnapPlaces> places;
    };
    mutable std::map<const Mesh*, KnownPlaces> snaps_;
    std::shared_ptr<const SnapPlaces> places_of(const std::shared_ptr<const Mesh>& mesh, bool at_once) const;
    std::map<std::string, Vec3> pivots_;  // by part id, in its own coordinates
    Job start_job_;                       // as it was when a handle was taken
    Box start_box_;                       // of the part in its list
    bool measuring_ = false;
    std::optional<Snapped> first_, hover_;
    std::vector<Measurement> measurements_;
    QString snapped_to_;
    std::vector<Pin> pins_;
    Drag drag_ = Drag::none;
    Qt::MouseButton button_ = Qt::NoButton;
    QPointF press_, last_;
    Handle held_;
    std::optional<Row> start_;  // as it was when it was taken hold of
    double start_measure_ = 0;
    std::optional<Request> asking_;
    TypedNumbers typed_;
    std::vector<double> numbers_;  // that are typed, as far as they can be read
    QString typed_trouble_;
    Values start_values_;  // of the cut whose handle is dragged
    Transform start_stands_ = Transform::Identity();
    Vec3 grabbed_, start_position_;
    std::string pressed_part_;
    /// Another row that is moved together with the chosen one, as it was.
    struct Beside {
        RowId row;
        Transform home;  ///< from the job's coordinates into those of its placement
        Placement placement;
    };
    std::vector<Beside> beside_;
};

}  // namespace anvil::app
