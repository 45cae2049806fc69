#include "app/view/hand_mode.h"

#include "app/words.h"
#include "core/inspect/finding_lines.h"

namespace anvil::app {
HandMode::HandMode(JobController& controller, QObject* parent) : QObject(parent), controller_(controller) {
    connect(&controller_, &JobController::evaluated, this, &HandMode::take_mesh);
    connect(&controller_, &JobController::job_changed, this, [this] {
        if (is_on() && !controller_.job().find_part(list_)) stop();
    });
}

void HandMode::start(const std::string& list, const Transform& stands) {
    list_ = list;
    stands_ = stands;
    of_ = nullptr;
    selection_ = {selection_.kind, {}};
    take_mesh();
    Q_EMIT changed();
}

void HandMode::stop() {
    if (!is_on()) return;
    list_.clear();
    of_ = nullptr;
    mesh_ = {};
    picker_ = nullptr;
    set({selection_.kind, {}});
}

void HandMode::take_mesh() {
    const ReadyMesh* body = is_on() ? controller_.body_of_list(list_) : nullptr;
    if (!body || body->mesh == of_) return;
    Mesh mesh = welded(*body->mesh);
    Selection kept = of_ ? carried_over(selection_, mesh_, mesh) : selection_;
    of_ = body->mesh;
    picker_ = body->picker;
    mesh_ = std::move(mesh);
    set(std::move(kept));
    if (!waits_) return;
    waits_ = false;
    if (const auto done = controller_.mended(edits_); done && !done->by_hand.empty())
        Q_EMIT said(QString::fromStdString(done->by_hand.back().said));
}

void HandMode::set(Selection selection) {
    selection_ = std::move(selection);
    display_ = nullptr;
    if (!selection_.empty() && selection_.kind == ElementKind::faces) {
        Mesh some;
        some.points = mesh_.points;
        for (const Element& e : selection_.elements) some.faces.push_back({e[0], e[1], e[2]});
        display_ = std::make_shared<const DisplayMesh>(make_display(some, usual_crease));
    } else if (!selection_.empty() && selection_.kind == ElementKind::edges) {
        std::vector<std::vector<Vec3>> lines;
        for (const Element& e : selection_.elements) lines.push_back({mesh_.points[e[0]], mesh_.points[e[1]]});
        display_ = std::make_shared<const DisplayMesh>(make_display_lines(lines));
    }
    Q_EMIT changed();
}

std::vector<Vec3> HandMode::chosen_points() const {
    std::vector<Vec3> out;
    if (selection_.kind == ElementKind::points)
        for (const Element& e : selection_.elements) out.push_back(mesh_.points[e[0]]);
    return out;
}

void HandMode::set_kind(ElementKind kind) { set(converted(mesh_, selection_, kind)); }
void HandMode::set_gesture(Gesture gesture) {
    gesture_ = gesture;
    Q_EMIT changed();
}
void HandMode::set_visible_only(bool on) {
    visible_only_ = on;
    Q_EMIT changed();
}

void HandMode::choose(std::span<const Element> elements, How how) {
    Selection next = how == How::replace ? Selection{selection_.kind, {}} : selection_;
    if (how == How::take)
        next.take(elements);
    else
        next.add(elements);
    if (!(next == selection_)) set(std::move(next));
}
void HandMode::choose_at(FaceId face, const Vec3& at, How how) {
    if (face.value() >= mesh_.faces.size()) return;
    const Element e = nearest_element(mesh_, selection_.kind, face, at);
    choose(std::span(&e, 1), how);
}
void HandMode::choose_in(const ViewMap& view, std::span<const Point2> outline, How how) {
    if (picker_) choose(elements_in(mesh_, selection_.kind, view, outline, visible_only_, *picker_), how);
}
void HandMode::choose_findings(const Inspection& inspection, FindingKind finding) {
    // Inspected as it is here, it has the same points in the same order.
    if (inspection.mesh.points.size() == mesh_.points.size()) set(selection_of(inspection, finding, selection_.kind));
}
void HandMode::connected() { set(anvil::connected(mesh_, selection_)); }
void HandMode::region() { set(within_creases(mesh_, selection_, usual_crease)); }
void HandMode::grow() { set(grown(mesh_, selection_)); }
void HandMode::shrink() { set(shrunk(mesh_, selection_)); }
void HandMode::invert() { set(inverted(mesh_, selection_)); }
void HandMode::none() { set({selection_.kind, {}}); }

void HandMode::use(HandTool tool) {
    if (!is_on() || selection_.empty()) return;
    Job job = controller_.job();
    if (!job.find_part(list_)) return;
    const Selection named = converted(mesh_, selection_, elements_of(tool));
    HandEdit edit{.tool = tool, .fill = fill_, .cell = tool == HandTool::rebuild_region ? cell_ : 0};
    for (const Element& e : named.elements)
        for (std::size_t k = 0; k < static_cast<std::size_t>(points_of(named.kind)); ++k)
            edit.points.push_back(mesh_.points[e[k]]);
    if (edit.points.empty()) {
        Q_EMIT said(tr("Choose something that the tool can be used on."));
        return;
    }
    if (tool == HandTool::rebuild_region) {
        Box box;
        for (const Vec3& p : edit.points) box.add(p);
        edit.points = {box.low, box.high};
    }
    edits_ = add_edit(job, controller_.end_of(list_), edit);
    waits_ = true;
    controller_.change(std::move(job), words_of(tool).name);
}

}  // namespace anvil::app
