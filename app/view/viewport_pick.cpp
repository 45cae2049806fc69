// What the pointer is over, and what a click on it is asked for.
#include <QGuiApplication>
#include <cmath>
#include <utility>

#include "app/view/viewport.h"
#include "core/job/new_shape.h"

namespace anvil::app {

Viewport::Hit Viewport::hit_under(const QPointF& at, const std::string& but) const {
    const auto outcome = controller_.outcome();
    if (!outcome) return {};
    const Vec3 eye = camera_.eye(), ray = camera_.ray(at, size());
    double best = HUGE_VAL, from = 0, to = HUGE_VAL;
    if (section_) {
        const double slope = dot(ray, section_->normal);
        const double reach = slope == 0 ? -1 : dot(section_->origin - eye, section_->normal) / slope;
        if (section_->hides(eye))
            from = reach >= 0 ? reach : HUGE_VAL;
        else if (reach >= 0)
            to = reach;
    }
    Hit found;
    if (from == HUGE_VAL) return found;
    auto probe = [&](const ReadyMesh& ready, const Transform& stands, const std::string& id,
                     const Evaluation* evaluation) {
        if (!ready.picker) return;
        if (id == but) return;
        const Transform inverse(stands.inverse());
        const Vec3 direction = apply(inverse, eye + ray) - apply(inverse, eye);
        // Of what the section cuts away nothing is met.
        auto h = ready.picker->first_hit(apply(inverse, eye + ray * from), direction);
        if (!h || from + h->distance >= std::min(best, to)) return;
        best = from + h->distance;
        auto corner = [&](int k) { return apply(stands, ready.mesh->corner(h->face, k)); };
        const Vec3 normal = normalized(cross(corner(1) - corner(0), corner(2) - corner(0)));
        // Rays are cast in single precision: onto the face's plane itself, so that what stands there touches it.
        const Vec3 near = eye + ray * best;
        found = {id, near - normal * dot(near - corner(0), normal), normal, ready.mesh, stands, h->face};
        // A face of the result belongs to the operand that it came from: only the base's own are the base.
        if (evaluation && h->face.value() < evaluation->combined->source.size()) {
            const std::string& part = evaluation->operand_parts[evaluation->combined->source[h->face.value()].operand];
            if (!part.empty() && controller_.job().find_part(part)) found.part = part;
        }
    };
    // What is spread is only looked at.
    const bool apart = spread_ > 0 && !outcome->pieces.empty();
    if (outcome->evaluation && outcome->evaluation->has_base && !apart)
        probe(outcome->result, controller_.result_stands(), base_of(controller_.job()), outcome->evaluation.get());
    for (const Row& row : controller_.rows())
        if (row.idle && !row.step)
            if (const auto [ready, stands] = controller_.body_of(row); ready)
                probe(*ready, stands, row.id.part, nullptr);
    // The chosen cutter is drawn over everything, so it is met first.
    if (const Row* row = movable(); row && !row->is_base() && row->id.part != but)
        if (const auto [ready, stands] = controller_.body_of(*row); ready) {
            best = HUGE_VAL;
            const Hit before = std::exchange(found, {});
            probe(*ready, stands, chosen_.part, nullptr);
            if (found.part.empty()) found = before;
        }
    return found;
}

Placement Viewport::standing_under(const QPointF& at) const {
    if (const Hit hit = hit_under(at); !hit.part.empty() && hit.normal != Vec3{})
        return standing_on(hit.place, dot(hit.normal, camera_.ray(at, size())) > 0 ? -hit.normal : hit.normal);
    // On the bed, where the eye looks down on that.
    const Vec3 eye = camera_.eye(), ray = camera_.ray(at, size());
    const double bed = scene().bounds.empty() ? 0 : scene().bounds.low.z;
    if (ray.z < -0.05) return standing_on(eye + ray * ((bed - eye.z) / ray.z), {0, 0, 1});
    return standing_on({camera_.target.x, camera_.target.y, bed}, {0, 0, 1});
}

void Viewport::ask(Request request) {
    asking_ = std::move(request);
    clear_typed();
    setCursor(Qt::CrossCursor);
    Q_EMIT hint(asking_->asked);
}

void Viewport::end_asking() {
    asking_.reset();
    clear_typed();
    if (drag_ == Drag::line) drag_ = Drag::none;
    unsetCursor();
    update();
}

void Viewport::take_pick(const QPointF& at) {
    if (!asking_->click) return;
    Hit hit = hit_under(at, asking_->but);
    if (asking_->snaps || QGuiApplication::keyboardModifiers() & Qt::ControlModifier)
        if (const auto snapped = snapped_at(at, asking_->but)) hit.place = snapped->place;
    if (hit.part.empty() || hit.normal == Vec3{}) return;  // on nothing: it goes on asking
    const Request request = *std::exchange(asking_, std::nullopt);
    unsetCursor();
    request.click(hit);
}

Viewport::Hit Viewport::hit_at(const QPointF& at, bool snaps) const {
    Hit hit = hit_under(at);
    if (snaps)
        if (const auto snapped = snapped_at(at)) hit.place = snapped->place;
    return hit;
}

/// Where the line ends that is being dragged.
QPointF Viewport::line_end(const QPointF& at, bool by_steps) const {
    const QPointF d = at - press_;
    if (!by_steps) return at;
    constexpr double step = 0.2617993877991494;  // 15 degrees
    const double angle = std::round(std::atan2(d.y(), d.x()) / step) * step;
    const QPointF along(std::cos(angle), std::sin(angle));
    return press_ + along * QPointF::dotProduct(d, along);
}

}  // namespace anvil::app
