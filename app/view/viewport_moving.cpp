// Dragging in the view: handles, and parts themselves over the bed.
#include <cmath>

#include "app/view/viewport.h"
#include "core/job/place_edits.h"
#include "core/job/quantity.h"

namespace anvil::app {

/// Some mice tell each place a thousand times a second: what is dragged follows a good deal oftener than it can be
/// worked out, and no more.
void Viewport::pull(const QPointF& at, bool snaps) {
    pulled_ = {at, snaps};
    constexpr int least = 25;  // ms
    if (const qint64 passed = since_pull_.isValid() ? since_pull_.elapsed() : least; passed >= least)
        take_pull();
    else if (!pulls_.isActive())
        pulls_.start(static_cast<int>(least - passed));
}

void Viewport::take_pull() {
    if (!pulled_) return;
    const auto [at, snaps] = *std::exchange(pulled_, std::nullopt);
    since_pull_.start();
    if (drag_ == Drag::handle) drag_handle(at, snaps);
    if (drag_ == Drag::level) drag_level(at, snaps);
}

/// Over the bed; where that is seen edge on, parallel to the screen.
void Viewport::drag_level(const QPointF& at, bool snaps) {
    const Vec3 n = std::fabs(camera_.direction().z) > 0.15 ? Vec3{0, 0, 1} : camera_.direction();
    Vec3 way = gone_in_plane(n, at);
    if (snaps)
        way = snapped_move(at, way);
    else
        hover_.reset();
    move_chosen(way, snaps);
    if (snaps) Q_EMIT hint(tr("Snapped to: %1").arg(snapped_to_));
}

void Viewport::take_others_along() {
    beside_.clear();
    const std::vector<RowId> rows = selected_rows ? selected_rows() : std::vector<RowId>();
    if (std::ranges::find(rows, chosen_) == rows.end()) return;
    for (const RowId& id : rows)
        if (const Row* row = controller_.row(id); row && id != chosen_ && (!row->step || row->use))
            beside_.push_back({id, Transform(row->frame.inverse()), row->placement()});
}

void Viewport::move_chosen(const Vec3& by, bool exactly) {
    const Row* row = movable();
    if (!row) return;
    Job job = controller_.job();
    Placement placement = row->placement();
    const Transform back(row->frame.inverse());
    const Vec3 own = apply(back, by) - apply(back, Vec3{});
    Vec3& to = placement.position = start_position_ + own;
    // Steps of a hundredth keep the numbers readable; typed numbers are taken as they are.
    for (int k = 0; k < 3; ++k)
        if (own[k] != 0 && !exactly) to[k] = std::round(to[k] * 100) / 100;
    const QString name = QString::fromStdString(job.find_part(chosen_.part)->name);
    Q_EMIT hint(tr("%1 at x %2, y %3, z %4")
                    .arg(name, QString::fromStdString(format_quantity(to.x, Unit::millimetre)),
                         QString::fromStdString(format_quantity(to.y, Unit::millimetre)),
                         QString::fromStdString(format_quantity(to.z, Unit::millimetre))));
    set_placement(job, chosen_, placement);
    // All by what the one went, in the coordinates of each.
    const Vec3 went = apply(row->frame, to) - apply(row->frame, start_position_);
    for (const auto& [id, home, before] : beside_) {
        Placement there = before;
        there.position = there.position + apply(home, went) - apply(home, Vec3{});
        set_placement(job, id, there);
    }
    controller_.change(std::move(job),
                       beside_.empty() ? tr("move %1").arg(name) : tr("move %1 parts").arg(beside_.size() + 1), "drag");
}

}  // namespace anvil::app
