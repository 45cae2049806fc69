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

Result<Mesh> placed(Mesh mesh, const Placing& placing) {
    if (placing.scale.x == 0 || placing.scale.y == 0 || placing.scale.z == 0)
        return Error{ErrorCode::out_of_range, "a factor of 0 would leave nothing", ""};
    if (placing.mirror) {
        Vec3 mirror{1, 1, 1};
        mirror[*placing.mirror] = -1;
        mesh = transformed(std::move(mesh), scaling(mirror));
    }
    mesh = transformed(std::move(mesh), scaling(placing.scale));
    if (placing.size != Vec3{}) {
        const auto factors = factors_for(placing.size, bounds(mesh).size());
        if (!factors) return factors.error();
        mesh = transformed(std::move(mesh), scaling(*factors));
    }
    mesh = transformed(std::move(mesh), Placement{{}, placing.angles}.transform());
    const Box box = bounds(mesh);
    Vec3 move = placing.move;
    if (placing.centre && !box.empty()) move = move - Vec3{box.center().x, box.center().y, 0};
    if (placing.drop && !box.empty()) move.z -= box.low.z;
    return transformed(std::move(mesh), translation(move));
}

}  // namespace anvil
