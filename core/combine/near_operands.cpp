#include "core/combine/near_operands.h"

#include <algorithm>
#include <optional>

#include "core/arrange/crossings.h"
#include "core/combine/near_points.h"

namespace anvil {
namespace {

constexpr std::size_t points_tried = 16, faces_tried = 64;
/// Where rounding is expected to turn so many sub-faces over, it turns some.
constexpr double sure_faults = 64;

/// Number `i` of so many that are spread over a list of `size`.
std::size_t spread(std::size_t i, std::size_t tried, std::size_t size) { return i * size / tried; }

/// How two operands lie to each other: points of the second near points of the first, and not the same.
struct Nearness {
    std::size_t points = 0;
    double farthest = 0;  ///< mm
};

/// Only where most points that are tried are near points of the other operand, all are looked at.
std::optional<Nearness> nearness(const Operand& operand, const Mesh& mesh, double few_digits) {
    const std::size_t size = mesh.points.size();
    Nearness out;
    auto look = [&](std::size_t v) {
        double distance = few_digits;
        if (!nearest_point(operand, mesh.points[VertexId(v)], distance) || distance == 0) return;
        ++out.points;
        out.farthest = std::max(out.farthest, distance);
    };
    const std::size_t tried = std::min(points_tried, size);
    for (std::size_t i = 0; i < tried; ++i) look(spread(i, tried, size));
    if (2 * out.points < tried) return std::nullopt;
    out = {};
    for (std::size_t v = 0; v < size; ++v) look(v);
    if (2 * out.points < size) return std::nullopt;
    return out;
}

/// About how many crossings of the two have coordinates that doubles cannot hold, told from some faces of the second.
double inexact_crossings(const Soup& pair, Progress& progress) {
    const Operand &a = pair.operand(0), &b = pair.operand(1);
    const std::size_t size = b.mesh.faces.size(), tried = std::min(faces_tried, size);
    std::vector<FaceContact> contacts;
    for (std::size_t i = 0; i < tried; ++i) {
        const FaceId f(spread(i, tried, size));
        const CornerPoints corners = corner_points(b.mesh.points.raw(), b.mesh.faces[f]);
        a.tree.overlapping(box_of(corners), [&](std::uint32_t g) {
            const Contact contact =
                triangle_contact(corner_points(a.mesh.points.raw(), a.mesh.faces[FaceId(g)]), corners);
            if (contact.kind != Contact::apart) contacts.push_back({FaceId(g), f, contact});
        });
    }
    PointTable points(pair);
    const ContactList list{0, 1, &contacts};
    if (!find_crossings(pair, std::span(&list, 1), points, nullptr, progress)) return 0;
    std::size_t inexact = 0;
    for (std::size_t v = points.input_count(); v < points.size(); ++v)
        inexact += !is_rounded_point(points.view(VertexId(v)));
    return static_cast<double>(inexact) * static_cast<double>(size) / static_cast<double>(tried);
}

/// Whether an arrangement of the two would be given up. Rounding moves a point by half of the last digit, and faces
/// that part from it reach the distance of the surfaces, so it turns about one in so many over as that is digits.
bool cannot_be_kept(const std::shared_ptr<const Operand>& a, const std::shared_ptr<const Operand>& b,
                    Progress& progress) {
    if (!a->bounds.meets(b->bounds)) return false;
    const double reach = std::max(reach_of(a->mesh.points.raw()), reach_of(b->mesh.points.raw()));
    const double digit = last_digit(reach, Precision::double_precision);
    const auto near = nearness(*a, b->mesh, a_few_digits(reach, Precision::double_precision));
    if (!near) return false;
    return inexact_crossings(Soup({a, b}), progress) * digit >= sure_faults * std::max(near->farthest, digit);
}

/// The operand with its points there.
std::shared_ptr<const Operand> with_points(const std::shared_ptr<const Operand>& given, const std::vector<Vec3>& points,
                                           Progress& progress) {
    Operand::Whole whole = given->whole();
    double moved = 0;
    for (const VertexId v : ids<VertexId>(points.size()))
        moved = std::max(moved, norm(points[v.value()] - whole.mesh.points[v]));
    if (moved == 0) return given;
    whole.mesh.points.raw() = points;
    const auto made = make_operand(whole.mesh, given->sheet ? Taken::as_surface : Taken::as_wound, progress);
    if (!made) return given;  // it collapsed, or was stopped
    auto out = std::make_shared<Operand>(**made);
    auto as_given = [&](FaceId& f) { f = f.valid() ? whole.origin[f.value()] : f; };
    std::ranges::for_each(out->origin, as_given);
    for (Operand::Copy& copy : out->copies) as_given(copy.origin);
    out->materials = given->materials;
    out->material = given->material;
    out->set_aside += given->set_aside;
    out->flat = given->flat;
    out->notes = given->notes;
    out->closed_holes = given->closed_holes;
    out->moved = moved;
    return out;
}

}  // namespace

std::vector<std::shared_ptr<const Operand>> with_near_points_one(std::vector<std::shared_ptr<const Operand>> operands,
                                                                 Progress& progress) {
    bool any = false;
    for (std::size_t b = 1; b < operands.size() && !any; ++b)
        for (std::size_t a = 0; a < b && !any && !progress.cancelled(); ++a)
            any = cannot_be_kept(operands[a], operands[b], progress);
    if (!any) return operands;
    const Soup soup(operands);
    double reach = 0;
    for (const auto& operand : operands) reach = std::max(reach, reach_of(operand->mesh.points.raw()));
    const auto points =
        NearPoints(soup).merged(a_few_digits(reach, Precision::double_precision), Precision::double_precision);
    for (std::size_t o = 0; o < operands.size() && !progress.cancelled(); ++o)
        operands[o] = with_points(operands[o], points[o], progress);
    return operands;
}

}  // namespace anvil
