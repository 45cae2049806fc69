// What the view draws: the result, the cutters, a part alone, and what marks findings.
#include "app/view/viewport.h"

namespace anvil::app {

/// A part by itself: mended, as it came, or coloured by the distance between the two.
void Viewport::add_alone(Scene& scene, bool before) const {
    const Part* part = controller_.job().find_part(alone_);
    const auto ready = controller_.outcome()->parts.find(alone_);
    if (!part || ready == controller_.outcome()->parts.end()) return;
    const bool given = before || compare_ == Compare::before;
    std::shared_ptr<const DisplayMesh> display = given ? ready->second.given_display : ready->second.display;
    if (compare_ == Compare::distance)
        if (const auto coloured = const_cast<Looks&>(looks_).distances(ready->second.mesh, ready->second.given).display)
            display = coloured;
    if (!display || display->triangles.empty()) return;
    scene.items.push_back({display, part->placement, SceneItem::Look::body, false});
    Box both = ready->second.given_display->bounds;
    both.add(ready->second.display->bounds);
    scene.bounds = placed(both, part->placement.transform());
    if (compare_ != Compare::distance) add_surface(scene, given ? ready->second.given : ready->second.mesh);
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
    const auto outcome = controller_.outcome();
    if (!outcome) return scene;
    const Job& job = controller_.job();
    auto add = [&](const ReadyMesh& ready, const Placement& placement, SceneItem::Look look, bool chosen) {
        if (!ready.display || ready.display->triangles.empty()) return;
        scene.items.push_back({ready.display, placement, look, chosen});
        scene.bounds.add(placed(ready.display->bounds, placement.transform()));
    };
    if (!alone_.empty()) {
        add_alone(scene, before);
        if (!before && compare_ != Compare::before) add_marks(scene);
        if (const Part* part = job.find_part(hand_.part()); part && hand_.display()) {
            const bool faces = hand_.kind() == ElementKind::faces;
            scene.items.push_back(
                {hand_.display(), part->placement, faces ? SceneItem::Look::picked : SceneItem::Look::curve, false});
        }
        return scene;
    }
    if (outcome->evaluation && outcome->evaluation->has_base) {
        add(outcome->result, {}, SceneItem::Look::body, chosen_ == job.base);
        add_surface(scene, outcome->result.mesh);
    } else if (const Part* base = job.find_part(job.base)) {
        if (const auto ready = outcome->parts.find(base->id); ready != outcome->parts.end()) {
            add(ready->second, base->placement, SceneItem::Look::body, chosen_ == job.base);
            add_surface(scene, ready->second.mesh);
        }
    }
    for (std::size_t i = 0; i < job.steps.size(); ++i) {
        const Step& step = job.steps[i];
        const Part* part = job.find_part(step.part);
        const auto ready = outcome->parts.find(step.part);
        if (!part || ready == outcome->parts.end()) continue;
        const bool chosen = chosen_step_.empty() ? chosen_ == step.part : chosen_step_ == step.id;
        if (!chosen && (!step.on || i >= controller_.stop_after())) continue;
        // What stays in sight as a part of the body needs no outline beside it.
        if (!chosen && (step.operation == Operation::union_of || step.operation == Operation::inlay ||
                        step.operation == Operation::pieces || step.operation == Operation::gather))
            continue;
        using Look = SceneItem::Look;
        const Look look = step.operation == Operation::union_of       ? Look::union_of
                          : step.operation == Operation::difference   ? Look::difference
                          : step.operation == Operation::intersection ? Look::intersection
                                                                      : Look::other;
        if (chosen || controller_.error()) add(ready->second, part->placement, look, chosen);
    }
    if (const auto curves = outcome->curves.find(chosen_); curves != outcome->curves.end() && chosen_ != job.base)
        scene.items.push_back({curves->second, {}, SceneItem::Look::curve, true});
    add_marks(scene);
    if (outcome->closed_holes) scene.items.push_back({outcome->closed_holes, {}, SceneItem::Look::rim, false});
    for (const Part* part : job.idle_parts())
        if (const auto ready = outcome->parts.find(part->id); ready != outcome->parts.end())
            add(ready->second, part->placement, SceneItem::Look::idle, chosen_ == part->id);
    return scene;
}

}  // namespace anvil::app
