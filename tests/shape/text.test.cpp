#include "core/shape/fonts.h"
#include "core/shape/lettering.h"
#include "tests/shape/sound.h"

using namespace anvil;
using namespace anvil::test;

namespace {

Box extent_of(const TextMeasures& m) {
    const auto made = text_shape(m);
    INFO((made ? "" : made.error().text));
    REQUIRE(made);
    return bounds(made->mesh);
}
std::string no_text(const TextMeasures& m) {
    const auto made = text_shape(m);
    REQUIRE(!made);
    CHECK(made.error().code == ErrorCode::out_of_range);
    return made.error().text;
}
/// Loops of each letter, from left to right as they were set.
std::vector<std::size_t> loops(const char* text, const char* font = "") {
    const auto drawing = lettering({.text = text, .font = font});
    INFO((drawing ? "" : drawing.error().text));
    REQUIRE(drawing);
    std::vector<std::size_t> out;
    for (const FilledLoops& letter : *drawing) out.push_back(letter.loops.size());
    return out;
}

}  // namespace

TEST_CASE("text: capitals are as high as was asked for and stand on y = 0; letters keep their holes") {
    for (const double size : {0.5, 10.0, 200.0}) {
        const Box box = extent_of({.text = "H", .size = size, .height = 3});
        CHECK(box.low.y == Approx(0).margin(1e-9));
        CHECK(box.high.y == Approx(size).epsilon(0.01));
        CHECK(box.low.z == 0);
        CHECK(box.high.z == 3);
    }
    CHECK(loops("B8oC") == std::vector<std::size_t>{3, 3, 2, 1});
    const Solid made = sound(text_shape({.text = "Clean Anvil\n& \xc3\x84\xc3\xb6\xc3\xbc", .size = 8}));
    // Closed bodies, one a letter (i and the umlauts have more), each with its holes.
    CHECK(inspected(made.mesh).closed);
    CHECK(signed_volume(sound(text_shape({.text = "o", .height = 4})).mesh) ==
          Approx(2 * signed_volume(sound(text_shape({.text = "o", .height = 2})).mesh)));
}

TEST_CASE("text: lines, alignment, spacing and weight") {
    const double wide = extent_of({.text = "Anvil"}).high.x;
    CHECK(extent_of({.text = "Anvil", .align = TextMeasures::Align::right}).high.x <= 0.5);
    const Box middle = extent_of({.text = "HIH", .align = TextMeasures::Align::centre});
    CHECK(middle.low.x + middle.high.x == Approx(0).margin(0.05));
    CHECK(extent_of({.text = "Anvil", .spacing = 2}).high.x == Approx(wide + 4 * 2).epsilon(1e-6));
    CHECK(extent_of({.text = "Anvil", .bold = true}).high.x > wide);
    const double one = extent_of({.text = "H\nH"}).low.y, two = extent_of({.text = "H\nH", .lines = 2}).low.y;
    CHECK(one < -10);
    CHECK(two == Approx(2 * one));
    CHECK(extent_of({.text = "H\r\nH"}).low.y == Approx(one));
}

TEST_CASE("text: right-to-left and composed scripts are set as they are written") {
    const std::string font = "DejaVu Sans";
    // Lam and alef join into one glyph, and beh changes its form with what stands beside it (The Unicode Standard,
    // chapter 9.2, joining).
    CHECK(loops("\xd9\x84\xd8\xa7", font.c_str()).size() == 1);
    auto width = [&](const char* text) {
        const Box box = extent_of({.text = text, .font = font});
        return box.high.x - box.low.x;
    };
    CHECK(width("\xd8\xa8\xd8\xa8\xd8\xa8") < 2.5 * width("\xd8\xa8"));
    // Latin comes first on the left, then Hebrew from right to left: alef (1 loop), final mem (2).
    const auto mixed = loops("B \xd7\x90\xd7\x9d", font.c_str());
    CHECK(mixed == std::vector<std::size_t>{3, 2, 1});
    // In a paragraph that starts with Hebrew the numbers stand on the left and keep their own order.
    CHECK(loops("\xd7\x90 48", font.c_str()) == std::vector<std::size_t>{2, 3, 1});
    // A letter and its accent, composed or put together, look the same.
    const Box composed = extent_of({.text = "\xc3\xa9"}), apart = extent_of({.text = "e\xcc\x81"});
    CHECK(composed.high.y == Approx(apart.high.y).epsilon(0.02));
    CHECK(composed.high.x == Approx(apart.high.x).epsilon(0.05));
}

TEST_CASE("text round a cylinder: sound, on its outside, its volume that of the area times the height") {
    const TextMeasures straight{.text = "BUOY 8", .size = 8, .height = 1.5, .align = TextMeasures::Align::centre};
    TextMeasures round = straight;
    round.around = 40;
    round.chord = 0.002;
    const auto made = text_shape(round);
    REQUIRE(made);
    const Inspection in = inspected(made->mesh);
    INFO(findings_text(in));
    CHECK(in.print_ready);
    for (const Vec3& p : made->mesh.points) {
        const double r = std::hypot(p.x, p.y);
        CHECK((std::abs(r - 20) < 1e-9 || std::abs(r - 21.5) < 1e-9));
    }
    // Area along the cylinder stays that of the flat letters; a shell of it grows outwards: A h (1 + h / 2r).
    const auto flat = text_shape(straight);
    REQUIRE(flat);
    CHECK(signed_volume(made->mesh) == Approx(signed_volume(flat->mesh) * (1 + 1.5 / 40)).epsilon(2e-3));
    CHECK(bounds(made->mesh).low.y == Approx(-21.5).epsilon(0.01));  // its middle looks along -y
    CHECK(bounds(made->mesh).high.z == Approx(8).epsilon(0.05));     // upright
    round.around = 10;
    CHECK(no_text(round).find("mm round: make the letters smaller") != std::string::npos);
}

TEST_CASE("text: no outline, a font that is not there, a letter that it lacks, and too much are told") {
    CHECK(no_text({.text = ""}).find("no outline") != std::string::npos);
    CHECK(no_text({.text = " \n "}).find("no outline") != std::string::npos);
    CHECK(no_text({.text = "a", .font = "No Such Font"}).find("\"No Such Font\" is not installed") !=
          std::string::npos);
    CHECK(no_text({.text = "\xd7\x90"}).find("has no \"\xd7\x90\" (U+05D0)") != std::string::npos);
    CHECK(no_text({.text = "\xf0\x9f\x94\xa8"}).find("(U+1F528)") != std::string::npos);
    CHECK(no_text({.text = "\xff\xfe"}).find("UTF-8") != std::string::npos);
    CHECK(no_text({.text = std::string(2001, 'x')}).find("2000") != std::string::npos);
    const auto fonts = installed_fonts();
    CHECK(std::ranges::find(fonts, std::string(shipped_font)) != fonts.end());
    for (const std::string& family : fonts) {
        const auto face = font_face(family, false);
        INFO(family);
        CHECK(face.ok());
    }
}
