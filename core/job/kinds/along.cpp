// Copies along edges of the body that it acts on.
#include "core/base/number_text.h"
#include "core/job/kinds/copies_fields.h"
#include "core/mesh/chain.h"

namespace anvil {
namespace {

/// Where along the chain the copies stand, in mm from its beginning.
Result<std::vector<double>> stations(const KindValues& v, const Chain& chain) {
    const double inset = chain.closed ? 0 : v["inset"], room = chain.length() - 2 * inset;
    if (!(room > 0))
        return Error{ErrorCode::out_of_range,
                     "the edges are " + short_text(chain.length()) + " mm long: nothing is left between the ends", ""};
    const bool by_distance = v.word("by") == "distance";
    const double exact = by_distance ? room / v["distance"] : v.count("count");
    if (auto fit = check_copies(exact); !fit) return fit.error();
    // A last one that rounding puts behind the end stands there.
    const auto whole = static_cast<int>(by_distance ? std::floor(exact * (1 + 1e-12)) : exact);
    const int count = by_distance && !chain.closed ? whole + 1 : std::max(whole, 1);
    const double step = by_distance ? v["distance"] : chain.closed ? room / count : count > 1 ? room / (count - 1) : 0;
    const double first = !by_distance && count == 1 && !chain.closed ? room / 2 : 0;
    std::vector<double> out;
    for (int k = 0; k < count; ++k) out.push_back(inset + first + v["start"] + k * step);
    return out;
}

/// Turns x to the chain's direction and z to the normal, as far as they are square to each other.
Transform turned_to(const ChainPlace& at) {
    const Vec3 x = at.along, y = cross(at.normal, x);
    if (norm(y) < 1e-9) return Transform::Identity();
    const Vec3 v = normalized(y), z = cross(x, v);
    Transform out = Transform::Identity();
    for (int k = 0; k < 3; ++k) {
        out.linear()(k, 0) = x[k];
        out.linear()(k, 1) = v[k];
        out.linear()(k, 2) = z[k];
    }
    return out;
}

Result<std::vector<Transform>> places_along(const Values& values, const Copied& of, Progress&) {
    const KindValues v(*find_copies("along"), values);
    const auto held = of.held.find("edges");
    const auto chain = chain_of(*of.body, held == of.held.end() ? Selection{ElementKind::edges, {}} : held->second);
    if (!chain) return chain.error();
    const auto at = stations(v, *chain);
    if (!at) return at.error();
    const bool turns = v.word("turned") == "with the line";
    std::vector<Transform> out;
    for (const double s : *at) {
        const ChainPlace place = place_on(*chain, s);
        out.push_back(translation(place.point) * (turns ? turned_to(place) : Transform(Transform::Identity())) *
                      translation(-of.foot));
    }
    return out;
}

Field only_for(Field field, const char* choice, const char* value) {
    field.only_if = choice;
    field.only_for = value;
    return field;
}

const RegisterKind along_registered(
    {.word = "along",
     .of = KindClass::copies,
     .name = "along edges",
     .says = "Copies along a line of edges",
     .order = 4,
     .fields = {{.name = "edges",
                 .type = Field::Type::held,
                 .usual = std::vector<Anchor>(),
                 .label = "edges",
                 .says = "of the body above this step; they are found again when that changes",
                 .of = ElementKind::edges},
                {.name = "by",
                 .type = Field::Type::choice,
                 .usual = std::string("count"),
                 .label = "set by",
                 .says = "how many in all, or how far from each to the next",
                 .choices = {"count", "distance"}},
                only_for(number_of_copies("count", 6, "copies"), "by", "count"),
                only_for({.name = "distance",
                          .type = Field::Type::length,
                          .usual = 10.0,
                          .label = "distance",
                          .says = "along the edges, from each to the next",
                          .least = 0.001,
                          .most = 1e6},
                         "by", "distance"),
                {.name = "start",
                 .type = Field::Type::length,
                 .usual = 0.0,
                 .label = "start at",
                 .says = "along the edges; below 0 the other way",
                 .least = -1e6,
                 .most = 1e6},
                {.name = "inset",
                 .type = Field::Type::length,
                 .usual = 0.0,
                 .label = "keep off the ends",
                 .says = "of a line that is not closed, on both",
                 .least = 0,
                 .most = 1e6},
                {.name = "turned",
                 .type = Field::Type::choice,
                 .usual = std::string("with the line"),
                 .label = "rotated",
                 .says = "x along the edges and z off the surface, or all as the part stands",
                 .choices = {"with the line", "as it stands"}}},
     .places = places_along,
     .needs_body = true});

}  // namespace
}  // namespace anvil
