// Copies in rows along the axes.
#include <array>

#include "core/job/kinds/copies_fields.h"

namespace anvil {
namespace {

constexpr const char* axes[] = {"x", "y", "z"};

Result<std::vector<Transform>> places_in_rows(const Values& values, const Copied&, Progress&) {
    const KindValues v(*find_copies("rows"), values);
    std::array<int, 3> count{};
    Vec3 step;
    for (int k = 0; k < 3; ++k) {
        const std::string axis = axes[k];
        count[static_cast<std::size_t>(k)] = v.count(("count_" + axis).c_str());
        step[k] = v[axis.c_str()];
        if (v.word("spacing") == "in all" && count[static_cast<std::size_t>(k)] > 1)
            step[k] /= count[static_cast<std::size_t>(k)] - 1;
    }
    if (auto fit = check_copies(1.0 * count[0] * count[1] * count[2]); !fit) return fit.error();
    std::vector<Transform> out;
    for (int z = 0; z < count[2]; ++z)
        for (int y = 0; y < count[1]; ++y)
            for (int x = 0; x < count[0]; ++x) out.push_back(translation({x * step.x, y * step.y, z * step.z}));
    return out;
}

std::vector<Field> fields_of_rows() {
    std::vector<Field> out;
    for (int k = 0; k < 3; ++k) {
        const std::string axis = axes[k];
        out.push_back(number_of_copies("count_" + axis, k == 0 ? 3 : 1, "copies along " + axis));
        out.push_back({.name = axis,
                       .type = Field::Type::length,
                       .usual = 10.0,
                       .label = axis + " spacing",
                       .says = "from copy to copy, or from the first to the last; below 0 the other way",
                       .least = -1e6,
                       .most = 1e6});
    }
    out.push_back({.name = "spacing",
                   .type = Field::Type::choice,
                   .usual = std::string("each"),
                   .label = "spacing is",
                   .says = "from each copy to the next, or from the first to the last in all",
                   .choices = {"each", "in all"}});
    return out;
}

const RegisterKind rows_registered({.word = "rows",
                                    .of = KindClass::copies,
                                    .name = "in rows",
                                    .says = "Copies in one to three directions",
                                    .order = 1,
                                    .fields = fields_of_rows(),
                                    .places = places_in_rows});

}  // namespace
}  // namespace anvil
