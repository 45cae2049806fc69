// What the view draws: the result, the cutters, a body alone, and what marks findings.
#include "app/view/viewport.h"

namespace anvil::app {

/// The body at a treatment by itself: after it, before it, or coloured by the distance between the two. While it is
/// worked on by hand: as all of its list leaves it.
void Viewport::add_alone(Scene& scene, bool before) const {
    auto& looks = const_cast<Looks&>(looks_);
    auto add = [&](std::shared_ptr<const DisplayMesh> display, const Transform& stands) {
        if (!display || display->triangles.empty()) return false;
        scene.bounds = placed(display->bounds, stands);
        scene.items.push_back({std::move(display), stands, SceneItem::Look::body, false});
        return true;
    };
    if (hand_.is_on()) {
        const ReadyMesh* body = controller_.body_of_list(hand_.list());
        if (const auto& mesh = hand_.body();
            mesh && add(body && body->mesh == mesh ? body->display : looks.plain(mesh), hand_.stands()))
            add_surface(scene, mesh);
        return;
    }
    const Row* row = controller_.row(alone_);
    if (!row) return;
    const RowOutcome* done = controller_.shown(*row);
    const ReadyMesh* last = controller_.body_of_list(row->list->id);
    if (!done || !done->from) {  // off, or not worked out: the body as it is without
        if (last && add(last->display, row->stands)) add_surface(scene, last->mesh);
        return;
    }
    const std::shared_ptr<const Mesh> after = done->treated && done->treated->mesh ? done->treated->mesh : done->from;
    auto displayed = [&](const std::shared_ptr<const Mesh>& mesh) {
        return last && last->mesh == mesh ? last->display : looks.plain(mesh);
    };
    // Both are asked for, so that flipping between them shows no gap.
    const auto display_before = displayed(done->from), display_after = displayed(after);
    const bool given = before || compare_ == Compare::before;
    std::shared_ptr<const DisplayMesh> display = given ? display_before : display_after;
    if (compare_ == Compare::distance)
        if (const auto coloured = looks.distances(after, done->from).display) display = coloured;
    if (!add(display ? display : last ? last->display : nullptr, row->stands)) return;
    if (display_before) scene.bounds.add(placed(display_before->bounds, row->stands));
    if (compare_ != Compare::distance) add_surface(scene, given ? done->from : after);
}

const Field* Viewport::field_used_on() const {
    const Row* row = hand_.is_on() ? nullptr : controller_.row(alone_);
    return row && row->kind && row->kind->panel.empty() ? row->kind->elements_field() : nullptr;
}

/// What the step of the row that is shown alone is used on.
NamedElements Viewport::used_on(bool before) const {
    const Field* field = field_used_on();
    if (!field) return {};
    const Row* row = controller_.row(alone_);
    const auto at = row->step->values.find(field->name);
    if (at == row->step->values.end()) return {};
    const auto& points = std::get<std::vector<Vec3>>(at->second);
    if (field->as_box) return box_round(points);
    const NamedElements used = elements_at(field->of, points);
    // Faces may be gone, or changed: beside the body after it, and its colours, their rim says where they were.
    return field->of == ElementKind::faces && !before ? rim_of(used) : used;
}

/// Shows the first body of the scene, whose mesh this is, as the chosen surface asks for.
void Viewport::add_surface(Scene& scene, const std::shared_ptr<const Mesh>& mesh) const {
    if (scene.items.empty() || !mesh || surface_ == Surface::plain) return;
    auto& looks = const_cast<Looks&>(looks_);
    if (surface_ != Surface::findings) {
        if (auto display = looks.surface(mesh, surface_)) scene.items.front().mesh = std::move(display);
        return;
    }
    scene.items.front().look = SceneItem::Look::ghost;
    if (!inspection_) return;
    if (auto display = looks.findings(inspection_, kind_); display && !display->triangles.empty())
        scene.items.push_back({std::move(display), inspected_at_, SceneItem::Look::fault, false});
}

/// The lines of the kind of finding that is chosen in the ledger.
void Viewport::add_marks(Scene& scene) const {
    if (!inspection_ || !kind_) return;
    if (auto display = const_cast<Looks&>(looks_).lines(inspection_, *kind_); display && !display->creases.empty())
        scene.items.push_back({std::move(display), inspected_at_, SceneItem::Look::mark, false});
}

Scene Viewport::scene(bool before) const {
    Scene scene;
    scene.see_through = see_through_;
    scene.section = section_;
    const auto outcome = controller_.outcome();
    if (!outcome) return scene;
    auto add = [&](const ReadyMesh& ready, const Transform& stands, SceneItem::Look look, bool chosen) {
        if (!ready.display || ready.display->triangles.empty()) return;
        scene.items.push_back({ready.display, stands, look, chosen});
        scene.bounds.add(placed(ready.display->bounds, stands));
    };
    if (is_alone()) {
        add_alone(scene, before);
        if (!before && compare_ != Compare::before) add_marks(scene);
        auto add_elements = [&](const std::shared_ptr<const DisplayMesh>& display, const Transform& stands) {
            if (display)
                scene.items.push_back({display, stands,
                                       display->triangles.empty() ? SceneItem::Look::curve : SceneItem::Look::picked,
                                       false});
        };
        if (hand_.is_on())
            add_elements(hand_.display(), hand_.stands());
        else if (const NamedElements used = used_on(before || compare_ == Compare::before); !used.selection.empty())
            add_elements(display_of(used.mesh, used.selection), controller_.row(alone_)->stands);
        return scene;
    }
    using Look = SceneItem::Look;
    const Row* chosen_row = movable();
    const bool base_chosen = chosen_row && chosen_row->is_base();
    const bool has_result = outcome->evaluation && outcome->evaluation->has_base;
    if (has_result && surface_ == Surface::plain && !outcome->pieces.empty()) {
        // By pieces: each is hatched by itself in a section, and they can be spread.
        const Vec3 middle = outcome->result.display->bounds.center();
        for (const auto& piece : outcome->pieces) {
            const Transform stands =
                controller_.result_stands() * translation((piece->bounds.center() - middle) * spread_);
            scene.items.push_back({piece, stands, SceneItem::Look::body, base_chosen});
            scene.bounds.add(placed(piece->bounds, stands));
        }
    } else if (has_result) {
        add(outcome->result, controller_.result_stands(), SceneItem::Look::body, base_chosen);
        add_surface(scene, outcome->result.mesh);
    }
    for (const Row& row : controller_.rows()) {
        const bool chosen = chosen_row == &row;
        if (row.is_base() ? has_result : row.step && !row.combines()) continue;
        const auto [ready, stands] = controller_.body_of(row);
        if (!ready) continue;
        if (!row.step) {
            add(*ready, stands, row.idle ? Look::idle : Look::body, chosen);
            if (!row.idle) add_surface(scene, ready->mesh);
            continue;
        }
        const Operation operation = row.kind->operation;
        if (!chosen && (!row.step->on || controller_.is_below_stop(row))) continue;
        // What stays in sight as a part of the body needs no outline beside it.
        if (!chosen && (operation == Operation::union_of || operation == Operation::inlay ||
                        operation == Operation::pieces || operation == Operation::gather))
            continue;
        const Look look = operation == Operation::union_of       ? Look::union_of
                          : operation == Operation::difference   ? Look::difference
                          : operation == Operation::intersection ? Look::intersection
                                                                 : Look::other;
        if (chosen || controller_.error()) add(*ready, stands, look, chosen);
    }
    if (const Row* cut = cut_row())
        if (const auto [ready, stands] = controller_.body_of(*cut); ready) {
            // What is shown of a cut that keeps one side is the side that goes.
            const Field* keep = cut->kind->find_field("keep");
            const bool both = keep && value_of<std::string>(*cut->kind, cut->step->values, keep->name) == "both";
            scene.items.push_back({ready->display, stands, both ? Look::other : Look::difference, true});
            // Where it comes out, and goes in.
            if (const auto curves = outcome->curves.find(cut->step->id); curves != outcome->curves.end())
                scene.items.push_back({curves->second, controller_.result_stands(), Look::curve, true});
        }
    if (const auto curves = outcome->curves.find(chosen_.part);
        curves != outcome->curves.end() && chosen_row && !base_chosen)
        scene.items.push_back({curves->second, controller_.result_stands(), SceneItem::Look::curve, true});
    add_marks(scene);
    if (outcome->closed_holes)
        scene.items.push_back({outcome->closed_holes, controller_.result_stands(), SceneItem::Look::rim, false});
    return scene;
}

}  // namespace anvil::app
