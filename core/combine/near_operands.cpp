#include "core/combine/near_operands.h"

#include <algorithm>
#include <optional>

#include "core/arrange/crossings.h"
#include "core/combine/near_points.h"

namespace anvil {
namespace {

constexpr std::size_t first_points = 16, points_tried = 1024, faces_tried = 64;
/// Where rounding is expected to turn so many sub-faces over, it turns some.
constexpr double sure_faults = 64;

/// Number `i` of so many that are spread over a list of `size`.
std::size_t spread(std::size_t i, std::size_t tried, std::size_t size) { return i * size / tried; }

/// How far points of the second operand are from those of the first, at most: mm, not above `few_digits`. Nothing where
/// not half of them, told from some, are so near and apart.
std::optional<double> points_apart(const Operand& first, const Operand& second, double few_digits) {
    const std::size_t size = second.mesh.points.size();
    // Nearly always a few tell.
    for (const std::size_t wanted : {first_points, points_tried}) {
        const std::size_t tried = std::min(wanted, size);
        std::size_t not_near = 0;
        double farthest = 0;
        for (std::size_t i = 0; i < tried; ++i) {
            double apart = few_digits;
            if (nearest_point(first, second.mesh.points[VertexId(spread(i, tried, size))], apart) && apart > 0)
                farthest = std::max(farthest, apart);
            else if (2 * ++not_near > tried)
                return std::nullopt;
        }
        if (wanted == points_tried) return farthest;
    }
    return std::nullopt;
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
    const Soup soup({a, b});
    const double reach = reach_of(soup);
    const double digit = last_digit(reach, Precision::double_precision);
    const auto apart = points_apart(*a, *b, a_few_digits(reach, Precision::double_precision));
    return apart && inexact_crossings(soup, progress) * digit >= sure_faults * std::max(*apart, digit);
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
    const auto points = NearPoints(soup).merged(a_few_digits(reach_of(soup), Precision::double_precision),
                                                Precision::double_precision, progress);
    for (std::size_t o = 0; o < operands.size() && !progress.cancelled(); ++o)
        operands[o] = with_points(operands[o], points[o], progress);
    return operands;
}

}  // namespace anvil
