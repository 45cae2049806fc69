// Copies round an axis.
#include "core/job/kinds/copies_fields.h"
#include "core/mesh/circle.h"

namespace anvil {
namespace {

/// Turned about an axis of the job by a share of a full turn, k of n; quarters are exact.
Transform turn(int axis, const Vec3& centre, const Point2& c) {
    const int u = (axis + 1) % 3, v = (axis + 2) % 3;
    Transform out = Transform::Identity();
    out.linear()(u, u) = out.linear()(v, v) = c.u;
    out.linear()(v, u) = c.v;
    out.linear()(u, v) = -c.v;
    Eigen::Vector3d at(centre.x, centre.y, centre.z);
    out.translation() = at - out.linear() * at;
    return out;
}

Result<std::vector<Transform>> places_round(const Values& values, const Copied& of, Progress&) {
    const KindValues v(*find_copies("round"), values);
    const int count = v.count("count"), axis = v.word("axis") == "x" ? 0 : v.word("axis") == "y" ? 1 : 2;
    const double angle = v["angle"];
    const Vec3 centre{v["centre_x"], v["centre_y"], v["centre_z"]};
    const bool full = std::fabs(angle) == 360;
    if (auto fit = check_copies(count); !fit) return fit.error();
    std::vector<Transform> out;
    for (int k = 0; k < count; ++k) {
        Point2 c{1, 0};
        if (full) {
            c = on_circle(angle > 0 ? k : -k, count);
        } else if (count > 1) {
            const double a = angle * k / (count - 1) * 3.14159265358979323846 / 180;
            if (std::fmod(angle * k / (count - 1), 90) == 0)
                c = on_circle(static_cast<int>(angle * k / (count - 1) / 90), 4);
            else
                c = {std::cos(a), std::sin(a)};
        }
        const Transform turned = turn(axis, centre, c);
        if (v.is("turn"))
            out.push_back(turned);
        else  // its foot goes round, and it stays as it is
            out.push_back(translation(apply(turned, of.foot) - of.foot));
    }
    return out;
}

Field centre(const char* name, const char* label) {
    return {.name = name,
            .type = Field::Type::length,
            .usual = 0.0,
            .label = label,
            .says = "where the axis passes",
            .least = -1e6,
            .most = 1e6};
}

const RegisterKind round_registered({.word = "round",
                                     .of = KindClass::copies,
                                     .name = "round an axis",
                                     .says = "Copies evenly round an axis",
                                     .order = 2,
                                     .fields = {number_of_copies("count", 6, "copies"),
                                                {.name = "axis",
                                                 .type = Field::Type::choice,
                                                 .usual = std::string("z"),
                                                 .label = "axis along",
                                                 .says = "the direction of the axis",
                                                 .choices = {"x", "y", "z"}},
                                                {.name = "angle",
                                                 .type = Field::Type::angle,
                                                 .usual = 360.0,
                                                 .label = "angle",
                                                 .says = "from the first to the last; 360: all the way round",
                                                 .least = -360,
                                                 .most = 360},
                                                {.name = "turn",
                                                 .type = Field::Type::yes_no,
                                                 .usual = true,
                                                 .label = "rotate each with it",
                                                 .says = "or each stays as the first one stands"},
                                                centre("centre_x", "centre x"),
                                                centre("centre_y", "centre y"),
                                                centre("centre_z", "centre z")},
                                     .places = places_round});

}  // namespace
}  // namespace anvil
