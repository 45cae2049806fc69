#include "core/shape/outline.h"
#include "core/shape/shapes.h"
#include "tests/shape/sound.h"

using namespace anvil;
using namespace anvil::test;

namespace {

constexpr double circle_of_1 = 3.14159265358979323846;

double area_of(const FilledOutline& fill) {
    double out = 0;
    for (const auto& [a, b, c] : fill.triangles) {
        const Point2 &p = fill.points[a], &q = fill.points[b], &r = fill.points[c];
        out += ((q.u - p.u) * (r.v - p.v) - (r.u - p.u) * (q.v - p.v)) / 2;
    }
    return out;
}
/// Of a drawing whose user unit is a mm.
std::string in_mm(const std::string& content, const char* more = "") {
    return std::string(
               "<svg xmlns='http://www.w3.org/2000/svg' xmlns:xlink='http://www.w3.org/1999/xlink' "
               "width='100mm' height='100mm' viewBox='0 0 100 100' ") +
           more + ">" + content + "</svg>";
}
double svg_area(const std::string& content, double chord = 1e-4) {
    const auto drawing = drawing_from_svg(in_mm(content), chord);
    INFO(content);
    INFO((drawing ? "" : drawing.error().sentence()));
    REQUIRE(drawing);
    return area_of(filled(*drawing));
}
std::string refused(const std::string& svg) {
    const auto drawing = drawing_from_svg(svg, 0.02);
    INFO(svg.substr(0, 200));
    REQUIRE(!drawing);
    return drawing.error().sentence();
}

}  // namespace

TEST_CASE("SVG: shapes have the area that their measures give") {
    CHECK(svg_area("<rect x='5' y='5' width='10' height='20'/>") == Approx(200));
    CHECK(svg_area("<circle cx='50' cy='50' r='10'/>") == Approx(100 * circle_of_1).epsilon(1e-5));
    CHECK(svg_area("<ellipse cx='50' cy='50' rx='10' ry='4'/>") == Approx(40 * circle_of_1).epsilon(1e-4));
    CHECK(svg_area("<rect width='10' height='20' rx='2'/>") == Approx(200 - 16 + 4 * circle_of_1).epsilon(1e-4));
    CHECK(svg_area("<polygon points='0,0 10,0 10,10'/>") == Approx(50));
    CHECK(svg_area("<polyline points='0 0 10 0 10 10'/>") == Approx(50));
}

TEST_CASE("SVG: path commands, absolute and relative, and the short ways to write numbers") {
    CHECK(svg_area("<path d='M10 10h20v10H10z'/>") == Approx(200));
    CHECK(svg_area("<path d='m10,10 20,0 0,10 -20,0z m 2,2 l 0,4 4,0 0,-4z'/>") == Approx(200 - 16));
    CHECK(svg_area("<path d='M.5.5l10-0 0 1e1-10,0Z'/>") == Approx(100));
    // Two half circles; flags of an arc need nothing between them.
    CHECK(svg_area("<path d='M0 10a10 10 0 0120 0 10 10 0 01-20 0z'/>") == Approx(100 * circle_of_1).epsilon(1e-5));
    // Radii too small for the way are made larger (appendix F.6.6).
    CHECK(svg_area("<path d='M0 10 A1 1 0 0 1 20 10Z'/>") == Approx(50 * circle_of_1).epsilon(1e-5));
    // A parabola cuts two thirds off its box (Archimedes); a quadratic curve of control height h is half that high.
    CHECK(svg_area("<path d='M0 0Q10 20 20 0Z'/>") == Approx(2.0 / 3 * 20 * 10).epsilon(1e-4));
    CHECK(svg_area("<path d='M0 0Q10 20 20 0T40 0Z'/>") == Approx(2 * 2.0 / 3 * 20 * 10).epsilon(1e-4));
    // The same parabola as a cubic: control points two thirds of the way.
    CHECK(svg_area("<path d='M0 0C6.6666667 13.3333333 13.3333333 13.3333333 20 0Z'/>") ==
          Approx(2.0 / 3 * 20 * 10).epsilon(1e-4));
    // Of y = 30 t (1 - t), dx = 60 t (1 - t) dt: 1800 B(3, 3) = 60.
    CHECK(svg_area("<path d='M0 0C0 10 10 10 10 0S20-10 20 0z'/>") == Approx(2 * 60).epsilon(1e-4));
}

TEST_CASE("SVG: filled by its rule, from the path, a style, a group or a style sheet") {
    const std::string two = "M0 0h10v10h-10z M2 2h6v6h-6z";  // the same way round
    CHECK(svg_area("<path d='" + two + "'/>") == Approx(100));
    CHECK(svg_area("<path fill-rule='evenodd' d='" + two + "'/>") == Approx(64));
    CHECK(svg_area("<path style='fill: red ; fill-rule : evenodd' d='" + two + "'/>") == Approx(64));
    CHECK(svg_area("<g fill-rule='evenodd'><path d='" + two + "'/></g>") == Approx(64));
    CHECK(svg_area("<style>.a, .b{fill-rule:evenodd} .n{fill:none}</style><path class='b' d='" + two +
                   "'/><path class='n' d='M0 0h90v90z'/>") == Approx(64));
    // What two paths fill counts once; a hole of one does not cut the other.
    CHECK(svg_area("<path fill-rule='evenodd' d='" + two + "'/><rect x='4' y='4' width='20' height='2'/>") ==
          Approx(64 + 2 * 4 + 2 * 14));
    CHECK(svg_area("<g display='none'><circle r='9'/></g><rect width='1' height='1'/>") == Approx(1));
}

TEST_CASE("SVG: transformations, uses, nested drawings, units and the page") {
    CHECK(svg_area("<g transform='translate(5,5) scale(2 3)'><rect width='2' height='2'/></g>") == Approx(24));
    CHECK(svg_area("<rect transform='rotate(30 7 8) skewX(20)' width='3' height='4'/>") == Approx(12));
    CHECK(svg_area("<rect transform='matrix(1 2 3 4 5 6)' width='3' height='4'/>") == Approx(24));
    CHECK(svg_area("<defs><g id='one'><rect width='2' height='2'/></g></defs><use href='#one' x='10'/>"
                   "<use xlink:href='#one' transform='scale(2)' y='10'/>") == Approx(4 + 16));
    CHECK(svg_area("<symbol id='s'><rect width='2' height='2'/></symbol><use href='#s'/>") == Approx(4));
    auto first_point = [](const std::string& svg) {
        const auto drawing = drawing_from_svg(svg, 0.02);
        REQUIRE(drawing);
        return drawing->front().loops.front().front();
    };
    // y goes up from the lower edge.
    const Point2 p = first_point(in_mm("<rect x='10' y='20' width='5' height='5'/>"));
    CHECK(p.u == Approx(10));
    CHECK(p.v == Approx(80));
    const Point2 pixels = first_point("<svg width='96' height='192'><rect x='48' width='1' height='1'/></svg>");
    CHECK(pixels.u == Approx(12.7));
    CHECK(pixels.v == Approx(50.8));
    const Point2 inches = first_point("<svg width='1in' height='2in' viewBox='0 0 1 2'><path d='M.5 1h.1v.1z'/></svg>");
    CHECK(inches.u == Approx(12.7));
    CHECK(inches.v == Approx(25.4));
    // A page that is wider than its box has it in the middle, as large as fits.
    const Point2 middle = first_point(
        "<svg width='40mm' height='20mm' viewBox='0 0 10 10'><rect width='1' height='1'/>"
        "</svg>");
    CHECK(middle.u == Approx(10));
    CHECK(middle.v == Approx(20));
}

TEST_CASE("SVG: the chord error bounds how far stretches leave a circle; a profile of it is sound") {
    for (const double chord : {0.5, 0.02, 0.001}) {
        const auto drawing = drawing_from_svg(in_mm("<circle cx='50' cy='50' r='30'/>"), chord);
        REQUIRE(drawing);
        const auto& loop = drawing->front().loops.front();
        for (std::size_t k = 0; k < loop.size(); ++k) {
            const Point2 &a = loop[k], &b = loop[(k + 1) % loop.size()];
            CHECK(std::hypot(a.u - 50, a.v - 50) == Approx(30));
            CHECK(std::hypot((a.u + b.u) / 2 - 50, (a.v + b.v) / 2 - 50) > 30 - chord);
        }
        sound(profile_shape({*drawing, 4, 1}));
    }
}

TEST_CASE("SVG: what cannot be taken is told with its element") {
    CHECK(refused("<svg><path d='M0 0").find("no valid XML") != std::string::npos);
    CHECK(refused("<html/>").find("no SVG drawing") != std::string::npos);
    CHECK(refused(in_mm("")).find("holds no paths") != std::string::npos);
    CHECK(refused(in_mm("<text>Hi</text>")).find("turn its text into paths") != std::string::npos);
    CHECK(refused(in_mm("<path fill='none' d='M0 0h9v9z'/>")).find("nothing in it is filled") != std::string::npos);
    CHECK(refused(in_mm("<path id='ear' d='M0 0L5 five'/>"))
              .find("path \"ear\": path data cannot be read from \"five\"") != std::string::npos);
    CHECK(refused(in_mm("<path d='L5 5'/>")).find("\"L5 5\"") == std::string::npos);
    CHECK(refused(in_mm("<path d='M0 0h9 9z9'/>")).find("\"9\"") != std::string::npos);
    CHECK(refused(in_mm("<g transform='turn(3)'/>")).find("\"turn(3)\" cannot be read") != std::string::npos);
    CHECK(refused(in_mm("<use href='#none'/>")).find("\"#none\", which is not in the file") != std::string::npos);
    CHECK(refused(in_mm("<rect width='1 2' height='3'/>")).find("rect: a length") != std::string::npos);
    CHECK(refused(in_mm("<path d='M0 0H1e9V3z'/>")).find("million mm") != std::string::npos);
}

TEST_CASE("SVG: bombs end with their limit: uses of themselves and of each other, elements, depth, entities") {
    CHECK(refused(in_mm("<g id='a'><use href='#a'/></g>")).find("64 deep") != std::string::npos);
    std::string doubling = "<rect id='u0' width='1' height='1'/>";
    for (int k = 1; k < 40; ++k) {
        const std::string use = "<use href='#u" + std::to_string(k - 1) + "'/>";
        doubling += "<g id='u" + std::to_string(k) + "'>" + use + use + "</g>";
    }
    CHECK(refused(in_mm(doubling)).find("100000 elements") != std::string::npos);
    std::string many;
    for (int k = 0; k < 100001; ++k) many += "<g/>";
    CHECK(refused(in_mm(many)).find("100000 elements") != std::string::npos);
    std::string deep;
    for (int k = 0; k < 100000; ++k) deep += "<g>";
    CHECK(!refused("<svg>" + deep).empty());
    for (int k = 0; k < 100000; ++k) deep += "</g>";
    CHECK(refused(in_mm(deep)).find("deep") != std::string::npos);
    const std::string laughs = "<!DOCTYPE svg [<!ENTITY a 'M0 0h9v9z'><!ENTITY b '&a;&a;&a;&a;&a;&a;&a;&a;&a;&a;'>]>" +
                               in_mm("<path d='&b;'/>");
    CHECK(refused(laughs).find("path data cannot be read") != std::string::npos);
    // Half a million points of one path.
    std::string long_path = "M0 0";
    for (int k = 0; k < 250000; ++k) long_path += "h1v1";
    CHECK(refused(in_mm("<path d='" + long_path + "'/>")).find("200000 points") != std::string::npos);
}
