// One copy across a plane, beside the operand itself.
#include "core/job/kinds/copies_fields.h"
#include "core/job/kinds/mirror_fields.h"

namespace anvil {
namespace {

Result<std::vector<Transform>> places_mirrored(const Values& values, const Copied&, Progress&) {
    const KindValues v(*find_copies("mirrored"), values);
    const int axis = v.word("across") == "x" ? 0 : v.word("across") == "y" ? 1 : 2;
    Transform mirror = Transform::Identity();
    mirror.linear()(axis, axis) = -1;
    mirror.translation()(axis) = 2 * v["at"];
    return std::vector<Transform>{Transform(Transform::Identity()), mirror};
}

const RegisterKind mirrored_registered({.word = "mirrored",
                                        .of = KindClass::copies,
                                        .name = "mirrored",
                                        .says = "A second one across a plane",
                                        .order = 3,
                                        .fields = mirror_fields(),
                                        .places = places_mirrored});

}  // namespace
}  // namespace anvil
