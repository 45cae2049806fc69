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
    takes_lines_ = takes_regions_ = false;
    chosen_for_.clear();
    begin(kind());
    take_mesh();
    Q_EMIT changed();
}

HandMode::Target HandMode::target_of(const Step& step) {
    const Kind* copies = step.operand && step.operand->copies ? find_copies(step.operand->copies->kind) : nullptr;
    if (copies && copies->held_field()) return {copies, copies->held_field(), true};
    const Kind* kind = find_kind(step.kind);
    if (!kind) return {};
    const Field* held = kind->held_field(step.values);
    return {kind, held ? held : kind->elements_field(), false};
}

void HandMode::choose_anew(const Row& row) {
    const Target target = target_of(*row.step);
    if (!target.field) return;
    const Field& field = *target.field;
    takes_lines_ = field.type == Field::Type::held && field.of == ElementKind::edges;
    takes_regions_ = field.type == Field::Type::held && field.of == ElementKind::faces;
    list_ = row.list->id;
    stands_ = row.stands;
    chosen_for_ = row.step->id;
    begin(field.of);
    if (const auto at = row.step->values.find(field.name);
        field.type == Field::Type::elements && at != row.step->values.end() && !field.as_box) {
        auto [mesh, selection] = elements_at(field.of, std::get<std::vector<Vec3>>(at->second));
        now_.ground->mesh = std::move(mesh);  // from which it is carried over
        now_.selection = std::move(selection);
    }
    take_mesh();
    Q_EMIT changed();
    if (takes_regions_)
        Q_EMIT said(
            tr("Click a face: all of it up to its creases is selected, with Shift more. Then press Use these."));
    if (field.type == Field::Type::held && field.of == ElementKind::points)
        Q_EMIT said(tr("Click points, with Shift more. Then press Use these."));
    if (takes_lines_) Q_EMIT said(tr("Click near an edge: all that go on from it are selected. Then press Use these."));
}

const Step* HandMode::step_chosen_for() const {
    return chosen_for_.empty() ? nullptr : find_step(controller_.job(), chosen_for_).step;
}

void HandMode::take() {
    in_turn([this] { take_selection(); });
}
void HandMode::take_selection() {
    const Step* step = step_chosen_for();
    if (!step) return;
    const Target target = target_of(*step);
    if (!target.field) return;
    if (target.field->type == Field::Type::held) {
        take_held(*step, target);
        return;
    }
    std::vector<Vec3> points = value_of_selection(mesh(), selection(), *target.field);
    if (points.empty())
        Q_EMIT said(tr("Select something that the tool can be used on."));
    else
        set_value(chosen_for_, target, std::move(points));
}

/// What is held is told by what made it, which is worked out where the body was.
void HandMode::take_held(const Step& step, const Target& target) {
    const RowOutcome* done = controller_.done(step.id);
    Selection chosen = converted(mesh(), selection(), target.field->of);
    if (chosen.empty() || !done || !done->lineage) {
        Q_EMIT said(tr("Select something that it can hold on to."));
        return;
    }
    auto anchors = std::make_shared<std::vector<Anchor>>();
    controller_.ask(
        "holding on",
        [anchors, ground = now_.ground, chosen = std::move(chosen), lineage = done->lineage](Progress&) {
            *anchors = anchors_of(chosen, ground->mesh, *tags_of(*lineage));
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
    begin(kind());
    Q_EMIT changed();
}

void HandMode::begin(ElementKind kind) {
    ++begun_;
    waiting_.clear();
    at_work_ = false;
    of_ = nullptr;
    picker_ = nullptr;
    now_ = {};
    now_.selection.kind = kind;
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
    of_ = body;
    picker_ = picker;
    change([body](Now& now) {
        auto ground = std::make_shared<Ground>(Ground{welded(*body)});
        now.selection = carried_over(now.selection, now.ground->mesh, ground->mesh);
        now.ground = std::move(ground);
    });
}

const Selection& HandMode::Ground::its_creases() {
    if (!creases) creases = creases_of(mesh, usual_crease);
    return *creases;
}

void HandMode::change(Change how) {
    waiting_.push_back({.change = std::move(how)});
    do_waiting();
}
void HandMode::select_by(std::function<Selection(const Mesh&, const Selection&)> how) {
    change([how = std::move(how)](Now& now) { now.selection = how(now.ground->mesh, now.selection); });
}
void HandMode::in_turn(std::function<void()> action) {
    waiting_.push_back({.action = std::move(action)});
    do_waiting();
}

void HandMode::do_waiting() {
    constexpr std::size_t large = 20'000;  // faces
    while (!at_work_ && !waiting_.empty()) {
        if (const auto action = std::move(waiting_.front().action)) {
            waiting_.pop_front();
            action();
            continue;
        }
        // All that wait, at once: only the last is drawn.
        std::vector<Change> changes;
        for (; !waiting_.empty() && waiting_.front().change; waiting_.pop_front())
            changes.push_back(std::move(waiting_.front().change));
        auto made = std::make_shared<Now>(now_);
        auto work = [made, changes = std::move(changes)] {
            const std::shared_ptr<Ground> ground = made->ground;
            const Selection before = made->selection;
            for (const Change& change : changes) change(*made);
            // A brush goes over what it has chosen again and again.
            if (made->ground == ground && made->selection == before) return;
            made->display = display_of(made->ground->mesh, made->selection);
        };
        auto then = [this, begun = begun_](Now* taken) {
            if (begun != begun_) return;
            at_work_ = false;
            if (!taken) return;
            now_ = std::move(*taken);
            Q_EMIT changed();
        };
        at_work_ = true;
        if (!of_ || of_->faces.size() <= large) {
            work();
            then(made.get());
            continue;
        }
        controller_.aside(std::move(work), [this, then, made](bool done) {
            then(done ? made.get() : nullptr);
            do_waiting();
        });
    }
}

std::vector<Vec3> HandMode::chosen_points() const {
    std::vector<Vec3> out;
    if (kind() == ElementKind::points)
        for (const Element& e : selection().elements) out.push_back(mesh().points[e[0]]);
    return out;
}

void HandMode::set_kind(ElementKind kind) {
    select_by([kind](const Mesh& mesh, const Selection& now) { return converted(mesh, now, kind); });
}
void HandMode::set_gesture(Gesture gesture) {
    gesture_ = gesture;
    Q_EMIT changed();
}
void HandMode::set_visible_only(bool on) {
    visible_only_ = on;
    Q_EMIT changed();
}

void HandMode::choose_by(std::function<std::vector<Element>(Ground&, ElementKind)> which, How how) {
    change([which = std::move(which), how](Now& now) {
        const std::vector<Element> elements = which(*now.ground, now.selection.kind);
        if (how == How::replace) now.selection.elements.clear();
        if (how == How::take)
            now.selection.take(elements);
        else
            now.selection.add(elements);
    });
}
void HandMode::choose(std::span<const Element> elements, How how) {
    choose_by(
        [chosen = std::vector<Element>(elements.begin(), elements.end())](Ground&, ElementKind) { return chosen; },
        how);
}
void HandMode::choose_at(FaceId face, const Vec3& at, How how) {
    choose_by(
        [face, at, lines = takes_lines_, regions = takes_regions_](Ground& on,
                                                                   ElementKind kind) -> std::vector<Element> {
            if (face.value() >= on.mesh.faces.size()) return {};
            if (regions && kind == ElementKind::faces)
                return within_creases(on.mesh, {kind, {nearest_element(on.mesh, kind, face, at)}}, usual_crease)
                    .elements;
            if (!lines || kind != ElementKind::edges || on.its_creases().empty())
                return {nearest_element(on.mesh, kind, face, at)};
            const Selection& creases = on.its_creases();
            return along_creases({ElementKind::edges, {nearest_edge(on.mesh, creases, at)}}, creases).elements;
        },
        how);
}
void HandMode::choose_in(const ViewMap& view, std::span<const Point2> outline, How how) {
    if (!picker_) return;
    choose_by(
        [view, line = std::vector<Point2>(outline.begin(), outline.end()), visible = visible_only_, picker = picker_](
            Ground& on, ElementKind kind) { return elements_in(on.mesh, kind, view, line, visible, *picker); },
        how);
}
void HandMode::choose_findings(const std::shared_ptr<const Inspection>& inspection, FindingKind finding) {
    // Inspected as it is here, it has the same points in the same order.
    select_by([inspection, finding](const Mesh& mesh, const Selection& now) {
        return inspection->mesh.points.size() == mesh.points.size() ? selection_of(*inspection, finding, now.kind)
                                                                    : now;
    });
}
void HandMode::connected() { select_by(anvil::connected); }
void HandMode::region() {
    select_by([](const Mesh& mesh, const Selection& now) { return within_creases(mesh, now, usual_crease); });
}
void HandMode::chain() {
    change([](Now& now) {
        now.selection =
            along_creases(converted(now.ground->mesh, now.selection, ElementKind::edges), now.ground->its_creases());
    });
}
void HandMode::grow() { select_by(grown); }
void HandMode::shrink() { select_by(shrunk); }
void HandMode::invert() { select_by(inverted); }
void HandMode::none() {
    select_by([](const Mesh&, const Selection& now) { return Selection{now.kind, {}}; });
}

void HandMode::use(HandTool tool) {
    in_turn([this, tool] { use_selection(tool); });
}

void HandMode::use_selection(HandTool tool) {
    if (!is_on() || selection().empty() || !chosen_for_.empty()) return;
    Job job = controller_.job();
    if (!job.find_part(list_)) return;
    const Field& field = *find_kind(word(tool))->elements_field();
    const HandEdit edit{.tool = tool,
                        .points = value_of_selection(mesh(), selection(), field),
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
