#include "app/view/viewport.h"

#include <QDragEnterEvent>
#include <QMimeData>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <algorithm>

#include "app/theme.h"
#include "app/view/horizon_dial.h"
#include "app/words.h"
#include "core/job/new_shape.h"
#include "core/job/quantity.h"

namespace anvil::app {

Viewport::Viewport(JobController& controller, HandMode& hand, QWidget* parent)
    : QWidget(parent), controller_(controller), hand_(hand), dial_(new HorizonDial(this)), looks_(controller) {
    rest_.setSingleShot(true);
    rest_.setInterval(180);
    connect(&rest_, &QTimer::timeout, this, &Viewport::refresh);
    pulls_.setSingleShot(true);
    connect(&pulls_, &QTimer::timeout, this, &Viewport::take_pull);
    connect(&pictures_, &PictureMaker::made, this, [this] {
        ++pictures_drawn_;
        const PictureMaker::Picture& made = pictures_.picture();
        constexpr double slow = 25, quick = 6;  // ms
        if (!made.moves) still_ms_ = made.ms;
        // Coarse ones are a fourth of the work, or a good deal more.
        if (made.moves) moves_coarsely_ = made.ms > (moves_coarsely_ ? quick : slow);
        update();
    });
    setMouseTracking(true);
    setFocusPolicy(Qt::StrongFocus);
    setAcceptDrops(true);
    setAccessibleName(tr("View of the model"));
    setMinimumSize(160, 160);
    connect(&controller_, &JobController::job_changed, this, &Viewport::refresh);
    connect(&controller_, &JobController::evaluated, this, [this] {
        std::erase_if(snaps_, [](const auto& known) { return known.second.mesh.expired(); });
        if (!framed_ && controller_.outcome() && !controller_.outcome()->parts.empty()) {
            frame_all();
            framed_ = true;
        }
        if (controller_.job().parts.empty()) framed_ = false;
        refresh();
    });
    connect(&looks_, &Looks::ready, this, &Viewport::refresh);
    connect(&hand_, &HandMode::changed, this, &Viewport::refresh);
    connect(dial_, &HorizonDial::view_chosen, this, [this](double turn, double tilt) {
        Camera c = camera_;
        c.turn = turn;
        c.tilt = tilt;
        set_camera(c);
    });
}
Viewport::~Viewport() = default;

/// Where a picture at rest takes too long to follow the hand, simpler ones are drawn until it rests.
void Viewport::begin_moving() {
    constexpr double follows = 40;  // ms
    if (still_ms_ > follows) rest_.start();
}

/// All that changes at once is one picture, asked for without waiting until the widget is painted.
void Viewport::refresh() {
    if (!std::exchange(stale_, true))
        QMetaObject::invokeMethod(
            this,
            [this] {
                if (stale_ && isVisible()) ask_picture();
            },
            Qt::QueuedConnection);
}

void Viewport::set_chosen(const RowId& row) {
    if (asking_ && row != chosen_) end_asking();
    chosen_ = row;
    refresh();
}
const Row* Viewport::movable() const {
    const Row* row = controller_.row(chosen_);
    return row && (!row->step || row->use) ? row : nullptr;
}
const Row* Viewport::cut_row() const {
    const Row* row = controller_.row(chosen_);
    return row && row->cuts() ? row : nullptr;
}
/// The selected row, where its step has handles of its own.
const Row* Viewport::row_with_handles() const {
    const Row* row = controller_.row(chosen_);
    const bool can = row && row->step && row->kind && row->kind->handles && !hand_.is_on();
    return can && (row->cuts() ? !is_alone() : row->id == alone_) ? row : nullptr;
}
void Viewport::set_pins(std::vector<Pin> pins) {
    pins_ = std::move(pins);
    update();
}
void Viewport::show_alone(const RowId& treatment) {
    if (treatment == alone_) return;
    alone_ = treatment;
    refresh();
}
void Viewport::set_compare(Compare compare) {
    if (compare == compare_) return;
    compare_ = compare;
    refresh();
    Q_EMIT compare_changed();
}
void Viewport::set_surface(Surface surface) {
    surface_ = surface;
    refresh();
}
void Viewport::set_findings(std::shared_ptr<const Inspection> inspection, std::optional<FindingKind> kind,
                            const Transform& stands) {
    inspection_ = std::move(inspection);
    kind_ = kind;
    inspected_at_ = stands;
    refresh();
}
void Viewport::set_spread(double share) {
    spread_ = share;
    begin_moving();
    refresh();
}
void Viewport::set_see_through(bool on) {
    see_through_ = on;
    refresh();
}
void Viewport::start_section(int square_to) {
    const Box box = scene().bounds;
    SectionPlane plane{box.empty() ? Vec3{} : box.center(), -camera_.direction()};
    if (square_to < 3) {
        const double toward = plane.normal[square_to] < 0 ? -1 : 1;
        plane.normal = {};
        plane.normal[square_to] = toward;
    }
    section_ = plane;
    refresh();
    Q_EMIT section_changed();
}
void Viewport::flip_section() {
    if (!section_) return;
    section_->normal = -section_->normal;
    refresh();
}
void Viewport::end_section() {
    section_.reset();
    refresh();
    Q_EMIT section_changed();
}
void Viewport::set_camera(const Camera& camera) {
    camera_ = camera;
    dial_->set_turn(camera_.turn, camera_.tilt);
    refresh();
    Q_EMIT camera_changed();
}
void Viewport::frame_all() {
    Camera c = camera_;
    c.frame(scene().bounds, size());
    set_camera(c);
}
void Viewport::frame_place(const Vec3& place) {
    Camera c = camera_;
    c.target = place;
    c.distance = std::min(c.distance, scene().bounds.diagonal() * 0.9);
    set_camera(c);
}
QPointF Viewport::pixel_of(const Vec3& place) const { return camera_.pixel(place, size()).at; }

void Viewport::paintEvent(QPaintEvent*) {
    if (stale_ || asked_pixels_ != size() * devicePixelRatioF()) ask_picture();
    const PictureMaker::Picture& picture = pictures_.picture();
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.fillRect(rect(), colour().paper);
    if (picture.image.isNull()) {
        painter.setPen(colour().ink);
        painter.drawText(rect().adjusted(40, 40, -40, -40), Qt::AlignCenter | Qt::TextWordWrap, picture.trouble);
        return;
    }
    painter.setRenderHint(QPainter::SmoothPixmapTransform);  // of a coarse one
    painter.drawImage(0, 0, picture.image);
    if (!picture.before.isNull() && is_divided()) {
        painter.setClipRect(QRectF(0, 0, width() * divider_, height()));
        painter.drawImage(0, 0, picture.before);
        painter.setClipping(false);
    }
    // What is painted over a picture is seen from where that was taken.
    const Camera asked = std::exchange(camera_, picture.camera);
    draw_overlay(painter);
    camera_ = asked;
}

void Viewport::ask_picture() {
    asked_pixels_ = size() * devicePixelRatioF();
    stale_ = false;
    const bool moves = rest_.isActive();
    const double ratio = devicePixelRatioF() * (moves && moves_coarsely_ ? 0.5 : 1);
    auto shown = [&](bool before) {
        Scene out = scene(before);
        out.moves = moves;
        return out;
    };
    PictureMaker::Request request{.scene = shown(false),
                                  .before = is_divided() ? std::optional(shown(true)) : std::nullopt,
                                  .eye = {camera_, size() * ratio, ratio, &palette_of(theme())}};
    if (request == asked_) {  // only what is painted over it has changed
        update();
        return;
    }
    asked_ = request;
    pictures_.ask(std::move(request));
}

QImage Viewport::finished_picture() {
    rest_.stop();
    asked_ = {};
    ask_picture();
    pictures_.wait();
    return grab().toImage();
}

void Viewport::changeEvent(QEvent* event) {
    if (event->type() == QEvent::StyleChange) refresh();  // the theme has changed
    QWidget::changeEvent(event);
}

void Viewport::resizeEvent(QResizeEvent*) {
    dial_->move(width() - dial_->width() - 12, 12);
    refresh();
}

void Viewport::mousePressEvent(QMouseEvent* event) {
    if (drag_ != Drag::none) return;
    press_ = last_ = event->position();
    button_ = event->button();
    if (hand_.is_on()) {
        begin_by_hand(*event);
        return;
    }
    if (button_ == Qt::RightButton || button_ == Qt::MiddleButton) {
        drag_ = Drag::slide;
        return;
    }
    if (button_ != Qt::LeftButton) return;
    if (asking_) {
        outline_ = QPolygonF{press_};
        if (asking_->line || asking_->stroke)
            drag_ = Drag::line;
        else
            take_pick(press_);
        return;
    }
    if (is_divided() && std::fabs(press_.x() - width() * divider_) < 7) {
        drag_ = Drag::divider;
        return;
    }
    if (measuring_) {
        pressed_part_.clear();
        drag_ = Drag::press;
        return;
    }
    if (const Row* row = movable()) start_position_ = row->placement().position;
    take_others_along();
    if (const auto handle = handle_under(press_)) {
        begin_handle(*handle);
        return;
    }
    const Hit hit = hit_under(press_);
    pressed_part_ = hit.part;
    drag_ = Drag::press;
}

void Viewport::mouseMoveEvent(QMouseEvent* event) {
    const QPointF at = event->position(), by = at - last_;
    if (drag_ == Drag::none) {
        last_ = at;
        if (asking_ && asking_->shows && !asking_->drawn.empty()) update();
        if (typed_.empty()) update_hint(at);
        return;
    }
    if (drag_ == Drag::press) {
        if ((at - press_).manhattanLength() < 4) return;
        const Row* row = movable();
        const bool moves = !is_alone() && row && pressed_part_ == chosen_.part && !row->is_base();
        drag_ = moves ? Drag::level : Drag::turn;
        if (moves) {
            // Taken by a corner or the like, where one is near: so it can be put onto another exactly.
            if (const auto snapped = snapped_at(press_)) grabbed_ = snapped->place;
            controller_.set_dragging(true);
        }
    }
    last_ = at;
    if (drag_ != Drag::outline && drag_ != Drag::divider && drag_ != Drag::line) begin_moving();
    Camera c = camera_;
    switch (drag_) {
        case Drag::outline:
            if (hand_.gesture() == Gesture::brush) {
                outline_ = brush_at(at);
                take_outline(event->modifiers() & Qt::ControlModifier ? HandMode::How::take : HandMode::How::add);
            } else if (hand_.gesture() == Gesture::box) {
                outline_ = QPolygonF(QRectF(press_, at).normalized());
            } else {
                outline_ << at;
            }
            update();
            break;
        case Drag::line:
            last_ = line_end(at, event->modifiers() & Qt::ControlModifier);
            if (asking_ && asking_->stroke && (at - outline_.back()).manhattanLength() > 3) outline_ << at;
            update();
            break;
        case Drag::divider:
            divider_ = std::clamp(at.x() / width(), 0.02, 0.98);
            update();
            break;
        case Drag::turn:
            c.orbit(by.x(), by.y());
            set_camera(c);
            break;
        case Drag::slide:
            c.slide(by.x(), by.y(), size());
            set_camera(c);
            break;
        case Drag::handle:
        case Drag::level:
            if (typed_.empty()) pull(at, event->modifiers() & Qt::ControlModifier);
            break;
        default: break;
    }
}

void Viewport::mouseReleaseEvent(QMouseEvent* event) {
    if (event->button() != button_) return;
    if (hand_.is_on()) {
        const HandMode::How how = HandMode::how_of(event->modifiers());
        if (drag_ == Drag::press) click_by_hand(event->position(), how);
        if (drag_ == Drag::outline && hand_.gesture() != Gesture::brush) take_outline(how);
        drag_ = Drag::none;
        button_ = Qt::NoButton;
        outline_.clear();
        update();
        return;
    }
    if (drag_ == Drag::line) {
        drag_ = Drag::none;
        button_ = Qt::NoButton;
        const QPointF to = line_end(event->position(), event->modifiers() & Qt::ControlModifier);
        update();
        if (!asking_) return;
        const QPolygonF stroke = std::exchange(outline_, {});
        last_ = to;
        if (!numbers_.empty())
            answer_typed();
        else if (asking_->stroke)
            std::exchange(asking_, std::nullopt)->stroke(stroke.size() > 3 ? stroke : QPolygonF{press_});
        else if ((to - press_).manhattanLength() < 8)
            take_pick(press_);
        else
            std::exchange(asking_, std::nullopt)->line(press_, to);
        return;
    }
    if (drag_ == Drag::press && measuring_) {
        take_to_measure(event->position());
        drag_ = Drag::none;
        button_ = Qt::NoButton;
        return;
    }
    if (!measuring_) hover_.reset();
    if (drag_ == Drag::press && (!is_alone() || pressed_part_.empty())) Q_EMIT part_clicked(pressed_part_);
    if (drag_ == Drag::handle || drag_ == Drag::level) end_handle();
    drag_ = Drag::none;
    button_ = Qt::NoButton;
    update_hint(event->position());
}

void Viewport::wheelEvent(QWheelEvent* event) {
    begin_moving();
    Camera c = camera_;
    c.zoom(std::pow(0.999, event->angleDelta().y()), event->position(), size());
    set_camera(c);
    event->accept();
}

void Viewport::keyPressEvent(QKeyEvent* event) {
    if (take_typed(*event)) return;
    // Single letters only here, where the pointer is in the view.
    if (event->modifiers() & ~Qt::KeypadModifier) return QWidget::keyPressEvent(event);
    if (asking_) {
        if (event->key() == Qt::Key_Escape) {
            end_asking();
            update_hint(mapFromGlobal(QCursor::pos()));
            return;
        }
        // A copy: the answer may ask for something else.
        if (const auto key = asking_->key; key && key(event->key())) return;
    }
    if (other_keys && other_keys(event->key())) return;
    for (const Operation operation : all_operations)
        if (words_of(operation).key == event->key()) {
            Q_EMIT key_command(word_of(operation));
            return;
        }
    static const std::map<int, const char*> commands = {
        {Qt::Key_V, "whole"},  {Qt::Key_X, "see-through"}, {Qt::Key_E, "section"}, {Qt::Key_A, "measure"},
        {Qt::Key_O, "switch"}, {Qt::Key_M, "mend"},        {Qt::Key_H, "by-hand"}};
    if (measuring_ && event->key() == Qt::Key_Escape) {
        start_measuring(false);
        return;
    }
    if (measuring_ && event->key() == Qt::Key_Backspace && !measurements_.empty()) {
        measurements_.pop_back();
        update();
        return;
    }
    if (event->key() == Qt::Key_Escape && hand_.is_on()) {
        hand_.stop();
        return;
    }
    if (event->key() == Qt::Key_B && is_alone()) {
        set_compare(compare_ == Compare::before ? Compare::after : Compare::before);
        return;
    }
    const auto at = commands.find(event->key());
    if (at == commands.end()) return QWidget::keyPressEvent(event);
    Q_EMIT key_command(at->second);
}

void Viewport::enterEvent(QEnterEvent*) { setFocus(Qt::MouseFocusReason); }

void Viewport::update_hint(const QPointF& at) {
    if (controller_.job().parts.empty()) {
        Q_EMIT hint(tr("Drop meshes here, or open the demo from the find box: Ctrl+K, \"demo\"."));
        return;
    }
    if (asking_) {
        setCursor(Qt::CrossCursor);
        Q_EMIT hint(asking_->asked);
        return;
    }
    if (measuring_) {
        hover_to_measure(at);
        return;
    }
    if (is_divided() && std::fabs(at.x() - width() * divider_) < 7) {
        setCursor(Qt::SplitHCursor);
        Q_EMIT hint(tr("Drag the line: before on its left, mended on its right."));
        return;
    }
    if (hand_.is_on()) {
        setCursor(Qt::CrossCursor);
        Q_EMIT hint(
            hand_.gesture() == Gesture::click && hand_.takes_regions()
                ? tr("Click a face: all of it up to its creases is selected. Shift adds, Ctrl takes away. Esc: cancel.")
            : hand_.gesture() == Gesture::click && hand_.takes_lines()
                ? tr("Click near an edge: all that go on from it are selected. Shift adds, Ctrl takes away. Esc: "
                     "cancel.")
            : hand_.gesture() == Gesture::click
                ? tr("Click to select, Shift adds, Ctrl takes away; drag to rotate, right-drag to pan. Esc: done.")
                : tr("Drag to select, Shift adds, Ctrl takes away; middle-drag rotates, right-drag pans. Esc: done."));
        return;
    }
    if (const auto handle = is_alone() ? handle_under(at) : std::nullopt) {
        setCursor(Qt::SizeAllCursor);
        Q_EMIT hint(hint_of(*handle) + " " + tr("Type a number while dragging; Esc: as it was."));
        return;
    }
    if (is_alone()) {
        unsetCursor();
        if (const Row* row = controller_.row(alone_); row && row->kind && row->kind->find_field("keep") && idle_hint) {
            Q_EMIT hint(idle_hint());
            return;
        }
        Q_EMIT hint(
            tr("The body at this row alone. B flips to what it was before; drag to rotate, right-drag to pan, "
               "wheel to zoom."));
        return;
    }
    if (const auto handle = handle_under(at)) {
        setCursor(Qt::SizeAllCursor);
        Q_EMIT hint(hint_of(*handle) + " " + tr("Type a number while dragging; Esc: as it was."));
        return;
    }
    if (cut_row() && idle_hint) {
        unsetCursor();
        Q_EMIT hint(idle_hint());
        return;
    }
    const std::string part = part_under(at);
    if (const Row* row = movable(); row && !part.empty() && part == chosen_.part && !row->is_base()) {
        setCursor(Qt::SizeAllCursor);
        Q_EMIT hint(
            tr("Drag to move it over the bed, with Ctrl onto corners, middles and centres. U, D, I: what it does. O: "
               "on or off."));
        return;
    }
    unsetCursor();
    if (part.empty())
        Q_EMIT hint(
            tr("Drag to rotate, right-drag to pan, wheel to zoom. V fits the view, X sees through, E cuts a section."));
    else
        Q_EMIT hint(tr("Click to select %1. Drag to rotate, right-drag to pan, wheel to zoom.")
                        .arg(QString::fromStdString(controller_.job().find_part(part)->name)));
}

void Viewport::dragEnterEvent(QDragEnterEvent* event) {
    if (event->mimeData()->hasUrls()) event->acceptProposedAction();
}
void Viewport::dropEvent(QDropEvent* event) {
    QStringList files;
    for (const QUrl& url : event->mimeData()->urls())
        if (url.isLocalFile()) files << url.toLocalFile();
    event->acceptProposedAction();
    if (!files.isEmpty()) Q_EMIT files_dropped(files);
}

}  // namespace anvil::app
