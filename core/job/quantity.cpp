#include "core/job/quantity.h"

#include <charconv>
#include <cmath>
#include <cstdio>
#include <numbers>

namespace anvil {
namespace {

struct UnitName {
    std::string_view name;
    double factor;
};
constexpr UnitName lengths[] = {{"um", 0.001}, {"mm", 1}, {"cm", 10}, {"m", 1000}, {"in", 25.4}, {"ft", 304.8}};
constexpr UnitName angles[] = {{"deg", 1}, {"\xC2\xB0", 1}, {"rad", 180 / std::numbers::pi}};

/// sum := product (('+' | '-') product)*; product := factor (('*' | '/') factor)*; factor := ('-')* (number | bracket)
/// unit? Whether a value carries a unit is kept along: 2 * 3 mm is a length, 2 + 3 mm reads the 2 as the default unit.
class Parser {
  public:
    Parser(std::string_view text, Unit unit) : text_(text), unit_(unit) {}

    Result<double> parse() {
        const double v = sum();
        skip();
        if (error_.empty() && pos_ < text_.size()) fail("did not expect \"" + std::string(text_.substr(pos_)) + "\"");
        if (error_.empty() && !(std::fabs(v) <= largest)) fail("numbers go up to 1e12");
        if (!error_.empty()) return Error{ErrorCode::bad_number, error_, "\"" + std::string(text_) + "\""};
        return v;
    }

  private:
    // Far beyond any bench, and far from where sums and turns of such numbers could no longer be saved.
    static constexpr double largest = 1e12;

    void skip() {
        while (pos_ < text_.size() && text_[pos_] == ' ') ++pos_;
    }
    bool take(char c) {
        skip();
        if (pos_ >= text_.size() || text_[pos_] != c) return false;
        ++pos_;
        return true;
    }
    void fail(const std::string& what) {
        if (error_.empty()) error_ = what;
    }
    double sum() {
        double v = product();
        for (;;) {
            if (take('+'))
                v += product();
            else if (take('-'))
                v -= product();
            else
                return v;
        }
    }
    double product() {
        const bool outer = unit_seen_;
        unit_seen_ = false;
        double v = factor();
        for (;;) {
            if (take('*')) {
                v *= factor();
            } else if (take('/')) {
                // A unit behind a plain quotient, as in "3/4 in", counts for the whole.
                const double d = factor(unit_seen_);
                if (d == 0) fail("cannot divide by 0");
                v /= d;
            } else {
                if (!unit_seen_) v *= unit_factor();
                unit_seen_ = unit_seen_ || outer;
                return v;
            }
        }
    }
    double factor(bool with_unit = true) {
        if (++depth_ > 100) {
            fail("too many brackets or signs");
            return 0;
        }
        double v = 0;
        if (take('-')) {
            v = -factor(with_unit);
            with_unit = false;
        } else if (take('+')) {
            v = factor(with_unit);
            with_unit = false;
        } else if (take('(')) {
            v = sum();
            if (!take(')')) fail("a bracket is not closed");
        } else {
            skip();
            const char* end = text_.data() + text_.size();
            const auto [after, code] = std::from_chars(text_.data() + pos_, end, v);
            if (code != std::errc())
                fail(pos_ < text_.size() ? "expected a number at \"" + std::string(text_.substr(pos_)) + "\""
                                         : "expected a number at the end");
            pos_ = static_cast<std::size_t>(after - text_.data());
        }
        --depth_;
        return with_unit ? v * unit_factor() : v;
    }
    double unit_factor() {
        skip();
        const std::string_view rest = text_.substr(pos_);
        const UnitName* best = nullptr;
        auto look = [&](const UnitName& u) {
            if (rest.starts_with(u.name) && (!best || u.name.size() > best->name.size())) best = &u;
        };
        if (unit_ == Unit::millimetre)
            for (const UnitName& u : lengths) look(u);
        else
            for (const UnitName& u : angles) look(u);
        if (!best) return 1;
        pos_ += best->name.size();
        unit_seen_ = true;
        return best->factor;
    }

    std::string_view text_;
    Unit unit_;
    std::size_t pos_ = 0;
    int depth_ = 0;
    bool unit_seen_ = false;  // in the product at hand
    std::string error_;
};

}  // namespace

Result<double> parse_quantity(std::string_view text, Unit unit) { return Parser(text, unit).parse(); }

Result<double> parse_quantity(std::string_view text, Unit unit, double now) {
    constexpr std::string_view from_here = "by";
    text.remove_prefix(std::min(text.find_first_not_of(' '), text.size()));
    if (!text.starts_with(from_here)) return parse_quantity(text, unit);
    const auto by = parse_quantity(text.substr(from_here.size()), unit);
    return by ? Result<double>(now + *by) : by;
}

std::string format_quantity(double value, Unit unit) {
    // Not by printf, which writes a comma in some locales: what is shown must read back.
    char buffer[400];
    std::string out(buffer,
                    std::to_chars(buffer, buffer + sizeof buffer, value + 0.0, std::chars_format::fixed, 6).ptr);
    out.erase(out.find_last_not_of('0') + 1);
    if (out.back() == '.') out.pop_back();
    if (out == "-0") out = "0";
    return out + (unit == Unit::millimetre ? " mm" : "\xC2\xB0");
}

}  // namespace anvil
