// The station Cut: how its tools are told in the view where they go.
#include <QAction>
#include <QLineF>
#include <cmath>

#include "app/panels/field_panel.h"
#include "app/panels/hint_line.h"
#include "app/panels/row_words.h"
#include "app/view/viewport.h"
#include "app/window.h"
#include "app/words.h"
#include "core/cut/frame.h"
#include "core/job/anchors.h"
#include "core/job/edits.h"
#include "core/job/new_cut.h"
#include "core/mesh/measures.h"
#include "core/mesh/weld.h"
#include "core/spatial/outline_pick.h"

namespace anvil::app {

void Window::make_cut_actions() {
    add_action("cut-plane", tr("Plane cut"), "cut-plane", {},
               tr("Cut by a plane: drag a line over the view, or click a flat face; keep one side or both"),
               [this] { start_plane_cut(); });
    add_action("cut-layers", tr("Layers"), "cut-layers", {}, tr("Slice the body into layers of equal height"), [this] {
        const auto subject = cut_subject();
        if (subject) put_cut(*subject, "cut-plane", values_of_layers(subject->box));
    });
    add_action("drill", tr("Drill"), "drill", {},
               tr("Click on a face: a hole square to it, by number or for a metric screw"),
               [this] { start_drilling(); });
    const struct {
        const char *name, *shape;
        QString text, tip;
    } outlines[] = {
        {"cut-rectangle", "rectangle", tr("Rectangle cut"), tr("Drag a rectangle over a face or over the view")},
        {"cut-circle", "circle", tr("Circle cut"), tr("Drag a circle from its middle, on a face or over the view")},
        {"cut-polygon", "polygon", tr("Polygon cut"), tr("Drag a regular polygon from its middle")},
        {"cut-drawing", "drawing", tr("Drawn cut"),
         tr("Draw an outline corner by corner, or freehand, on a face or over the view")},
        {"cut-line", "line", tr("Line cut"), tr("Draw an open line: the body is split along it")}};
    for (const auto& o : outlines)
        add_action(o.name, o.text, o.name, {}, o.tip,
                   [this, shape = std::string(o.shape)] { start_outline_cut(shape); });
    add_action("notch", tr("Notch"), "notch", {}, tr("A groove or a rib along edges that you click"),
               [this] { start_on_selection("notch"); });
    add_action("broach", tr("Broach"), "broach", {},
               tr("Push the outline of selected faces through the body: a hole, a pocket, a boss"),
               [this] { start_on_selection("broach"); });
    add_action("cut-edges", tr("Outline of edges"), "cut-edges", {},
               tr("Carry a ring of edges, or an open line of them, through the body"), [this] {
                   start_on_selection("cut-outline", {{"shape", std::string("edges")}});
               });
    add_action("mirror-feature", tr("Mirror a feature"), "mirror-feature", {},
               tr("Make a hole, a pocket or what stands out once more across a plane: select its faces"), [this] {
                   if (const auto subject = cut_subject())
                       start_on_selection("mirror-feature", values_of_mirror(subject->box, pivot_in(*subject)));
               });
    add_action("symmetry", tr("Mirror and weld"), "symmetry", {},
               tr("Keep one half of the body and weld it to its mirror image"), [this] {
                   const auto subject = cut_subject();
                   if (subject) put_cut(*subject, "symmetry", values_of_mirror(subject->box, pivot_in(*subject)));
               });
    connect(&controller_, &JobController::evaluated, this, &Window::select_for_new);
}

/// The body of the list that is at hand, where it stands; where it was not worked out that is told.
std::optional<CutSubject> Window::cut_subject() {
    CutSubject out{list_at_hand(), Transform::Identity(), {}, {}};
    // What cuts the base acts with the steps that follow on it.
    if (out.list == base_of(controller_.job())) out.list = controller_.job().work();
    const ReadyMesh* body = out.list.empty() ? nullptr : controller_.body_of_list(out.list);
    if (!body || !body->mesh || body->mesh->faces.empty()) {
        hint_line_->show_hint(tr("There is no body to cut yet."));
        return std::nullopt;
    }
    out.stands = stands_of(out.list);
    out.box = bounds(*body->mesh);
    const Part* part = controller_.job().find_part(out.list);
    out.name = quoted(part ? part->name : out.list);
    return out;
}

/// Where the pivot was set, in the coordinates of the list.
std::optional<Vec3> Window::pivot_in(const CutSubject& subject) const {
    if (!viewport_->has_pivot()) return std::nullopt;
    return apply(Transform(subject.stands.inverse()), viewport_->pivot());
}

void Window::start_plane_cut() {
    const auto subject = cut_subject();
    if (!subject) return;
    auto across = [this, s = *subject](int axis) {
        Vec3 normal;
        normal[axis] = 1;
        put_plane(s, s.box.center(), normal);
    };
    Viewport::Request request;
    request.asked = tr("Drag a line across %1, with Ctrl by 15° or to a typed angle, or click a flat face. X, Y, Z: "
                       "square to that axis. P: by three "
                       "points. Esc: leave it.")
                        .arg(subject->name);
    auto at_angle = [](const QPointF& from, const QPointF& to, const std::vector<double>& typed) {
        QLineF line(from, to);
        if (!typed.empty()) line.setAngle(typed.front());
        return line;
    };
    request.typed_label = tr("angle");
    request.typed_units = {Unit::degree};
    request.shows = [at_angle](const QPointF& from, const QPointF& to, const std::vector<double>& typed) {
        const QLineF line = at_angle(from, to, typed);
        const double degrees = std::fmod(std::round(line.angle() * 10) / 10, 180);
        return Viewport::Request::Shown{{line.p1(), line.p2()}, tr("%1°").arg(degrees)};
    };
    request.line = [this, s = *subject](const QPointF& from, const QPointF& to) {
        const Camera& c = viewport_->camera();
        const QSize size = viewport_->size();
        const auto plane = plane_of_line(c.eye(), c.ray(from, size), c.ray(to, size), apply(s.stands, s.box.center()));
        if (!plane) return;
        const Transform home(s.stands.inverse());
        put_plane(s, apply(home, plane->origin), apply_direction(home, plane->normal));
    };
    request.typed = [line = request.line, at_angle](const QPointF& from, const QPointF& to,
                                                    const std::vector<double>& typed) {
        const QLineF at = at_angle(from, to, typed);
        line(at.p1(), at.p2());
    };
    request.click = [this, s = *subject](const Viewport::Hit& hit) {
        ask_flat_face(s, hit, [this, s](std::vector<Anchor> face, const Vec3& place, const Vec3& normal) {
            put_plane(s, place, normal, std::move(face));
        });
    };
    request.key = [this, across, s = *subject](int key) {
        if (key == Qt::Key_P) {
            ask_points(s, {});
            return true;
        }
        const int axis = key - Qt::Key_X;
        if (axis < 0 || axis > 2) return false;
        viewport_->end_asking();
        across(axis);
        return true;
    };
    viewport_->ask(std::move(request));
}

/// One after the other, until there are three.
void Window::ask_points(const CutSubject& subject, const std::vector<Vec3>& so_far) {
    if (so_far.size() == 3) {
        const auto plane = plane_through(so_far[0], so_far[1], so_far[2]);
        if (!plane) {
            hint_line_->show_hint(tr("These three points lie on one line: no plane is told by them."));
            return;
        }
        const Transform home(subject.stands.inverse());
        put_plane(subject, apply(home, plane->origin), apply_direction(home, plane->normal));
        return;
    }
    const QString which[] = {tr("first"), tr("second"), tr("third")};
    viewport_->pick(
        tr("Click the %1 point of the plane: corners, middles and centres are met exactly. Esc: leave it.")
            .arg(which[so_far.size()]),
        {},
        [this, subject, so_far](const Viewport::Hit& hit) {
            std::vector<Vec3> points = so_far;
            points.push_back(hit.place);
            ask_points(subject, points);
        },
        true);
}

/// What a clicked flat face holds on to, worked out where the body was, in the coordinates of the list.
void Window::ask_flat_face(const CutSubject& subject, const Viewport::Hit& hit,
                           std::function<void(std::vector<Anchor>, const Vec3&, const Vec3&)> then) {
    const auto outcome = controller_.outcome();
    if (!outcome || !outcome->evaluation) return;
    const auto lineage = outcome->evaluation->lineages.find(subject.list);
    const ReadyMesh* body = controller_.body_of_list(subject.list);
    if (!body || lineage == outcome->evaluation->lineages.end() || hit.mesh != body->mesh) {
        hint_line_->show_hint(tr("Click a face of %1.").arg(subject.name));
        return;
    }
    const std::array<Vec3, 3> corners{hit.mesh->corner(hit.face, 0), hit.mesh->corner(hit.face, 1),
                                      hit.mesh->corner(hit.face, 2)};
    const Transform home(hit.stands.inverse());
    const Vec3 place = apply(home, hit.place), normal = apply(home, hit.place + hit.normal) - place;
    auto held = std::make_shared<std::vector<Anchor>>();
    controller_.ask(
        "holding on",
        [held, corners, mesh = body->mesh, of = lineage->second](Progress&) {
            *held = anchors_of_flat_face(corners, welded(*mesh), *tags_of(*of));
        },
        [this, held, place, normal, then = std::move(then)] {
            then(std::move(*held), place, normal);  // of a facet of something round nothing is held
        });
}

/// Another flat face for a cut that lies on one.
void Window::ask_face_of_cut(const Row& row) {
    const auto subject = cut_subject();
    if (!subject) return;
    viewport_->pick(tr("Click the flat face of %1 that the cut lies on. Esc: leave it.").arg(subject->name), {},
                    [this, s = *subject, id = row.step->id](const Viewport::Hit& hit) {
                        ask_flat_face(s, hit, [this, id](std::vector<Anchor> face, const Vec3&, const Vec3&) {
                            if (face.empty()) {
                                hint_line_->show_hint(tr("That is no flat face: click one."));
                                return;
                            }
                            Job job = controller_.job();
                            const FoundStep found = find_step(job, id);
                            if (!found.step) return;
                            const QString name = name_of(*found.step);
                            edit_step(job, id, [&](Step& step) { step.values["face"] = std::move(face); });
                            controller_.change(std::move(job), tr("%1: on another face").arg(name));
                        });
                    });
}

/// More places for a cut that has several, until Enter.
void Window::ask_places_of_cut(const Row& row, const Field& field) {
    viewport_->ask(
        {.asked = tr("Click where another one goes, with Ctrl on corners, middles and centres. Enter or Esc: done."),
         .click =
             [this, id = row.step->id, &field](const Viewport::Hit& hit) {
                 const auto now =
                     std::ranges::find_if(controller_.rows(), [&](const Row& r) { return r.step && r.step->id == id; });
                 if (now == controller_.rows().end()) return;
                 const Vec3 place = apply(Transform(now->stands.inverse()), hit.place);
                 Job job = controller_.job();
                 edit_step(job, id,
                           [&](Step& step) { step.values = with_place(std::move(step.values), field, place); });
                 const QString name = name_of(*now->step);
                 controller_.change(std::move(job), tr("%1: another place").arg(name));
                 if (const Row* again = controller_.row(chosen_); again && again->id.step() == id)
                     ask_places_of_cut(*again, field);
             },
         .key =
             [this](int key) {
                 if (key != Qt::Key_Return && key != Qt::Key_Enter) return false;
                 viewport_->end_asking();
                 return true;
             }});
}

/// A cut that is told by what is selected of the body: the row first, then the selection for it.
void Window::start_on_selection(const std::string& kind, Values values) {
    const auto subject = cut_subject();
    if (!subject) return;
    put_cut(*subject, kind, std::move(values));
    to_select_for_ = fresh_cut_;
}

/// Once the body before a new row is known, what that is used on is selected.
void Window::select_for_new() {
    const Row* row = controller_.row(chosen_);
    if (to_select_for_.empty() || !row || row->id.step() != to_select_for_) return;
    const RowOutcome* done = controller_.done(to_select_for_);
    if (!done || !done->from) return;
    to_select_for_.clear();
    hand_->choose_anew(*row);
}

/// A direction of the selected step by an edge that is clicked, or the line of sight; the same once more turns it
/// round.
void Window::take_direction(const Field& field, bool by_edge) {
    const Row* row = controller_.row(chosen_);
    if (!row || !row->step) return;
    if (!by_edge) {
        set_direction(field, apply_direction(Transform(row->stands.inverse()), viewport_->camera().direction()));
        return;
    }
    viewport_->pick(tr("Click near the edge that it runs along. Esc: leave it."), {},
                    [this, &field, id = row->step->id](const Viewport::Hit& hit) {
                        const Row* now = controller_.row(chosen_);
                        if (!now || now->id.step() != id || !hit.mesh) return;
                        const Transform home(hit.stands.inverse());
                        const Element e =
                            nearest_element(*hit.mesh, ElementKind::edges, hit.face, apply(home, hit.place));
                        const Vec3 along = hit.mesh->points[e[1]] - hit.mesh->points[e[0]];
                        set_direction(field, apply_direction(Transform(now->stands.inverse() * hit.stands), along));
                    });
}

void Window::set_direction(const Field& field, const Vec3& direction) {
    const Row* row = controller_.row(chosen_);
    if (!row || !row->step || !row->kind || !(norm(direction) > 0)) return;
    Job job = controller_.job();
    const Vec3 next = next_direction(value_of<Vec3>(*row->kind, row->step->values, field.name), direction);
    edit_step(job, row->step->id, [&](Step& step) { step.values[field.name] = next; });
    const QString name = name_of(*row->step);
    controller_.change(std::move(job), tr("%1: %2").arg(name, QString::fromStdString(field.label)));
}

/// Puts a plane cut into the list, in its coordinates.
void Window::put_plane(const CutSubject& subject, const Vec3& origin, const Vec3& normal, std::vector<Anchor> face) {
    put_cut(subject, "cut-plane", values_of_plane(origin, normal, std::move(face)));
}

void Window::start_drilling() {
    if (const auto subject = cut_subject()) ask_hole(*subject);
}

void Window::ask_hole(const CutSubject& subject) {
    Viewport::Request request;
    request.asked = tr("Click on %1 where a hole goes, with Ctrl on corners, middles and centres; one after the other. "
                       "Enter or Esc: done.")
                        .arg(subject.name);
    request.click = [this, subject](const Viewport::Hit& hit) {
        ask_flat_face(subject, hit, [this, subject](std::vector<Anchor> face, const Vec3& place, const Vec3& normal) {
            add_hole(subject, std::move(face), place, normal);
            ask_hole(subject);
        });
    };
    request.key = [this](int key) {
        if (key != Qt::Key_Return && key != Qt::Key_Enter) return false;
        viewport_->end_asking();
        hint_line_->show_hint(usual_hint());
        return true;
    };
    viewport_->ask(std::move(request));
}

/// Another hole of the selected step, where it lies on the same face; else a step of its own.
void Window::add_hole(const CutSubject& subject, std::vector<Anchor> face, const Vec3& place, const Vec3& normal) {
    const Row* row = controller_.row(chosen_);
    const Values* before = row && row->cuts() && row->kind->word == "drill" && row->list->id == subject.list
                               ? &row->step->values
                               : nullptr;
    if (before && goes_with_holes(*before, face, place, normal)) {
        Job job = controller_.job();
        edit_step(job, row->step->id, [&](Step& step) { step.values = with_hole(std::move(step.values), place); });
        controller_.change(std::move(job), tr("another hole"));
        return;
    }
    put_cut(subject, "drill", values_of_hole(place, normal, std::move(face), subject.box));
}

/// Puts a new cut into the list, and selects it. Until something else is selected Esc takes it back.
void Window::put_cut(const CutSubject& subject, const std::string& kind, Values values) {
    Job job = controller_.job();
    if (!job.find_part(subject.list)) return;
    // What is typed while dragging may be any number; a job with one that is out of range could not be opened again.
    if (const auto checked = check_values(*find_kind(kind), values); !checked) {
        hint_line_->show_hint(QString::fromStdString(checked.error().sentence()));
        return;
    }
    const std::string step = add_treatment(job, controller_.end_of(subject.list), kind, std::move(values));
    before_cut_ = chosen_;
    controller_.change(std::move(job), QString::fromStdString(find_kind(kind)->name));
    choose_step(step);
    fresh_cut_ = step;
    viewport_->setFocus();
    hint_line_->show_hint(usual_hint());
}

/// Keys of a selected cut in the view.
bool Window::take_cut_key(int key) {
    const Row* row = controller_.row(chosen_);
    if (!row || !row->step || !row->kind || !(row->cuts() || row->kind->find_field("keep"))) return false;
    if (key == Qt::Key_Escape && fresh_cut_ == row->step->id) {
        const std::string step = std::exchange(fresh_cut_, {});
        while (controller_.history().can_undo() && find_step(controller_.job(), step).step) controller_.undo();
        choose(before_cut_);
        hint_line_->show_hint(tr("Taken back: the body is as it was."));
        return true;
    }
    if ((key == Qt::Key_Return || key == Qt::Key_Enter) && !fresh_cut_.empty()) {
        fresh_cut_.clear();
        hint_line_->show_hint(tr("Kept. The cut stays a row of the job sheet, where it can be changed at any time."));
        return true;
    }
    if (key == Qt::Key_K && row->kind->word == "notch") {
        Job job = controller_.job();
        if (!swap_sides_of_notch(job, row->step->id)) {
            hint_line_->show_hint(tr("Both sides of it are as wide: there is nothing to turn round."));
            return true;
        }
        controller_.change(std::move(job), tr("notch: sides turned round"));
        return true;
    }
    if (key == Qt::Key_K) return swap_kept_side(*row);
    return false;
}

/// Both sides, the one in front, the one behind, and so on.
bool Window::swap_kept_side(const Row& row) {
    Job job = controller_.job();
    const std::string now = next_kept_side(job, row.step->id);
    if (now.empty()) return false;
    controller_.change(std::move(job), tr("%1: keep").arg(name_of(*row.step)));
    hint_line_->show_hint(now == "both"    ? tr("Both sides stay, as pieces.")
                          : now == "front" ? tr("The side in front stays; what is hatched goes.")
                                           : tr("The side behind stays; what is hatched goes."));
    return true;
}

}  // namespace anvil::app
