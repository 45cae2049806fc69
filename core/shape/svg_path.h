#pragma once

#include <string_view>

#include "core/shape/outline.h"

namespace anvil {

/// x' = a x + c y + e, y' = b x + d y + f, as SVG's matrix(a b c d e f).
struct Affine {
    double a = 1, b = 0, c = 0, d = 1, e = 0, f = 0;
    Point2 operator()(const Point2& p) const { return {a * p.u + c * p.v + e, b * p.u + d * p.v + f}; }
    /// First `o`, then this.
    Affine operator*(const Affine& o) const {
        return {a * o.a + c * o.b, b * o.a + d * o.b,     a * o.c + c * o.d,
                b * o.c + d * o.d, a * o.e + c * o.f + e, b * o.e + d * o.f + f};
    }
    /// An upper bound of how much longer anything gets.
    double stretch() const;
};

/// Gathers straight and curved stretches into loops, in mm.
class LoopMaker {
  public:
    /// `to_mm`: of all points that are given. `chord`: mm by which a stretch may leave its curve.
    LoopMaker(const Affine& to_mm, double chord) : to_mm_(to_mm), chord_(chord) {}
    void move_to(const Point2& p);
    void line_to(const Point2& p);
    void quadratic_to(const Point2& c, const Point2& p);
    void cubic_to(const Point2& c1, const Point2& c2, const Point2& p);
    /// Radii, the angle of the first to x in degrees, and which of four arcs (SVG 1.1, appendix F.6).
    void arc_to(double rx, double ry, double angle, bool large, bool sweep, const Point2& p);
    void close();
    const Point2& at() const { return at_; }
    /// Ends the last loop. Loops of less than three points enclose nothing and are left out.
    Outline loops();
    std::size_t points() const { return points_; }

  private:
    void add(const Point2& p);
    void end_loop();

    Affine to_mm_;
    double chord_;
    Point2 first_{}, at_{};  // as given
    std::vector<Point2> loop_;
    Outline loops_;
    std::size_t points_ = 0;
};

/// What is read off the front of `text`: a number after blanks and at most one comma. False where there is none.
bool take_svg_number(std::string_view& text, double& v);

/// Path data (SVG 1.1, 8.3). Fails: bad_syntax with what could not be read, bad_count.
Result<void> read_path_data(std::string_view data, LoopMaker& out);

/// More points than this are no outline of a part.
inline constexpr std::size_t most_drawn_points = 200'000;
Error too_many_points();

}  // namespace anvil
