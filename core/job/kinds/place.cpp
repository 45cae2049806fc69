// A body scaled about the origin, turned about the x, then the y, then the z axis, then moved.
#include "core/job/kinds/kind.h"
#include "core/mesh/placement.h"

namespace anvil {
namespace {

Result<Treated> put_there(const std::shared_ptr<const Mesh>& body, const Values& values, const TreatSettings&,
                          Progress&) {
    const Kind& kind = *find_kind("place");
    auto number = [&](const char* field) { return value_of<double>(kind, values, field); };
    const Placement placement{{number("move_x"), number("move_y"), number("move_z")},
                              {number("turn_x"), number("turn_y"), number("turn_z")}};
    const double scale = number("scale");
    const Transform all = placement.transform() *
                          scaling({scale * number("scale_x"), scale * number("scale_y"), scale * number("scale_z")});
    if (all.isApprox(Transform::Identity(), 0)) return Treated{.mesh = body};
    return Treated{.mesh = std::make_shared<const Mesh>(transformed(*body, all)), .same_faces = true};
}

Field place_field(const char* name, Field::Type type, const char* label, const char* says) {
    return {.name = name, .type = type, .usual = 0.0, .label = label, .says = says};
}

Field factor_field(const char* name, const char* label) {
    return {.name = name,
            .type = Field::Type::factor,
            .usual = 1.0,
            .label = label,
            .says = "along this axis alone, times the scale above",
            .least = 1e-6,
            .most = 1e6,
            .is_folded = true};
}

const RegisterKind place_registered({
    .word = "place",
    .of = KindClass::treat,
    .name = "place",
    .says = "Move, rotate and scale the body",
    .fields = {place_field("move_x", Field::Type::length, "move x", "how far along x"),
               place_field("move_y", Field::Type::length, "move y", "how far along y"),
               place_field("move_z", Field::Type::length, "move z", "how far along z"),
               place_field("turn_x", Field::Type::angle, "rotate about x", "about the x axis, before the others"),
               place_field("turn_y", Field::Type::angle, "rotate about y", "about the y axis, behind x"),
               place_field("turn_z", Field::Type::angle, "rotate about z", "about the z axis, last"),
               {.name = "scale",
                .type = Field::Type::factor,
                .usual = 1.0,
                .label = "scale",
                .says = "how many times as large, about the origin, first of all",
                .least = 1e-6,
                .most = 1e6},
               factor_field("scale_x", "scale x"),
               factor_field("scale_y", "scale y"),
               factor_field("scale_z", "scale z")},
    .treat = put_there,
});

}  // namespace
}  // namespace anvil
