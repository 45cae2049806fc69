// A body across a plane that stands square to an axis.
#include "core/job/kinds/mirror_fields.h"

namespace anvil {
namespace {

Result<Treated> mirrored(const std::shared_ptr<const Mesh>& body, const Values& values, const TreatSettings&,
                         Progress&) {
    const Kind& kind = *find_kind("mirror");
    const std::string& axis = value_of<std::string>(kind, values, "across");
    const double at = value_of<double>(kind, values, "at");
    const int k = axis == "x" ? 0 : axis == "y" ? 1 : 2;
    auto out = std::make_shared<Mesh>(*body);
    // One rounding at most, none where the plane goes through the origin.
    for (Vec3& p : out->points) p[k] = 2 * at - p[k];
    turn_over(*out);
    return Treated{.mesh = std::move(out), .same_faces = true};
}

const RegisterKind mirror_registered({
    .word = "mirror",
    .of = KindClass::treat,
    .name = "mirror",
    .says = "The body across a plane",
    .fields = mirror_fields(),
    .treat = mirrored,
});

}  // namespace
}  // namespace anvil
