#include "core/job/place_edits.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/job/edit_lists.h"
#include "core/job/new_shape.h"
#include "core/mesh/measures.h"

namespace anvil {
namespace {

/// A step with ids of its own, in it too.
std::shared_ptr<const Step> with_new_ids(Job& job, Step step) {
    step.id = unused_step(job);
    for (auto& inner : step.steps) inner = with_new_ids(job, *inner);
    return std::make_shared<const Step>(std::move(step));
}

/// A part beside another, with the same source and steps. A list that was made for a part goes with that.
std::string repeat_part(Job& job, const std::string& id, const std::string& name) {
    Part part = *job.find_part(id);
    if (is_made_list(job, part)) {
        auto& use = std::get<Use>(part.source);
        use.part = repeat_part(job, use.part, name);
    }
    part.id = unused_part(job);
    part.name = name;
    part.bench = {};
    for (auto& step : part.steps) step = with_new_ids(job, *step);
    const std::string made = part.id;
    add(job, std::move(part));
    return made;
}

}  // namespace

void move_row(Job& job, const Row& row, const Transform& by) {
    const Transform there = Transform(row.frame.inverse()) * by * row.frame * row.placement().transform();
    Placement placement = placement_from(there);
    for (int k = 0; k < 3; ++k)
        if (const double whole = std::round(placement.angles[k]); std::fabs(placement.angles[k] - whole) < 1e-6)
            placement.angles[k] = whole + 0.0;
    set_placement(job, row.id, placement);
}

Transform onto_height(const Mesh& body, const Transform& stands, double height) {
    const Box box = bounds(transformed(body, stands));
    return box.empty() ? Transform(Transform::Identity()) : translation({0, 0, height - box.low.z});
}

Transform over_middle(const Mesh& body, const Transform& stands, const Vec3& middle) {
    const Box box = bounds(transformed(body, stands));
    if (box.empty()) return Transform(Transform::Identity());
    return translation({middle.x - box.center().x, middle.y - box.center().y, 0});
}

Transform laid_down(const Mesh& body, const Transform& stands, const Vec3& normal, double height) {
    const Vec3 n = normalized(normal), middle = bounds(transformed(body, stands)).center();
    const double flat = std::hypot(n.x, n.y);
    // About the axis that lies square to the normal and to z.
    Transform turn = Transform::Identity();
    if (flat > 1e-12)
        turn = rotation(std::atan2(flat, -n.z), {-n.y, n.x, 0});
    else if (n.z > 0)
        turn = turned_about({}, 0, 180);
    // Where that is an axis of the job it is a quarter turn, which is exact.
    if (flat > 1 - 1e-12 && (std::fabs(n.x) < 1e-12 || std::fabs(n.y) < 1e-12))
        turn =
            std::fabs(n.x) < 1e-12 ? turned_about({}, 0, n.y > 0 ? -90 : 90) : turned_about({}, 1, n.x > 0 ? 90 : -90);
    const Transform all = translation(middle) * turn * translation(-middle);
    return onto_height(body, all * stands, height) * all;
}

Transform put_flush(const Vec3& place, const Vec3& normal, const Vec3& onto, const Vec3& onto_normal, double offset) {
    const Vec3 to = -onto_normal, axis = cross(normal, to);
    Transform turn = Transform::Identity();
    if (norm(axis) > 1e-12) {
        turn = rotation(std::atan2(norm(axis), dot(normal, to)), axis);
    } else if (dot(normal, to) < 0) {
        const Vec3 aside = longest_axis(normal) == 0 ? Vec3{0, 1, 0} : Vec3{1, 0, 0};
        turn = rotation(std::numbers::pi, cross(normal, aside));
    }
    // Quarter turns are exact.
    for (int r = 0; r < 3; ++r)
        for (int c = 0; c < 3; ++c)
            if (double& v = turn.linear()(r, c); std::fabs(v - std::round(v)) < 1e-12) v = std::round(v) + 0.0;
    const Vec3 by = onto_normal * (dot(onto - place, onto_normal) + offset);
    return translation(by) * translation(place) * turn * translation(-place);
}

void lay_flush(Job& job, const Row& row, const Vec3& place, const Vec3& normal, const Vec3& onto,
               const Vec3& onto_normal, double offset) {
    const RowId id = row.id;
    const Vec3 there = apply(Transform(row.frame * row.placement().transform()), place);
    move_row(job, row, put_flush(there, normal, onto, onto_normal, offset));
    const std::vector<Row> rows = rows_of(job);
    const Row* now = find_row(rows, id);
    const int axis = longest_axis(onto_normal);
    if (!now || std::fabs(std::fabs(onto_normal[axis]) - 1) > 1e-12 || !now->frame.isApprox(Transform::Identity(), 0))
        return;
    Placement at = now->placement();
    const double wanted = onto[axis] + offset * onto_normal[axis];
    for (int k = 0; k < 4; ++k) at.position[axis] += wanted - apply(at.transform(), place)[axis];
    set_placement(job, id, at);
}

Placement with_angles(const Placement& before, const Vec3& angles, const Vec3& about) {
    Placement out{before.position, angles};
    const Vec3 own = apply(Transform(before.transform().inverse()), about);
    out.position = out.position + about - apply(out.transform(), own);
    return out;
}

Vec3 dragged_scale(const Box& box, int axis, double lever, double travel, double step) {
    const bool all = axis == 3;
    const double size = all ? box.diagonal() : box.size()[axis];
    // About a point that nearly lies in the side, a hair would make it large.
    const double factor = 1 + travel / (std::fabs(lever) < 0.05 * size ? size : lever);
    const double shown = box.size()[all ? longest_axis(box.size()) : axis];
    const double wanted = std::round(shown * std::clamp(factor, 0.01, 100.0) / step) * step;
    const double taken = std::max(wanted, 0.01) / shown;
    Vec3 out{1, 1, 1};
    for (int k = 0; k < 3; ++k)
        if (all || k == axis) out[k] = taken;
    return out;
}

std::optional<Vec3> scale_to_size(const Box& box, int axis, double size) {
    const double now = box.size()[axis == 3 ? longest_axis(box.size()) : axis];
    if (!(size > 0) || !(now > 0)) return std::nullopt;
    Vec3 out{1, 1, 1};
    for (int k = 0; k < 3; ++k)
        if (axis == 3 || k == axis) out[k] = size / now;
    return out;
}

Vec3 turned_direction(const Vec3& direction, const Vec3& axis, double degrees) {
    Vec3 out = apply(rotation(degrees * std::numbers::pi / 180, axis), normalized(direction));
    for (int k = 0; k < 3; ++k)
        if (std::fabs(out[k]) < 1e-12) out[k] = 0;
    return normalized(out);
}

Transform turned_about(const Vec3& centre, int axis, double degrees) {
    Vec3 angles;
    angles[axis] = degrees;
    return translation(centre) * Placement{{}, angles}.transform() * translation(-centre);
}

std::vector<double> aligned(std::span<const Box> boxes, int axis, AlignSide side) {
    auto place = [&](const Box& box) {
        return side == AlignSide::low ? box.low[axis] : side == AlignSide::high ? box.high[axis] : box.center()[axis];
    };
    std::vector<double> out;
    for (const Box& box : boxes) out.push_back(place(boxes.front()) - place(box));
    return out;
}

std::vector<double> distributed(std::span<const Box> boxes, int axis) {
    std::vector<double> out(boxes.size(), 0);
    if (boxes.size() < 3) return out;
    std::vector<std::size_t> order(boxes.size());
    for (std::size_t k = 0; k < order.size(); ++k) order[k] = k;
    std::ranges::stable_sort(order, {}, [&](std::size_t k) { return boxes[k].center()[axis]; });
    const Box &first = boxes[order.front()], &last = boxes[order.back()];
    double room = last.low[axis] - first.high[axis];
    for (std::size_t k = 1; k + 1 < order.size(); ++k) room -= boxes[order[k]].size()[axis];
    const double gap = room / static_cast<double>(order.size() - 1);
    double at = first.high[axis] + gap;
    for (std::size_t k = 1; k + 1 < order.size(); ++k) {
        out[order[k]] = at - boxes[order[k]].low[axis];
        at += boxes[order[k]].size()[axis] + gap;
    }
    return out;
}

void scale_part(Job& job, const std::string& id, const Vec3& factors, const Vec3& about) {
    const Part* part = job.find_part(id);
    if (!part) return;
    const Kind& kind = *find_kind("place");
    const char* const names[] = {"scale_x", "scale_y", "scale_z"};
    const char* const moves[] = {"move_x", "move_y", "move_z"};
    const Step* last = part->steps.empty() ? nullptr : part->steps.back().get();
    const bool again = last && last->kind == "place" && last->on &&
                       std::ranges::all_of(last->values, [](const auto& v) { return !v.first.starts_with("turn"); });
    Values values = again ? last->values : Values();
    auto set = [&](const char* field, double v) {
        if (v == std::get<double>(kind.find_field(field)->usual))
            values.erase(field);
        else
            values[field] = v;
    };
    const bool even = factors.x == factors.y && factors.y == factors.z;
    for (int k = 0; k < 3; ++k) {
        // The point stays: m' = C - f (C - m).
        const double move = value_of<double>(kind, values, moves[k]);
        set(moves[k], about[k] - factors[k] * (about[k] - move));
        if (!even) set(names[k], value_of<double>(kind, values, names[k]) * factors[k]);
    }
    if (even) set("scale", value_of<double>(kind, values, "scale") * factors.x);
    if (!again)
        add_treatment(job, {id}, "place", std::move(values));
    else if (values.empty())
        remove_step(job, last->id);
    else
        edit_step(job, std::string(last->id), [&](Step& step) { step.values = values; });
}

RowId duplicate(Job& job, const RowId& id, const Vec3& by) {
    const std::vector<Row> rows = rows_of(job);
    const Row* row = find_row(rows, id);
    if (!row) return {};
    const Part* about = job.find_part(row->id.part);
    if (!row->step) {
        if (!about) return {};
        // Of the base, the part itself, without what acts on it.
        const std::string source = row->is_base() ? about->id : row->list->id;
        const std::string made = repeat_part(job, source, unused_name(job, about->name));
        const Transform there = translation(by) * row->frame * row->placement().transform();
        edit_part(job, made, [&](Part& part) { part.bench = placement_from(there); });
        return {made, {made}};
    }
    Step step = *row->step;
    if (step.operand) {
        if (!job.find_part(step.operand->part) || !about) return {};
        step.operand->part = repeat_part(job, step.operand->part, unused_name(job, about->name));
    }
    Place behind = place_of(*row);
    const Steps& steps = row->group ? row->group->steps : row->list->steps;
    behind.before.clear();
    for (std::size_t k = 0; k + 1 < steps.size(); ++k)
        if (steps[k]->id == row->step->id) behind.before = steps[k + 1]->id;
    const auto made = with_new_ids(job, std::move(step));
    put(job, behind, made);
    RowId out{id.part, id.way};
    out.way.back() = made->id;
    const std::vector<Row> now = rows_of(job);
    const Row* at = find_row(now, out);
    if (!at) return {};
    out = at->id;
    if (at->use && by != Vec3{}) move_row(job, *at, translation(by));
    return out;
}

}  // namespace anvil
