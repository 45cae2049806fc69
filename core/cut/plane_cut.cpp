#include "core/cut/plane_cut.h"

#include <algorithm>
#include <cmath>

#include "core/base/number_text.h"
#include "core/cut/half_space_at.h"
#include "core/mesh/weld.h"

namespace anvil {
namespace {

constexpr int most_planes = 500;

struct Plane {
    Vec3 origin, normal;
};

/// A convex outline, what of it is not behind a plane.
std::vector<Vec3> clipped(const std::vector<Vec3>& outline, const Plane& plane) {
    std::vector<Vec3> out;
    for (std::size_t k = 0; k < outline.size(); ++k) {
        const Vec3 &a = outline[k], &b = outline[(k + 1) % outline.size()];
        const double da = dot(a - plane.origin, plane.normal), db = dot(b - plane.origin, plane.normal);
        if (da >= 0) out.push_back(a);
        if ((da >= 0) != (db >= 0)) out.push_back(a + (b - a) * (da / (da - db)));
    }
    return out;
}

void add_outline(Mesh& to, const std::vector<Vec3>& outline) {
    const auto first = static_cast<std::uint32_t>(to.points.size());
    for (const Vec3& p : outline) to.points.push_back(p);
    for (std::uint32_t k = 2; k < outline.size(); ++k)
        to.faces.push_back({VertexId(first), VertexId(first + k - 1), VertexId(first + k)});
}

/// The plane as far as the box reaches, and a little farther; of a side that goes, that part of the box.
Mesh shown(const Plane& plane, const Box& box, KeepSide keep) {
    const double more = (keep == KeepSide::both ? 0.05 : 0.01) * box.diagonal();
    const Vec3 low = box.low - Vec3{more, more, more}, high = box.high + Vec3{more, more, more};
    const Transform frame = frame_on(plane.origin, plane.normal);
    // The plane's own outline: a square that holds all of it, less what is outside of the box.
    const double wide = box.diagonal() + norm(plane.origin - box.center());
    std::vector<Vec3> cap;
    for (const auto& [x, y] : {std::pair{-1, -1}, {1, -1}, {1, 1}, {-1, 1}})
        cap.push_back(apply(frame, {2 * wide * x, 2 * wide * y, 0}));
    for (int axis = 0; axis < 3; ++axis) {
        Vec3 along;
        along[axis] = 1;
        cap = clipped(clipped(cap, {low, along}), {high, -along});
    }
    Mesh out;
    add_outline(out, cap);
    if (keep == KeepSide::both) return out;
    const Plane gone{plane.origin, keep == KeepSide::front ? -plane.normal : plane.normal};
    constexpr int sides[6][4] = {{0, 4, 6, 2}, {1, 3, 7, 5}, {0, 1, 5, 4}, {2, 6, 7, 3}, {0, 2, 3, 1}, {4, 5, 7, 6}};
    for (const auto& side : sides) {
        std::vector<Vec3> outline;
        for (const int corner : side)
            outline.push_back({(corner & 1 ? high : low).x, (corner & 2 ? high : low).y, (corner & 4 ? high : low).z});
        add_outline(out, clipped(outline, gone));
    }
    return welded(out);
}

Operation operation_for(KeepSide keep, bool cap) {
    if (keep == KeepSide::both) return Operation::split;
    if (keep == KeepSide::front) return cap ? Operation::intersection : Operation::trim_inside;
    return cap ? Operation::difference : Operation::trim_outside;
}

Error too_many(double planes) {
    return {ErrorCode::out_of_range,
            "that would be " + short_text(planes) + " planes, more than " + std::to_string(most_planes) +
                ": take them farther apart, or a larger bed",
            ""};
}

Result<std::vector<Plane>> planes_of(const PlaneCut& cut, const Box& box, const Mesh* body) {
    std::vector<Plane> out;
    if (cut.layer > 0 && body) {
        const Vec3 up = frame_axis(frame_on({}, cut.normal), 2);
        double low = HUGE_VAL, high = -HUGE_VAL;
        for (const Vec3& p : body->points) {
            low = std::min(low, dot(p, up));
            high = std::max(high, dot(p, up));
        }
        // A last layer that is there by rounding only is none.
        const double layers = std::ceil((high - low) / cut.layer * (1 - 1e-12));
        if (layers - 1 > most_planes) return too_many(layers - 1);
        for (int k = 1; k < layers; ++k) {
            const double at = low + k * cut.layer;
            out.push_back({box.center() + up * (at - dot(box.center(), up)), cut.normal});
            const int axis = longest_axis(up);
            if (std::fabs(up[axis]) == 1) out.back().origin[axis] = at * up[axis];  // exactly
        }
        return out;
    }
    if (!cut.bed) {
        if (cut.count > most_planes) return too_many(cut.count);
        const Vec3 step = normalized(cut.normal) * cut.distance;
        for (int k = 0; k < cut.count; ++k) out.push_back({cut.origin + step * k, cut.normal});
        return out;
    }
    for (int axis = 0; axis < 3; ++axis) {
        const double size = box.size()[axis], room = (*cut.bed)[axis];
        // What fits but for rounding fits.
        const double pieces = std::ceil(size / room * (1 - 1e-12));
        if (pieces - 1 > most_planes) return too_many(pieces - 1);
        for (int k = 1; k < pieces; ++k) {
            Plane plane{box.center(), {}};
            plane.origin[axis] = box.low[axis] + size * k / pieces;
            plane.normal[axis] = 1;
            out.push_back(plane);
        }
    }
    if (out.size() > most_planes) return too_many(static_cast<double>(out.size()));
    return out;
}

/// Where other planes cross this one, as lines in its frame.
std::vector<KeepOff> lines_of(std::span<const Plane> planes, std::size_t own, const Transform& frame) {
    std::vector<KeepOff> out;
    const Transform into(frame.inverse());
    for (std::size_t k = 0; k < planes.size(); ++k) {
        if (k == own) continue;
        const Vec3 n = normalized(apply(into, planes[k].normal) - apply(into, {})), p = apply(into, planes[k].origin);
        const double across = std::hypot(n.x, n.y);
        if (across > 1e-6) out.push_back({n.x / across, n.y / across, dot(n, p) / across});
    }
    return out;
}

}  // namespace

Result<Cut> plane_cut(const PlaneCut& cut, const Box& box, const Mesh* body, Progress& progress) {
    auto planes = planes_of(cut, box, body);
    if (!planes) return planes.error();
    Cut out;
    const bool several = cut.bed || cut.layer > 0 || cut.count > 1;
    const KeepSide keep = several ? KeepSide::both : cut.keep;
    const bool joined = keep == KeepSide::both && cut.joints.form != Joints::Form::none && body;
    std::vector<Cutter> gaps, cutters;
    std::size_t jointed = 0;
    for (std::uint32_t k = 0; k < planes->size(); ++k) {
        const Plane& plane = (*planes)[k];
        const Transform frame = frame_on(plane.origin, plane.normal);
        Cutter cutter{operation_for(keep, cut.cap), half_space_at(frame, box, k), {}, false};
        append(out.shown, shown(plane, box, keep));
        if (joined) {
            const PlaneSection section(*body, frame);
            std::vector<Point2> by_hand;
            for (const Vec3& p : several ? std::vector<Vec3>() : cut.joints_at) {
                const Vec3 at = apply(Transform(frame.inverse()), p);
                by_hand.push_back({at.x, at.y});
            }
            const auto off = lines_of(*planes, k, frame);
            auto places = joint_places(*body, section, frame, cut.joints, by_hand, off, progress);
            if (!places) return places.error();
            if (!places->empty()) {
                jointed += places->size();
                const std::uint32_t side = 2000 + 10000 * k;
                Solid pegs = joint_bodies(*places, section, frame, cut.joints, false, side);
                append(out.shown, pegs.mesh);
                if (cut.joints.clearance > 0) {
                    Cutter gap{Operation::difference,
                               joint_bodies(*places, section, frame, cut.joints, true, side + 5000),
                               {},
                               true};
                    gap.bundle.push_back({Operation::difference, cutter.solid, {}, false});
                    gap.bundle.push_back({Operation::difference, pegs, {}, true});
                    gaps.push_back(std::move(gap));
                }
                cutter.bundle.push_back({Operation::union_of, std::move(pegs), {}, true});
            }
        }
        cutters.push_back(std::move(cutter));
    }
    // What lies between pegs and sockets goes first, while there is one body.
    out.cutters = std::move(gaps);
    std::ranges::move(cutters, std::back_inserter(out.cutters));
    if (cut.bed)
        out.said = planes->empty()
                       ? "The body fits the bed as it is."
                       : count_text(planes->size(), "plane", "planes") + ", so that each piece fits the bed.";
    if (cut.layer > 0) out.said = count_text(planes->size() + 1, "layer.", "layers.");
    if (jointed > 0) out.said += (out.said.empty() ? "" : " ") + count_text(jointed, "joint.", "joints.");
    return out;
}

}  // namespace anvil
