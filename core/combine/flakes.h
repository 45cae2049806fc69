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
    /// `times`: how often the face lies there.
    void add(const CornerPoints& corners, int times = 1);
    /// Whether its two sides are nowhere, on average, farther apart than eight times `digit` mm.
    bool is_thin(double digit) const { return std::fabs(volume_) <= 4 * std::ldexp(digit, -exponent_) * area_; }
    /// Whether it is thicker than that for sure. All corners of a needle may lie on one line but for their last digits:
    /// then its volume is lost.
    bool is_thicker(double digit) const {
        return std::fabs(volume_) > 4 * std::ldexp(digit, -exponent_) * area_ + doubt_;
    }
    double thickness() const {  ///< mm
        return area_ > 0 ? static_cast<double>(std::ldexp(2 * std::fabs(volume_) / area_, exponent_)) : 0;
    }
    double area() const { return static_cast<double>(std::ldexp(area_, 2 * exponent_)); }  ///< mm2

  private:
    using Coordinates = std::array<long double, 3>;
    int exponent_;
    long double scale_;
    std::optional<Coordinates> origin_;
    long double volume_ = 0, area_ = 0;
    long double doubt_ = 0;  // how far off the volume may be
};

/// Takes out closed shells of rounded faces that are thinner than four places of the last digit: rounding may have
/// turned them inside out. How thick they were counts as a move. Leaves all as it is where it was stopped.
void drop_flakes(RoundedFaces& rounded, Precision precision, const Progress& progress);

}  // namespace anvil
