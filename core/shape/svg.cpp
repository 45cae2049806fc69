// What an SVG file fills.
#include <algorithm>
#include <cctype>
#include <charconv>
#include <cmath>
#include <cstring>
#include <map>
#include <numbers>
#include <optional>
#include <pugixml.hpp>
#include <string>

#include "core/base/plain_text.h"
#include "core/shape/svg_path.h"

namespace anvil {
namespace {

constexpr double mm_of_pixel = 25.4 / 96;  // CSS
constexpr int deepest = 64;                // elements in one another, and uses of uses
constexpr int most_elements = 100'000;

/// A length with its unit, in user units (pixels); what has no unit is that already, and a share is of `whole`.
std::optional<double> length_of(std::string_view text, double whole) {
    double v = 0;
    if (!take_svg_number(text, v)) return {};
    while (!text.empty() && std::isspace(static_cast<unsigned char>(text.back()))) text.remove_suffix(1);
    const std::pair<std::string_view, double> units[] = {{"", 1},           {"px", 1},         {"mm", 96 / 25.4},
                                                         {"cm", 96 / 2.54}, {"in", 96},        {"pt", 96.0 / 72},
                                                         {"pc", 16},        {"%", whole / 100}};
    for (const auto& [name, factor] : units)
        if (text == name) return v * factor;
    return {};
}

/// "fill:none;fill-rule:evenodd" by names.
std::map<std::string, std::string> declarations(std::string_view text) {
    std::map<std::string, std::string> out;
    auto trimmed = [](std::string_view part) {
        while (!part.empty() && std::isspace(static_cast<unsigned char>(part.front()))) part.remove_prefix(1);
        while (!part.empty() && std::isspace(static_cast<unsigned char>(part.back()))) part.remove_suffix(1);
        return std::string(part);
    };
    while (!text.empty()) {
        const std::size_t end = std::min(text.find(';'), text.size());
        const std::string_view one = text.substr(0, end);
        if (const std::size_t colon = one.find(':'); colon != std::string_view::npos)
            out[trimmed(one.substr(0, colon))] = trimmed(one.substr(colon + 1));
        text.remove_prefix(std::min(end + 1, text.size()));
    }
    return out;
}

/// What elements inherit.
struct Look {
    bool is_filled = true;
    FillRule rule = FillRule::non_zero;
};

class Svg {
  public:
    explicit Svg(double chord) : chord_(chord) {}

    Result<Drawing> read(std::string_view text) {
        pugi::xml_document document;
        // Entities of its own are not put in: there is nothing to blow up.
        const auto parsed = document.load_buffer(text.data(), text.size(), pugi::parse_default | pugi::parse_ws_pcdata);
        if (!parsed)
            return Error{ErrorCode::bad_syntax, std::string("it is no valid XML: ") + parsed.description(),
                         "byte " + std::to_string(parsed.offset)};
        const pugi::xml_node root = document.document_element();
        if (name_of(root) != "svg")
            return Error{ErrorCode::bad_syntax, "it is no SVG drawing: its first element is " + in_quotes(root.name()),
                         ""};
        if (auto known = note_ids(root); !known) return known.error();
        page_ = page_of(root);
        for (const pugi::xml_node child : root.children())
            if (auto done = element(child, page_, look_of(root, {}), 1); !done) return done.error();
        if (drawing_.empty()) return Error{ErrorCode::bad_count, nothing_filled(), ""};
        return std::move(drawing_);
    }

  private:
    /// Without the prefix of a namespace.
    static std::string_view name_of(const pugi::xml_node& node) {
        const std::string_view name = node.name();
        return name.substr(name.rfind(':') + 1);
    }
    static std::string place_of(const pugi::xml_node& node) {
        const std::string id = node.attribute("id").value();
        return std::string(name_of(node)) + (id.empty() ? "" : " " + in_quotes(id));
    }
    std::string nothing_filled() const {
        if (texts_ > 0) return "it holds text only: turn its text into paths in the program that drew it";
        if (unfilled_ > 0)
            return "nothing in it is filled: it has lines only, and a line has no area; fill its paths, or turn its "
                   "lines into paths";
        return "it holds no paths";
    }

    /// Ids, for what is used elsewhere, and rules of style sheets by class.
    Result<void> note_ids(const pugi::xml_node& root) {
        int count = 0, depth = 0;
        for (pugi::xml_node node = root; node;) {
            if (++count > most_elements)
                return Error{ErrorCode::bad_count, "it has more than 100000 elements, which no outline needs", ""};
            if (const char* id = node.attribute("id").value(); *id) ids_.emplace(id, node);
            if (name_of(node) == "style") note_rules(node.text().get());
            if (pugi::xml_node child = node.first_child()) {
                if (++depth > 4 * deepest)
                    return Error{ErrorCode::bad_syntax, "its elements lie more than 256 deep in one another", ""};
                node = child;
                continue;
            }
            while (node && node != root && !node.next_sibling()) node = node.parent(), --depth;
            node = node == root ? pugi::xml_node() : node.next_sibling();
        }
        return {};
    }
    /// Of a style sheet only what classes say is read: ".name, .other { fill: none }".
    void note_rules(std::string_view sheet) {
        while (true) {
            const std::size_t open = sheet.find('{'), end = sheet.find('}');
            if (open == std::string_view::npos || end == std::string_view::npos || end < open) return;
            const auto said = declarations(sheet.substr(open + 1, end - open - 1));
            std::string_view names = sheet.substr(0, open);
            for (std::size_t dot; (dot = names.find('.')) != std::string_view::npos;) {
                names.remove_prefix(dot + 1);
                const std::size_t n = std::min(names.find_first_of(" \t\r\n,>:.{"), names.size());
                for (const auto& [what, value] : said) classes_[std::string(names.substr(0, n))][what] = value;
            }
            sheet.remove_prefix(end + 1);
        }
    }

    /// From user units of the file to mm, with y upwards from the lower edge of its page.
    static Affine page_of(const pugi::xml_node& root) {
        std::optional<double> width = length_of(root.attribute("width").value(), 0);
        std::optional<double> height = length_of(root.attribute("height").value(), 0);
        double box[4] = {0, 0, width.value_or(0), height.value_or(0)};
        std::string_view view = root.attribute("viewBox").value();
        double read[4];
        if (take_svg_number(view, read[0]) && take_svg_number(view, read[1]) && take_svg_number(view, read[2]) &&
            take_svg_number(view, read[3]) && read[2] > 0 && read[3] > 0)
            std::ranges::copy(read, box);
        const bool sized = width && height && *width > 0 && *height > 0;
        if (!sized) width = box[2], height = box[3];
        // "meet": as large as fits, in the middle.
        double scale = box[2] > 0 && box[3] > 0 ? std::min(*width / box[2], *height / box[3]) : 1;
        if (!(scale > 0) || !std::isfinite(scale)) scale = 1;
        const double left = (*width - scale * box[2]) / 2, top = (*height - scale * box[3]) / 2;
        return Affine{mm_of_pixel, 0, 0, -mm_of_pixel, 0, mm_of_pixel * *height} *
               Affine{scale, 0, 0, scale, left - scale * box[0], top - scale * box[1]};
    }

    /// An attribute: of the style first, then of the classes, then its own.
    std::string property(const pugi::xml_node& node, const char* name) const {
        const auto own = declarations(node.attribute("style").value());
        if (const auto at = own.find(name); at != own.end()) return at->second;
        std::string_view names = node.attribute("class").value();
        while (!names.empty()) {
            const std::size_t n = std::min(names.find(' '), names.size());
            if (const auto rules = classes_.find(std::string(names.substr(0, n))); rules != classes_.end())
                if (const auto at = rules->second.find(name); at != rules->second.end()) return at->second;
            names.remove_prefix(std::min(n + 1, names.size()));
        }
        return node.attribute(name).value();
    }
    Look look_of(const pugi::xml_node& node, Look look) const {
        if (const std::string fill = property(node, "fill"); !fill.empty() && fill != "inherit")
            look.is_filled = fill != "none" && fill != "transparent";
        if (const std::string rule = property(node, "fill-rule"); !rule.empty() && rule != "inherit")
            look.rule = rule == "evenodd" ? FillRule::even_odd : FillRule::non_zero;
        return look;
    }

    /// "translate(3 4) rotate(30)" (SVG 1.1, 7.6).
    static std::optional<Affine> transform_of(std::string_view text) {
        Affine out;
        for (;;) {
            while (!text.empty() && (std::isspace(static_cast<unsigned char>(text.front())) || text.front() == ','))
                text.remove_prefix(1);
            if (text.empty()) return out;
            const std::size_t open = text.find('('), end = text.find(')');
            if (open == std::string_view::npos || end == std::string_view::npos || end < open) return {};
            std::string_view name = text.substr(0, open), numbers = text.substr(open + 1, end - open - 1);
            while (!name.empty() && std::isspace(static_cast<unsigned char>(name.back()))) name.remove_suffix(1);
            text.remove_prefix(end + 1);
            std::vector<double> v;
            for (double x; v.size() < 7 && take_svg_number(numbers, x);) v.push_back(x);
            const auto one = one_transform(name, v);
            if (!one || numbers.find_first_not_of(" \t\r\n") != std::string_view::npos) return {};
            out = out * *one;
        }
    }
    static std::optional<Affine> one_transform(std::string_view name, const std::vector<double>& v) {
        const double degree = std::numbers::pi / 180;
        const std::size_t n = v.size();
        if (name == "matrix" && n == 6) return Affine{v[0], v[1], v[2], v[3], v[4], v[5]};
        if (name == "translate" && (n == 1 || n == 2)) return Affine{1, 0, 0, 1, v[0], n == 2 ? v[1] : 0};
        if (name == "scale" && (n == 1 || n == 2)) return Affine{v[0], 0, 0, n == 2 ? v[1] : v[0], 0, 0};
        if (name == "skewX" && n == 1) return Affine{1, 0, std::tan(v[0] * degree), 1, 0, 0};
        if (name == "skewY" && n == 1) return Affine{1, std::tan(v[0] * degree), 0, 1, 0, 0};
        if (name != "rotate" || (n != 1 && n != 3)) return {};
        const double c = std::cos(v[0] * degree), s = std::sin(v[0] * degree);
        const Affine turn{c, s, -s, c, 0, 0};
        return n == 1 ? turn : Affine{1, 0, 0, 1, v[1], v[2]} * turn * Affine{1, 0, 0, 1, -v[1], -v[2]};
    }

    Result<void> element(const pugi::xml_node& node, const Affine& outside, const Look& inherited, int depth) {
        if (node.type() != pugi::node_element) return {};
        if (++seen_ > most_elements)
            return Error{ErrorCode::bad_count, "it draws more than 100000 elements, which no outline needs",
                         place_of(node)};
        if (depth > deepest)
            return Error{ErrorCode::bad_syntax, "elements lie or use one another more than 64 deep", place_of(node)};
        const std::string_view name = name_of(node);
        if (property(node, "display") == "none" || property(node, "visibility") == "hidden") return {};
        const auto own = transform_of(node.attribute("transform").value());
        if (!own)
            return Error{ErrorCode::bad_syntax,
                         "the transform " + in_quotes(node.attribute("transform").value()) + " cannot be read",
                         place_of(node)};
        const Affine to_mm = outside * *own;
        const Look look = look_of(node, inherited);
        if (name == "g" || name == "a" || name == "svg" || name == "switch") return group(node, to_mm, look, depth);
        if (name == "use") return use(node, to_mm, look, depth);
        if (name == "text") ++texts_;
        const bool is_drawn = name == "path" || name == "rect" || name == "circle" || name == "ellipse" ||
                              name == "polygon" || name == "polyline" || name == "line";
        if (!is_drawn) return {};
        if (!look.is_filled || name == "line") {
            ++unfilled_;
            return {};
        }
        LoopMaker loops(to_mm, chord_);
        if (auto drawn = draw(node, name, loops); !drawn)
            return Error{drawn.error().code, drawn.error().text, place_of(node)};
        points_ += loops.points();
        Outline outline = loops.loops();
        if (points_ > most_drawn_points) return too_many_points();
        for (const auto& loop : outline)
            for (const Point2& p : loop)
                if (!(std::fabs(p.u) < 1e6 && std::fabs(p.v) < 1e6))
                    return Error{ErrorCode::bad_number, "a point lies more than a million mm away", place_of(node)};
        if (!outline.empty()) drawing_.push_back({std::move(outline), look.rule});
        return {};
    }
    Result<void> group(const pugi::xml_node& node, const Affine& to_mm, const Look& look, int depth) {
        const double x = length_of(node.attribute("x").value(), 0).value_or(0);
        const double y = length_of(node.attribute("y").value(), 0).value_or(0);
        const Affine inside = name_of(node) == "svg" ? to_mm * Affine{1, 0, 0, 1, x, y} : to_mm;
        for (const pugi::xml_node child : node.children())
            if (auto done = element(child, inside, look, depth + 1); !done) return done;
        return {};
    }
    Result<void> use(const pugi::xml_node& node, const Affine& to_mm, const Look& look, int depth) {
        const char* href = node.attribute("href").value();
        if (!*href) href = node.attribute("xlink:href").value();
        const auto at = *href == '#' ? ids_.find(href + 1) : ids_.end();
        if (at == ids_.end())
            return Error{ErrorCode::bad_syntax, "it uses " + in_quotes(href) + ", which is not in the file",
                         place_of(node)};
        const double x = length_of(node.attribute("x").value(), 0).value_or(0);
        const double y = length_of(node.attribute("y").value(), 0).value_or(0);
        const Affine there = to_mm * Affine{1, 0, 0, 1, x, y};
        if (name_of(at->second) != "symbol") return element(at->second, there, look, depth + 1);
        return group(at->second, there, look_of(at->second, look), depth + 1);
    }

    Result<void> draw(const pugi::xml_node& node, std::string_view name, LoopMaker& out) const {
        if (name == "path") return read_path_data(node.attribute("d").value(), out);
        if (name == "polygon" || name == "polyline") {
            std::string_view points = node.attribute("points").value();
            bool first = true;
            for (Point2 p{}; take_svg_number(points, p.u) && take_svg_number(points, p.v); first = false)
                first ? out.move_to(p) : out.line_to(p);
            if (points.find_first_not_of(" \t\r\n,") == std::string_view::npos) return {};
            return Error{ErrorCode::bad_syntax, "points cannot be read from " + in_quotes(points, 20) + " on", ""};
        }
        bool wrong = false;
        auto length = [&](const char* which, double usual) {
            const std::string text = property(node, which);
            if (text.empty() || text == "auto") return usual;
            const auto v = length_of(text, 0);
            wrong = wrong || !v;
            return v.value_or(0);
        };
        if (name == "rect") {
            const double x = length("x", 0), y = length("y", 0), w = length("width", 0), h = length("height", 0);
            double rx = length("rx", -1), ry = length("ry", -1);
            if (rx < 0) rx = std::max(0.0, ry);
            if (ry < 0) ry = rx;
            rx = std::min(rx, w / 2), ry = std::min(ry, h / 2);
            if (!wrong && w > 0 && h > 0) rectangle(x, y, w, h, rx, ry, out);
        } else {
            const double r = length("r", 0), rx = length("rx", r), ry = length("ry", r);
            const Point2 c{length("cx", 0), length("cy", 0)};
            if (!wrong && rx > 0 && ry > 0) {
                out.move_to({c.u + rx, c.v});
                for (const Point2& p : {Point2{c.u, c.v + ry}, {c.u - rx, c.v}, {c.u, c.v - ry}, {c.u + rx, c.v}})
                    out.arc_to(rx, ry, 0, false, true, p);
            }
        }
        if (wrong) return Error{ErrorCode::bad_number, "a length of it cannot be read", ""};
        return {};
    }
    static void rectangle(double x, double y, double w, double h, double rx, double ry, LoopMaker& out) {
        out.move_to({x + rx, y});
        const Point2 sides[4][2] = {{{x + w - rx, y}, {x + w, y + ry}},
                                    {{x + w, y + h - ry}, {x + w - rx, y + h}},
                                    {{x + rx, y + h}, {x, y + h - ry}},
                                    {{x, y + ry}, {x + rx, y}}};
        for (const auto& [end, next] : sides) {
            out.line_to(end);
            out.arc_to(rx, ry, 0, false, true, next);
        }
    }

    double chord_;
    Affine page_;
    std::map<std::string, pugi::xml_node, std::less<>> ids_;
    std::map<std::string, std::map<std::string, std::string>> classes_;
    Drawing drawing_;
    std::size_t points_ = 0;
    int seen_ = 0, unfilled_ = 0, texts_ = 0;
};

}  // namespace

Result<Drawing> drawing_from_svg(std::string_view text, double chord) { return Svg(chord).read(text); }

}  // namespace anvil
