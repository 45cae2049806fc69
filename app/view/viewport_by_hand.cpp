// The mouse while a part is worked on by hand.
#include <QMouseEvent>

#include "app/view/viewport.h"

namespace anvil::app {

/// Left with a gesture draws its outline; else it clicks, or turns.
void Viewport::begin_by_hand(const QMouseEvent& event) {
    const bool outlined = hand_.gesture() != Gesture::click;
    if (button_ == Qt::RightButton)
        drag_ = Drag::slide;
    else if (button_ == Qt::MiddleButton)
        drag_ = outlined ? Drag::turn : Drag::slide;
    else if (button_ == Qt::LeftButton)
        drag_ = outlined ? Drag::outline : Drag::press;
    if (drag_ != Drag::outline) return;
    outline_ = hand_.gesture() == Gesture::brush ? brush_at(press_) : QPolygonF{press_};
    if (hand_.gesture() != Gesture::brush) return;
    const HandMode::How how = HandMode::how_of(event.modifiers());
    if (how == HandMode::How::replace) hand_.none();
    take_outline(how == HandMode::How::replace ? HandMode::How::add : how);
}

QPolygonF Viewport::brush_at(const QPointF& at) const {
    constexpr int corners = 24;
    constexpr double radius = 22;
    QPolygonF out;
    for (int k = 0; k < corners; ++k) {
        const double a = 6.283185307179586 * k / corners;
        out << at + QPointF(std::cos(a), std::sin(a)) * radius;
    }
    return out;
}

ViewMap Viewport::hand_map() const { return camera_.map(size(), hand_.stands()); }

void Viewport::take_outline(HandMode::How how) {
    std::vector<Point2> outline;
    for (const QPointF& p : outline_) outline.push_back({p.x(), p.y()});
    hand_.choose_in(hand_map(), outline, how);
    // A face larger than the brush has its middle elsewhere: what is under the pointer counts in any case.
    if (hand_.gesture() == Gesture::brush) click_by_hand(last_, how);
}

void Viewport::click_by_hand(const QPointF& at, HandMode::How how) {
    const Picker* picker = hand_.picker();
    if (!picker) return;
    const Transform inverse(hand_.stands().inverse());
    const Vec3 origin = apply(inverse, camera_.eye()),
               direction = apply(inverse, camera_.eye() + camera_.ray(at, size())) - origin;
    const auto hit = picker->first_hit(origin, direction);
    if (hit)
        hand_.choose_at(hit->face, origin + direction * hit->distance, how);
    else if (how == HandMode::How::replace)
        hand_.none();
}

}  // namespace anvil::app
