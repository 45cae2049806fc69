#include "core/mesh/placing.h"

#include "core/mesh/measures.h"
#include "core/mesh/placement.h"

namespace anvil {
namespace {

constexpr const char* axis_names[] = {"x", "y", "z"};

/// Axes without a size take the factor of the first one that has one.
Result<Vec3> factors_for(const Vec3& size, const Vec3& now) {
    Vec3 factors{1, 1, 1};
    double usual = 1;
    for (int k = 2; k >= 0; --k) {
        if (size[k] < 0) return Error{ErrorCode::out_of_range, "a size is below 0", ""};
        if (size[k] == 0) continue;
        if (!(now[k] > 0))
            return Error{ErrorCode::out_of_range,
                         std::string("it has no extent along ") + axis_names[k] + " that could be scaled to a size",
                         ""};
        usual = factors[k] = size[k] / now[k];
    }
    for (int k = 0; k < 3; ++k)
        if (size[k] == 0) factors[k] = usual;
    return factors;
}

}  // namespace

Result<std::vector<Mesh>> placed(std::vector<Mesh> meshes, const Placing& placing) {
    if (placing.scale.x == 0 || placing.scale.y == 0 || placing.scale.z == 0)
        return Error{ErrorCode::out_of_range, "a factor of 0 would leave nothing", ""};
    auto transform = [&](const Transform& by) {
        for (Mesh& mesh : meshes) mesh = transformed(std::move(mesh), by);
    };
    auto box_of_all = [&] {
        Box box;
        for (const Mesh& mesh : meshes) box.add(bounds(mesh));
        return box;
    };
    if (placing.mirror) {
        Vec3 mirror{1, 1, 1};
        mirror[*placing.mirror] = -1;
        transform(scaling(mirror));
    }
    transform(scaling(placing.scale));
    if (placing.size != Vec3{}) {
        const auto factors = factors_for(placing.size, box_of_all().size());
        if (!factors) return factors.error();
        transform(scaling(*factors));
    }
    transform(Placement{{}, placing.angles}.transform());
    const Box box = box_of_all();
    Vec3 move = placing.move;
    if (placing.centre && !box.empty()) move = move - Vec3{box.center().x, box.center().y, 0};
    if (placing.drop && !box.empty()) move.z -= box.low.z;
    transform(translation(move));
    return meshes;
}

}  // namespace anvil
