#pragma once

#include <optional>

#include "core/job/kinds/kind_values.h"

namespace anvil {

inline Field place_field(const char* name, const char* label, const char* says) {
    return {.name = name, .type = Field::Type::place, .usual = Vec3{}, .label = label, .says = says};
}
inline Field direction_field(const char* name, const char* label, const char* says) {
    return {.name = name, .type = Field::Type::direction, .usual = Vec3{0, 0, 1}, .label = label, .says = says};
}
/// Of any sign.
inline Field length_field(const char* name, double usual, const char* label, const char* says) {
    return {.name = name,
            .type = Field::Type::length,
            .usual = usual,
            .label = label,
            .says = says,
            .least = -1e6,
            .most = 1e6};
}
/// A flat face that the cut lies on and follows.
inline Field face_field(const char* says) {
    return {.name = "face",
            .type = Field::Type::held,
            .usual = std::vector<Anchor>(),
            .label = "on a face",
            .says = says,
            .of = ElementKind::faces};
}

inline Field shown_for(Field field, const char* other, const char* values) {
    field.only_if = other;
    field.only_for = values;
    field.goes_with_size = false;
    return field;
}
/// And only where this holds, too.
inline Field shown_too(Field field, const char* other, const char* values) {
    field.also_if = other;
    field.also_for = values;
    return field;
}
inline Field angle_field(const char* name, double usual, const char* label, const char* says, double least,
                         double most) {
    return {.name = name,
            .type = Field::Type::angle,
            .usual = usual,
            .label = label,
            .says = says,
            .least = least,
            .most = most};
}
/// Of what is turned in its plane.
inline Field turn_field(const char* says) { return angle_field("turn", 0, "turned by", says, -360, 360); }
/// The first choice is the usual one.
inline Field choice_field(const char* name, const char* label, const char* says, std::vector<std::string> choices) {
    Field out{.name = name, .type = Field::Type::choice, .usual = choices.front(), .label = label, .says = says};
    out.choices = std::move(choices);
    return out;
}

/// Of a field that holds several places: the one of the handle moved.
Values with_point_moved(const Kind& kind, Values values, const MeasureHandle& handle, const Vec3& by);

/// Where a flat face that is held lies, and looks.
struct Seat {
    Vec3 place, normal;
};
/// Of a plane that mirrors: square to an axis, the bed that the body stands on, a flat face, or free.
std::vector<Field> mirror_plane_fields();
Result<Seat> mirror_plane(const KindValues& values, const Mesh& body,
                          const std::map<std::string, Selection, std::less<>>& held);

/// Handles of that plane, where it is by numbers.
std::vector<MeasureHandle> mirror_plane_handles(const Kind& kind, const Values& values);

/// The same for elements of a body. Fails: lost; out_of_range, where they are not flat.
Result<Seat> flat_seat(const Mesh& body, const Selection& faces);
/// Nothing where no face is held. Fails: out_of_range, where what is held is not flat.
Result<std::optional<Seat>> seat_of(const CutFor& of);
/// A place put into the face's plane, along its normal.
Vec3 on_seat(const Seat& seat, const Vec3& p);

}  // namespace anvil
