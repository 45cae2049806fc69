#pragma once

#include <tbb/parallel_for.h>

#include <functional>
#include <optional>

#include "core/arrange/half_edges.h"
#include "core/combine/rounding.h"
#include "core/spatial/triangle_contact.h"

namespace anvil {

/// How thick a closed shell is, summed up face by face. In extended precision, since a needle's volume is all but lost
/// in the products that it is made of; scaled by a power of two, so that nothing leaves the range. How wrong the volume
/// may be is summed up as well: where that leaves the thickness open, the volume is worked out exactly.
class ShellThickness {
  public:
    explicit ShellThickness(int exponent) : exponent_(exponent), scale_(std::ldexp(1.0L, -exponent)) {}
    /// Where volumes are measured from, a point near the shell; else the first corner that is added.
    void set_origin(const Vec3& p) { origin_ = coordinates(p); }
    /// `times`: how often the face lies there.
    void add(const CornerPoints& corners, int times = 1);
    /// Adds what another one has summed up. Precondition: both have the same origin.
    void add(const ShellThickness& other);
    /// Whether the volume may be so wrong that the last digits of coordinates matter.
    bool is_open() const { return 4 * error_ > 0x1p-53L * area_; }
    void set_volume(double mm3);
    /// Takes over what is known in units of 2^exponent mm, its cube and its square.
    void set(double volume, double area) {
        volume_ = volume;
        area_ = area;
        error_ = 0;
    }
    /// Whether its two sides are nowhere, on average, farther apart than eight times `digit` mm.
    bool is_thin(double digit) const { return std::fabs(volume_) <= 4 * std::ldexp(digit, -exponent_) * area_; }
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
    long double volume_ = 0, area_ = 0, error_ = 0;
};

/// The same in doubles: a lower bound, which mostly shows that a shell is not thin.
class ThicknessBound {
  public:
    ThicknessBound(int exponent, const Vec3& origin) : scale_(std::ldexp(1.0, -exponent)), origin_(origin) {}
    void add(const CornerPoints& corners, int times);
    void add(const ThicknessBound& other);
    /// At least that, and about that much; in the units of ShellThickness::set.
    double volume() const { return std::fabs(volume_ + lost_) - 16 * 0x1p-53 * size_; }
    double area() const { return area_; }

  private:
    /// Keeps what a sum of doubles loses: D. Knuth, "The Art of Computer Programming" 2 (1969), 4.2.2, theorem B.
    void add_volume(double v) {
        const double sum = volume_ + v, part = sum - volume_;
        lost_ += (volume_ - (sum - part)) + (v - part);
        volume_ = sum;
    }
    double scale_;
    Vec3 origin_;
    double volume_ = 0, lost_ = 0, area_ = 0, size_ = 0;  // the last: of what volumes are sums of, by amount
};

/// Works out exactly what is open of shells, whose numbers and counts are told per face.
void tell_exactly(std::vector<ShellThickness>& shells, const RoundedFaces& faces,
                  const std::function<std::size_t(std::size_t)>& shell, const std::function<int(std::size_t)>& times,
                  const Progress& progress);

/// Adds up per shell, in `sums`, which has one of each: the same blocks on any number of threads, so that the sums are
/// the same. `shell(face)`: its number; `times(face)`: how often the face counts.
template <class Sum, class Shell, class Times>
void add_up_shells(const RoundedFaces& faces, const Shell& shell, const Times& times, std::vector<Sum>& sums,
                   const Progress& progress) {
    constexpr std::size_t block = 8192;
    const std::size_t blocks = sums.size() < block / 16 ? faces.faces.size() / block + 1 : 1;
    std::vector<std::vector<Sum>> parts(blocks, sums);
    tbb::parallel_for(std::size_t{0}, blocks, [&](std::size_t b) {
        const std::size_t end = b + 1 == blocks ? faces.faces.size() : (b + 1) * block;
        for (std::size_t f = b * block; f < end && !(f % 1024 == 0 && progress.cancelled()); ++f)
            if (const int count = times(f)) parts[b][shell(f)].add(corner_points(faces.points, faces.faces[f]), count);
    });
    for (const auto& part : parts)
        for (std::size_t s = 0; s < sums.size(); ++s) sums[s].add(part[s]);
}

/// How thick each shell is, where it is not plainly thicker than a few times `digit` mm: then at least how thick.
/// `shell(face)`: its number; `times(face)`: how often the face counts.
template <class Shell, class Times>
std::vector<ShellThickness> thickness_of_shells(const RoundedFaces& faces, std::size_t shells, const Shell& shell,
                                                const Times& times, double digit, const Progress& progress) {
    const double reach = reach_of(faces.points);
    const int exponent = reach > 0 ? std::ilogb(reach) : 0;
    std::vector<Vec3> origin(shells);
    for (std::size_t f = faces.faces.size(); f-- > 0;) origin[shell(f)] = faces.points[faces.faces[f][0].value()];
    std::vector<ThicknessBound> bounds;
    for (const Vec3& p : origin) bounds.emplace_back(exponent, p);
    add_up_shells(faces, shell, times, bounds, progress);
    std::vector<ShellThickness> out(shells, ShellThickness(exponent));
    std::vector<char> open(shells);  // so far
    for (std::size_t s = 0; s < shells; ++s) {
        out[s].set(bounds[s].volume(), bounds[s].area());
        open[s] = !(bounds[s].volume() > 0) || out[s].is_thin(2 * digit);
    }
    if (std::ranges::find(open, 1) == open.end()) return out;
    std::vector<ShellThickness> sums(shells, ShellThickness(exponent));
    for (std::size_t s = 0; s < shells; ++s) sums[s].set_origin(origin[s]);
    auto times_if_open = [&](std::size_t f) { return open[shell(f)] ? static_cast<int>(times(f)) : 0; };
    add_up_shells(faces, shell, times_if_open, sums, progress);
    for (std::size_t s = 0; s < shells; ++s)
        if (open[s]) out[s] = sums[s];
    tell_exactly(out, faces, shell, times, progress);
    return out;
}

/// Per shell, whether it is thin (see ShellThickness); how thick those are counts as a move of the faces. One without
/// faces counts as thin.
std::vector<char> thin_shells(std::span<const ShellThickness> thickness, double digit, RoundedFaces& faces);

/// Notes per face how thick its shell is. `shell(face)`: its number; `closed(face)`: whether it is closed.
template <class Shell, class Closed>
void note_thickness(std::span<const ShellThickness> thickness, const Shell& shell, const Closed& closed,
                    RoundedFaces& faces) {
    std::vector<float> of;
    for (const ShellThickness& s : thickness)  // a little less than it is, rather than more
        of.push_back(std::nextafter(static_cast<float>(s.thickness()), 0.0f));
    faces.thickness.assign(faces.faces.size(), 0);
    for (std::size_t f = 0; f < faces.faces.size(); ++f)
        if (closed(f)) faces.thickness[f] = of[shell(f)];
}

/// Per rounded face, whether it is of a closed shell that is thinner than four places of the last digit: rounding may
/// have turned it inside out. Empty where there is none, or where it was stopped. Notes how thick all shells are, and
/// how thick those were as a move.
std::vector<char> find_flakes(RoundedFaces& rounded, const HalfEdges& edges, Precision precision,
                              const Progress& progress);
/// Takes them out.
void drop_flakes(RoundedFaces& rounded, Precision precision, const Progress& progress);

}  // namespace anvil
