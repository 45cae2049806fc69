#include "core/shape/svg_path.h"

#include <algorithm>
#include <charconv>
#include <cmath>
#include <numbers>

#include "core/base/plain_text.h"

namespace anvil {
namespace {

Point2 plus(const Point2& p, const Point2& q) { return {p.u + q.u, p.v + q.v}; }
Point2 reflected(const Point2& p, const Point2& about) { return {2 * about.u - p.u, 2 * about.v - p.v}; }
/// Of the second differences of three points of a curve.
double bend(const Point2& a, const Point2& b, const Point2& c) {
    return std::hypot(a.u - 2 * b.u + c.u, a.v - 2 * b.v + c.v);
}
/// Stretches of equal parameter that leave a curve of this second derivative by no more than `chord`.
int stretches(double second_derivative, double chord) {
    return static_cast<int>(std::clamp(std::ceil(std::sqrt(second_derivative / (8 * chord))), 1.0, 10'000.0));
}

/// One flag of an arc: a single digit that needs nothing between it and what follows.
bool take_flag(std::string_view& text, bool& v) {
    while (!text.empty() && (std::isspace(static_cast<unsigned char>(text.front())) || text.front() == ','))
        text.remove_prefix(1);
    if (text.empty() || (text.front() != '0' && text.front() != '1')) return false;
    v = text.front() == '1';
    text.remove_prefix(1);
    return true;
}

/// Reads the commands of path data one after the other.
class PathReader {
  public:
    PathReader(std::string_view data, LoopMaker& out) : rest_(data), out_(out) {}

    Result<void> read() {
        for (;;) {
            skip_blanks();
            if (rest_.empty()) return {};
            const char c = rest_.front();
            if (std::isalpha(static_cast<unsigned char>(c))) {
                command_ = c;
                rest_.remove_prefix(1);
            } else if (command_ == 'M' || command_ == 'm') {
                command_ = command_ == 'M' ? 'L' : 'l';  // more points after a move are lines
            } else if (command_ == 0 || command_ == 'z' || command_ == 'Z') {
                return wrong();
            }
            if (!has_begun_ && command_ != 'M' && command_ != 'm') return wrong();
            has_begun_ = true;
            if (!one()) return wrong();
            if (out_.points() > most_drawn_points) return too_many_points();
        }
    }

  private:
    void skip_blanks() {
        while (!rest_.empty() && (std::isspace(static_cast<unsigned char>(rest_.front())) || rest_.front() == ','))
            rest_.remove_prefix(1);
    }
    Error wrong() const {
        return {ErrorCode::bad_syntax, "path data cannot be read from " + in_quotes(rest_, 20) + " on", ""};
    }
    bool number(double& v) { return take_svg_number(rest_, v); }
    bool point(Point2& p) {
        if (!number(p.u) || !number(p.v)) return false;
        if (is_relative()) p = plus(p, out_.at());
        return true;
    }
    bool is_relative() const { return std::islower(static_cast<unsigned char>(command_)); }

    bool one() {
        const char kind = static_cast<char>(std::toupper(static_cast<unsigned char>(command_)));
        const Point2 from = out_.at();
        // The second control point before, for smooth curves; where the last was no such curve, the point itself.
        const Point2 mirrored = last_kind_ == 'C' || last_kind_ == 'S' ? reflected(control_, from) : from;
        const Point2 mirrored_quadratic = last_kind_ == 'Q' || last_kind_ == 'T' ? reflected(control_, from) : from;
        last_kind_ = kind;
        Point2 p{}, c1{}, c2{};
        double v = 0;
        switch (kind) {
            case 'M':
                if (!point(p)) return false;
                out_.move_to(p);
                return true;
            case 'L':
                if (!point(p)) return false;
                out_.line_to(p);
                return true;
            case 'H':
                if (!number(v)) return false;
                out_.line_to({is_relative() ? from.u + v : v, from.v});
                return true;
            case 'V':
                if (!number(v)) return false;
                out_.line_to({from.u, is_relative() ? from.v + v : v});
                return true;
            case 'C':
                if (!point(c1) || !point(c2) || !point(p)) return false;
                out_.cubic_to(c1, control_ = c2, p);
                return true;
            case 'S':
                if (!point(c2) || !point(p)) return false;
                out_.cubic_to(mirrored, control_ = c2, p);
                return true;
            case 'Q':
                if (!point(c1) || !point(p)) return false;
                out_.quadratic_to(control_ = c1, p);
                return true;
            case 'T':
                if (!point(p)) return false;
                out_.quadratic_to(control_ = mirrored_quadratic, p);
                return true;
            case 'A': {
                double rx = 0, ry = 0, angle = 0;
                bool large = false, sweep = false;
                if (!number(rx) || !number(ry) || !number(angle) || !take_flag(rest_, large) ||
                    !take_flag(rest_, sweep) || !point(p))
                    return false;
                out_.arc_to(rx, ry, angle, large, sweep, p);
                return true;
            }
            case 'Z': out_.close(); return true;
            default: return false;
        }
    }

    std::string_view rest_;
    LoopMaker& out_;
    char command_ = 0, last_kind_ = 0;
    Point2 control_{};
    bool has_begun_ = false;
};

}  // namespace

double Affine::stretch() const { return std::hypot(std::hypot(a, b), std::hypot(c, d)); }

Error too_many_points() {
    return {ErrorCode::bad_count,
            "it has more than " + std::to_string(most_drawn_points) +
                " points: allow a larger chord error, or leave parts of the drawing out",
            ""};
}

bool take_svg_number(std::string_view& text, double& v) {
    bool comma = false;
    while (!text.empty()) {
        const char c = text.front();
        if (c == ',' && !comma)
            comma = true;
        else if (!std::isspace(static_cast<unsigned char>(c)))
            break;
        text.remove_prefix(1);
    }
    std::string_view digits = text;
    if (!digits.empty() && digits.front() == '+') digits.remove_prefix(1);
    if (digits.empty() || digits.front() == '+') return false;
    const auto [end, error] = std::from_chars(digits.data(), digits.data() + digits.size(), v);
    // Words of its grammar are no numbers here.
    if (error != std::errc() || !std::isfinite(v) || std::isalpha(static_cast<unsigned char>(digits.front())))
        return false;
    text = digits.substr(static_cast<std::size_t>(end - digits.data()));
    return true;
}

void LoopMaker::add(const Point2& p) {
    const Point2 q = to_mm_(p);
    if (!loop_.empty() && loop_.back().u == q.u && loop_.back().v == q.v) return;
    loop_.push_back(q);
    ++points_;
}
void LoopMaker::end_loop() {
    if (loop_.size() > 1 && loop_.front().u == loop_.back().u && loop_.front().v == loop_.back().v) loop_.pop_back();
    if (loop_.size() > 2) loops_.push_back(std::move(loop_));
    loop_.clear();
}
void LoopMaker::move_to(const Point2& p) {
    end_loop();
    first_ = at_ = p;
    add(p);
}
void LoopMaker::line_to(const Point2& p) {
    if (loop_.empty()) add(at_);  // goes on where a loop was closed
    add(p);
    at_ = p;
}
void LoopMaker::cubic_to(const Point2& c1, const Point2& c2, const Point2& p) {
    const Point2 from = at_;
    const double second = 6 * to_mm_.stretch() * std::max(bend(from, c1, c2), bend(c1, c2, p));
    const int n = stretches(second, chord_);
    for (int k = 1; k < n; ++k) {
        const double t = static_cast<double>(k) / n, s = 1 - t;
        const double w0 = s * s * s, w1 = 3 * s * s * t, w2 = 3 * s * t * t, w3 = t * t * t;
        line_to({w0 * from.u + w1 * c1.u + w2 * c2.u + w3 * p.u, w0 * from.v + w1 * c1.v + w2 * c2.v + w3 * p.v});
    }
    line_to(p);
}
void LoopMaker::quadratic_to(const Point2& c, const Point2& p) {
    const Point2 from = at_;
    const int n = stretches(2 * to_mm_.stretch() * bend(from, c, p), chord_);
    for (int k = 1; k < n; ++k) {
        const double t = static_cast<double>(k) / n, s = 1 - t;
        line_to({s * s * from.u + 2 * s * t * c.u + t * t * p.u, s * s * from.v + 2 * s * t * c.v + t * t * p.v});
    }
    line_to(p);
}
void LoopMaker::arc_to(double rx, double ry, double angle, bool large, bool sweep, const Point2& p) {
    const Point2 from = at_;
    rx = std::fabs(rx), ry = std::fabs(ry);
    if (rx == 0 || ry == 0) return line_to(p);
    if (from.u == p.u && from.v == p.v) return;
    // SVG 1.1, appendix F.6.5: from the ends to the centre, in a frame where the ellipse lies straight.
    const double phi = angle * std::numbers::pi / 180, cosine = std::cos(phi), sine = std::sin(phi);
    const double du = (from.u - p.u) / 2, dv = (from.v - p.v) / 2;
    const double x = cosine * du + sine * dv, y = -sine * du + cosine * dv;
    const double too_small = x * x / (rx * rx) + y * y / (ry * ry);
    if (too_small > 1) rx *= std::sqrt(too_small), ry *= std::sqrt(too_small);
    const double under = rx * rx * y * y + ry * ry * x * x;
    const double root = std::sqrt(std::max(0.0, rx * rx * ry * ry / under - 1)) * (large == sweep ? -1 : 1);
    const double cx = root * rx * y / ry, cy = -root * ry * x / rx;
    const double start = std::atan2((y - cy) / ry, (x - cx) / rx);
    double turn = std::atan2((-y - cy) / ry, (-x - cx) / rx) - start;
    if (sweep && turn < 0) turn += 2 * std::numbers::pi;
    if (!sweep && turn > 0) turn -= 2 * std::numbers::pi;
    const double middle_u = cosine * cx - sine * cy + (from.u + p.u) / 2;
    const double middle_v = sine * cx + cosine * cy + (from.v + p.v) / 2;
    const int n = stretches(to_mm_.stretch() * std::max(rx, ry) * turn * turn, chord_);
    for (int k = 1; k < n; ++k) {
        const double t = start + turn * k / n, u = rx * std::cos(t), v = ry * std::sin(t);
        line_to({middle_u + cosine * u - sine * v, middle_v + sine * u + cosine * v});
    }
    line_to(p);
}
void LoopMaker::close() {
    end_loop();
    at_ = first_;
}
Outline LoopMaker::loops() {
    end_loop();
    return std::move(loops_);
}

Result<void> read_path_data(std::string_view data, LoopMaker& out) { return PathReader(data, out).read(); }

}  // namespace anvil
