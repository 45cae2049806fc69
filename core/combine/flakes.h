#pragma once

#include <optional>

#include "core/combine/rounding.h"
#include "core/spatial/triangle_contact.h"

namespace anvil {

/// How thick a closed shell is, summed up face by face. In extended precision, since a needle's volume is all but lost
/// in the products that it is made of; scaled by a power of two, so that nothing leaves the range.
class ShellThickness {
  public:
    explicit ShellThickness(int exponent) : exponent_(exponent), scale_(std::ldexp(1.0L, -exponent)) {}
    /// Where volumes are measured from, a point near the shell; else the first corner that is added.
    void set_origin(const Vec3& p) { origin_ = coordinates(p); }
    /// `times`: how often the face lies there.
    void add(const CornerPoints& corners, int times = 1);
    /// Adds what another one has summed up. Precondition: both have the same origin.
    void add(const ShellThickness& other);
    /// Whether its two sides are nowhere, on average, farther apart than eight times `digit` mm.
    bool is_thin(double digit) const { return std::fabs(volume_) <= 4 * std::ldexp(digit, -exponent_) * area_; }
    bool is_empty() const { return area_ == 0; }
    double thickness() const {  ///< mm
        return area_ > 0 ? static_cast<double>(std::ldexp(2 * std::fabs(volume_) / area_, exponent_)) : 0;
    }
    double area() const { return static_cast<double>(std::ldexp(area_, 2 * exponent_)); }  ///< mm2

  private:
    using Coordinates = std::array<long double, 3>;
    Coordinates coordinates(const Vec3& p) const { return {p.x * scale_, p.y * scale_, p.z * scale_}; }
    int exponent_;
    long double scale_;
    std::optional<Coordinates> origin_;
    long double volume_ = 0, area_ = 0;
};

/// Takes out closed shells of rounded faces that are thinner than four places of the last digit: rounding may have
/// turned them inside out. How thick they were counts as a move. Leaves all as it is where it was stopped.
void drop_flakes(RoundedFaces& rounded, Precision precision, const Progress& progress);

}  // namespace anvil
