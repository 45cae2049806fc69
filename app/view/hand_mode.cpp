#include "app/view/hand_mode.h"

#include "app/words.h"
#include "core/inspect/finding_lines.h"
#include "core/job/anchors.h"
#include "core/mesh/chain.h"

namespace anvil::app {
namespace {

/// As a field for elements holds them.
std::vector<Vec3> value_of_selection(const Mesh& mesh, const Selection& selection, const Field& field) {
    std::vector<Vec3> points = points_at(mesh, converted(mesh, selection, field.of));
    if (!field.as_box || points.empty()) return points;
    Box box;
    for (const Vec3& p : points) box.add(p);
    return {box.low, box.high};
}

}  // namespace

std::shared_ptr<const DisplayMesh> display_of(const Mesh& mesh, const Selection& selection) {
    if (selection.empty() || selection.kind == ElementKind::points) return nullptr;
    if (selection.kind == ElementKind::faces) {
        Mesh some;
        some.points = mesh.points;
        for (const Element& e : selection.elements) some.faces.push_back({e[0], e[1], e[2]});
        return std::make_shared<const DisplayMesh>(make_display(some, usual_crease));
    }
    std::vector<std::vector<Vec3>> lines;
    for (const Element& e : selection.elements) lines.push_back({mesh.points[e[0]], mesh.points[e[1]]});
    return std::make_shared<const DisplayMesh>(make_display_lines(lines));
}

HandMode::HandMode(JobController& controller, QObject* parent) : QObject(parent), controller_(controller) {
    connect(&controller_, &JobController::evaluated, this, &HandMode::take_mesh);
    connect(&controller_, &JobController::job_changed, this, [this] {
        if (is_on() && (!controller_.job().find_part(list_) || (!chosen_for_.empty() && !step_chosen_for()))) stop();
    });
}

void HandMode::start(const std::string& list, const Transform& stands) {
    list_ = list;
    stands_ = stands;
    takes_lines_ = false;
    chosen_for_.clear();
    of_ = nullptr;
    selection_ = {selection_.kind, {}};
    take_mesh();
    Q_EMIT changed();
}

HandMode::Target HandMode::target_of(const Step& step) {
    const Kind* copies = step.operand && step.operand->copies ? find_copies(step.operand->copies->kind) : nullptr;
    if (copies && copies->held_field()) return {copies, copies->held_field(), true};
    const Kind* kind = find_kind(step.kind);
    if (!kind) return {};
    return {kind, kind->held_field() ? kind->held_field() : kind->elements_field(), false};
}

void HandMode::choose_anew(const Row& row) {
    const Target target = target_of(*row.step);
    if (!target.field) return;
    const Field& field = *target.field;
    takes_lines_ = field.type == Field::Type::held && field.of == ElementKind::edges;
    list_ = row.list->id;
    stands_ = row.stands;
    chosen_for_ = row.step->id;
    of_ = nullptr;
    mesh_ = {};
    picker_ = nullptr;
    NamedElements now;
    now.selection.kind = field.of;
    if (const auto at = row.step->values.find(field.name);
        field.type == Field::Type::elements && at != row.step->values.end() && !field.as_box)
        now = elements_at(field.of, std::get<std::vector<Vec3>>(at->second));
    mesh_ = std::move(now.mesh);  // from which it is carried over
    selection_ = std::move(now.selection);
    take_mesh();
    Q_EMIT changed();
    if (takes_lines_) Q_EMIT said(tr("Click near an edge: all that go on from it are selected. Then press Use these."));
}

const Step* HandMode::step_chosen_for() const {
    return chosen_for_.empty() ? nullptr : find_step(controller_.job(), chosen_for_).step;
}

void HandMode::take() {
    const Step* step = step_chosen_for();
    if (!step) return;
    const Target target = target_of(*step);
    if (!target.field) return;
    if (target.field->type == Field::Type::held) {
        take_held(*step, target);
        return;
    }
    std::vector<Vec3> points = value_of_selection(mesh_, selection_, *target.field);
    if (points.empty())
        Q_EMIT said(tr("Select something that the tool can be used on."));
    else
        set_value(chosen_for_, target, std::move(points));
}

/// What is held is told by what made it, which is worked out where the body was.
void HandMode::take_held(const Step& step, const Target& target) {
    const RowOutcome* done = controller_.done(step.id);
    Selection chosen = converted(mesh_, selection_, target.field->of);
    if (chosen.empty() || !done || !done->lineage) {
        Q_EMIT said(tr("Select something that it can hold on to."));
        return;
    }
    auto anchors = std::make_shared<std::vector<Anchor>>();
    controller_.ask(
        "holding on",
        [anchors, mesh = mesh_, chosen = std::move(chosen), lineage = done->lineage](Progress&) {
            *anchors = anchors_of(chosen, mesh, *tags_of(*lineage));
        },
        [this, anchors, target, id = step.id] {
            if (chosen_for_ == id) set_value(id, target, std::move(*anchors));
        });
}

void HandMode::set_value(const std::string& step, const Target& target, Value value) {
    Job job = controller_.job();
    edit_step(job, step, [&](Step& next) {
        Values& values =
            target.of_copies && next.operand && next.operand->copies ? next.operand->copies->values : next.values;
        values[target.field->name] = std::move(value);
    });
    const QString name = QString::fromStdString(target.kind->name);
    stop();
    controller_.change(std::move(job), tr("%1: what it is used on").arg(name));
}

void HandMode::stop() {
    if (!is_on()) return;
    list_.clear();
    chosen_for_.clear();
    of_ = nullptr;
    mesh_ = {};
    picker_ = nullptr;
    set({selection_.kind, {}});
}

void HandMode::take_mesh() {
    if (!is_on()) return;
    if (!chosen_for_.empty()) {
        const RowOutcome* done = controller_.done(chosen_for_);
        if (!done || !done->from || done->from == of_) return;
        auto picker = std::make_shared<std::shared_ptr<const Picker>>();
        controller_.ask(
            "picking for a step",
            [body = done->from, picker](Progress&) { *picker = std::make_shared<const Picker>(*body); },
            [this, body = done->from, picker, step = chosen_for_] {
                if (chosen_for_ == step) go_over_to(body, *picker);
            });
        return;
    }
    const ReadyMesh* body = controller_.body_of_list(list_);
    if (!body || body->mesh == of_) return;
    go_over_to(body->mesh, body->picker);
    if (!waits_) return;
    waits_ = false;
    const RowOutcome* done = controller_.done(edit_);
    if (done && done->error)
        Q_EMIT said(QString::fromStdString(done->error->sentence()));
    else if (done && done->treated)
        Q_EMIT said(QString::fromStdString(done->treated->said));
}

/// What is chosen goes over, by where it is.
void HandMode::go_over_to(const std::shared_ptr<const Mesh>& body, const std::shared_ptr<const Picker>& picker) {
    Mesh mesh = welded(*body);
    Selection kept = carried_over(selection_, mesh_, mesh);
    of_ = body;
    picker_ = picker;
    mesh_ = std::move(mesh);
    set(std::move(kept));
}

void HandMode::set(Selection selection) {
    selection_ = std::move(selection);
    display_ = display_of(mesh_, selection_);
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
    const Selection creases = takes_lines() ? creases_of(mesh_, usual_crease) : Selection();
    if (!creases.empty()) {
        choose(along_creases({ElementKind::edges, {nearest_edge(mesh_, creases, at)}}, creases).elements, how);
        return;
    }
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
void HandMode::chain() {
    set(along_creases(converted(mesh_, selection_, ElementKind::edges), creases_of(mesh_, usual_crease)));
}
void HandMode::grow() { set(grown(mesh_, selection_)); }
void HandMode::shrink() { set(shrunk(mesh_, selection_)); }
void HandMode::invert() { set(inverted(mesh_, selection_)); }
void HandMode::none() { set({selection_.kind, {}}); }

void HandMode::use(HandTool tool) {
    if (!is_on() || selection_.empty() || !chosen_for_.empty()) return;
    Job job = controller_.job();
    if (!job.find_part(list_)) return;
    const Field& field = *find_kind(word(tool))->elements_field();
    const HandEdit edit{.tool = tool,
                        .points = value_of_selection(mesh_, selection_, field),
                        .fill = fill_,
                        .cell = tool == HandTool::rebuild_region ? cell_ : 0};
    if (edit.points.empty()) {
        Q_EMIT said(tr("Select something that the tool can be used on."));
        return;
    }
    edit_ = add_edit(job, controller_.end_of(list_), edit);
    waits_ = true;
    controller_.change(std::move(job), words_of(tool).name);
}

}  // namespace anvil::app
