// Copies by chance over the body's surface, each with its foot on it and its own z axis along the surface's normal.
#include "core/job/kinds/copies_fields.h"
#include "core/mesh/placement.h"
#include "core/mesh/scatter.h"

namespace anvil {
namespace {

/// Turns z to a direction, by the shortest way.
Transform upright(const Vec3& n) {
    const double flat = std::hypot(n.x, n.y);
    if (flat == 0) return n.z > 0 ? Transform(Transform::Identity()) : Placement{{}, {180, 0, 0}}.transform();
    return rotation(std::atan2(flat, n.z), {-n.y, n.x, 0});
}

Result<std::vector<Transform>> places_scattered(const Values& values, const Copied& of, Progress& progress) {
    const KindValues v(*find_copies("scattered"), values);
    if (v["size_most"] < v["size_least"])
        return Error{ErrorCode::out_of_range, "the largest size is below the smallest one", ""};
    const auto seed = static_cast<std::uint64_t>(v.count("seed"));
    const auto points = scattered(*of.body, {static_cast<std::size_t>(v.count("count")), v["apart"], seed}, progress);
    if (progress.cancelled()) return cancelled_error();
    Chance chance(seed ^ 0x5ca77e4edull);
    std::vector<Transform> out;
    for (const SurfacePoint& p : points) {
        const double turned = chance.between(-v["turn"], v["turn"]),
                     size = chance.between(v["size_least"], v["size_most"]);
        // Left out last, so that all others stay as they are when the share changes.
        if (chance.share() < v["left_out"] / 100) continue;
        const Transform about_axis = rotation(turned * 3.14159265358979323846 / 180, {0, 0, 1});
        out.push_back(translation(p.point) * upright(p.normal) * about_axis * Transform(scaling(size)) *
                      translation(-of.foot));
    }
    if (out.empty()) return Error{ErrorCode::out_of_range, "no copy is left: leave fewer out", ""};
    return out;
}

Field size(const char* name, const char* label) {
    return {.name = name,
            .type = Field::Type::factor,
            .usual = 1.0,
            .label = label,
            .says = "as a factor; by chance between the smallest and the largest",
            .least = 0.01,
            .most = 100};
}

const RegisterKind scattered_registered(
    {.word = "scattered",
     .of = KindClass::copies,
     .name = "scattered",
     .says = "Copies by chance over the surface",
     .order = 5,
     .fields = {number_of_copies("count", 50, "copies"),
                {.name = "apart",
                 .type = Field::Type::length,
                 .usual = 0.0,
                 .label = "apart",
                 .says = "from foot to foot at least; where there is no more room, there are fewer",
                 .least = 0,
                 .most = 1e6},
                {.name = "seed",
                 .type = Field::Type::count,
                 .usual = std::int64_t{1},
                 .label = "seed",
                 .says = "another number gives other places",
                 .least = 0,
                 .most = 1e6},
                {.name = "left_out",
                 .type = Field::Type::factor,
                 .usual = 0.0,
                 .label = "left out, %",
                 .says = "so many of a hundred are left out, by chance",
                 .least = 0,
                 .most = 100},
                size("size_least", "smallest size"),
                size("size_most", "largest size"),
                {.name = "turn",
                 .type = Field::Type::angle,
                 .usual = 0.0,
                 .label = "rotated up to",
                 .says = "by chance about the normal, either way",
                 .least = 0,
                 .most = 180}},
     .places = places_scattered,
     .needs_body = true});

}  // namespace
}  // namespace anvil
