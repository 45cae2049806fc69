#include "core/shape/lettering.h"

#include <fribidi.h>
#include <hb-ot.h>
#include <hb.h>

#include <algorithm>
#include <memory>

#include "core/base/plain_text.h"
#include "core/shape/fonts.h"
#include "core/shape/svg_path.h"

namespace anvil {
namespace {

constexpr std::size_t most_letters = 2000;

struct Release {
    void operator()(hb_font_t* f) const { hb_font_destroy(f); }
    void operator()(hb_buffer_t* b) const { hb_buffer_destroy(b); }
    void operator()(hb_draw_funcs_t* f) const { hb_draw_funcs_destroy(f); }
};

/// Characters that are shaped in one go: of one direction and one script.
struct Run {
    std::size_t from, count;
    FriBidiLevel level;
    hb_script_t script;
};

/// Nothing where the bytes are no UTF-8.
std::optional<std::u32string> characters(std::string_view text) {
    std::u32string out;
    for (std::size_t i = 0; i < text.size();) {
        const auto c = static_cast<unsigned char>(text[i]);
        const std::size_t n = c < 0x80 ? 1 : c >= 0xc2 && c < 0xe0 ? 2 : c >= 0xe0 && c < 0xf0 ? 3 : c < 0xf5 ? 4 : 0;
        if ((c >= 0x80 && c < 0xc2) || n == 0 || i + n > text.size()) return {};
        char32_t code = n == 1 ? c : c & (0xffu >> (n + 1));
        for (std::size_t k = 1; k < n; ++k) {
            if ((static_cast<unsigned char>(text[i + k]) & 0xc0) != 0x80) return {};
            code = code << 6 | (static_cast<unsigned char>(text[i + k]) & 0x3f);
        }
        out += code;
        i += n;
    }
    return out;
}

/// A line's runs from left to right (UAX 9, rule L2).
std::vector<Run> runs_of(const std::u32string& line) {
    const auto n = static_cast<FriBidiStrIndex>(line.size());
    std::vector<FriBidiChar> text(line.begin(), line.end());
    std::vector<FriBidiCharType> types(line.size());
    std::vector<FriBidiBracketType> brackets(line.size());
    std::vector<FriBidiLevel> levels(line.size());
    fribidi_get_bidi_types(text.data(), n, types.data());
    fribidi_get_bracket_types(text.data(), n, types.data(), brackets.data());
    FriBidiParType direction = FRIBIDI_PAR_ON;  // by the first letter
    if (fribidi_get_par_embedding_levels_ex(types.data(), brackets.data(), n, &direction, levels.data()) == 0)
        std::ranges::fill(levels, FriBidiLevel{0});
    std::vector<Run> out;
    hb_unicode_funcs_t* unicode = hb_unicode_funcs_get_default();
    for (std::size_t k = 0; k < line.size(); ++k) {
        const hb_script_t script = hb_unicode_script(unicode, line[k]);
        // Digits, spaces and marks go with what they stand beside.
        const bool any = script == HB_SCRIPT_COMMON || script == HB_SCRIPT_INHERITED;
        if (!out.empty() && out.back().level == levels[k] &&
            (any || out.back().script == script || out.back().script == HB_SCRIPT_COMMON)) {
            ++out.back().count;
            if (!any) out.back().script = script;
        } else {
            out.push_back({k, 1, levels[k], any ? HB_SCRIPT_COMMON : script});
        }
    }
    FriBidiLevel highest = 0;
    for (const Run& run : out) highest = std::max(highest, run.level);
    for (int level = highest; level > 0; --level)
        for (auto from = out.begin(); from != out.end();) {
            auto to = from;
            while (to != out.end() && to->level >= level) ++to;
            std::reverse(from, to);
            from = to == from ? to + 1 : to;
        }
    return out;
}

/// One glyph after the other is drawn into this.
struct Pen {
    LoopMaker* loops = nullptr;
};
Point2 at(float x, float y) { return {static_cast<double>(x), static_cast<double>(y)}; }
LoopMaker& loops_of(void* data) { return *static_cast<Pen*>(data)->loops; }

hb_draw_funcs_t* new_pen_functions() {
    hb_draw_funcs_t* f = hb_draw_funcs_create();
    hb_draw_funcs_set_move_to_func(
        f, [](hb_draw_funcs_t*, void* d, hb_draw_state_t*, float x, float y, void*) { loops_of(d).move_to(at(x, y)); },
        nullptr, nullptr);
    hb_draw_funcs_set_line_to_func(
        f, [](hb_draw_funcs_t*, void* d, hb_draw_state_t*, float x, float y, void*) { loops_of(d).line_to(at(x, y)); },
        nullptr, nullptr);
    hb_draw_funcs_set_quadratic_to_func(
        f,
        [](hb_draw_funcs_t*, void* d, hb_draw_state_t*, float cx, float cy, float x, float y, void*) {
            loops_of(d).quadratic_to(at(cx, cy), at(x, y));
        },
        nullptr, nullptr);
    hb_draw_funcs_set_cubic_to_func(
        f,
        [](hb_draw_funcs_t*, void* d, hb_draw_state_t*, float ax, float ay, float bx, float by, float x, float y,
           void*) { loops_of(d).cubic_to(at(ax, ay), at(bx, by), at(x, y)); },
        nullptr, nullptr);
    hb_draw_funcs_set_close_path_func(
        f, [](hb_draw_funcs_t*, void* d, hb_draw_state_t*, void*) { loops_of(d).close(); }, nullptr, nullptr);
    return f;
}

class Letterer {
  public:
    Letterer(const TextMeasures& m, hb_face_t* face)
        : m_(m), font_(hb_font_create(face)), pen_functions_(new_pen_functions()) {
        hb_position_t capital = 0;
        hb_ot_metrics_get_position_with_fallback(font_.get(), HB_OT_METRICS_TAG_CAP_HEIGHT, &capital);
        if (capital <= 0) capital = static_cast<hb_position_t>(0.7 * hb_face_get_upem(face));
        mm_ = m.size / capital;
        hb_font_extents_t extents{};
        hb_ot_metrics_get_position_with_fallback(font_.get(), HB_OT_METRICS_TAG_HORIZONTAL_ASCENDER, &extents.ascender);
        hb_ot_metrics_get_position_with_fallback(font_.get(), HB_OT_METRICS_TAG_HORIZONTAL_DESCENDER,
                                                 &extents.descender);
        hb_ot_metrics_get_position_with_fallback(font_.get(), HB_OT_METRICS_TAG_HORIZONTAL_LINE_GAP, &extents.line_gap);
        line_height_ = mm_ * (extents.ascender - extents.descender + extents.line_gap) * m.lines;
    }

    Result<Drawing> all(const std::u32string& text) {
        double y = 0;
        for (std::size_t from = 0; from <= text.size();) {
            const std::size_t end = std::min(text.find(U'\n', from), text.size());
            if (auto done = line(text.substr(from, end - from), y); !done) return done.error();
            y -= line_height_;
            from = end + 1;
        }
        return std::move(drawing_);
    }

  private:
    Result<void> line(const std::u32string& text, double y) {
        const std::size_t first = drawing_.size();
        double x = 0;
        std::size_t letters = 0;
        for (const Run& run : runs_of(text))
            if (auto done = shape(text, run, x, y, letters); !done) return done;
        if (letters > 0) x -= m_.spacing;  // none behind the last
        const double by = m_.align == TextMeasures::Align::left    ? 0
                          : m_.align == TextMeasures::Align::right ? -x
                                                                   : -x / 2;
        for (std::size_t k = first; by != 0 && k < drawing_.size(); ++k)
            for (auto& loop : drawing_[k].loops)
                for (Point2& p : loop) p.u += by;
        return {};
    }

    Result<void> shape(const std::u32string& text, const Run& run, double& x, double y, std::size_t& letters) {
        const std::unique_ptr<hb_buffer_t, Release> buffer(hb_buffer_create());
        hb_buffer_add_utf32(buffer.get(), reinterpret_cast<const std::uint32_t*>(text.data()),
                            static_cast<int>(text.size()), static_cast<unsigned>(run.from),
                            static_cast<int>(run.count));
        hb_buffer_set_direction(buffer.get(), run.level % 2 ? HB_DIRECTION_RTL : HB_DIRECTION_LTR);
        hb_buffer_set_script(buffer.get(), run.script);
        hb_buffer_set_language(buffer.get(), hb_language_from_string("en", 2));
        hb_shape(font_.get(), buffer.get(), nullptr, 0);
        unsigned count = 0;
        const hb_glyph_info_t* glyphs = hb_buffer_get_glyph_infos(buffer.get(), &count);
        const hb_glyph_position_t* places = hb_buffer_get_glyph_positions(buffer.get(), &count);
        for (unsigned k = 0; k < count; ++k) {
            if (glyphs[k].codepoint == 0) return missing(text[glyphs[k].cluster]);
            const double left = x + mm_ * places[k].x_offset, foot = y + mm_ * places[k].y_offset;
            LoopMaker loops({mm_, 0, 0, mm_, left, foot}, m_.chord);
            Pen pen{&loops};
            hb_font_get_glyph_shape(font_.get(), glyphs[k].codepoint, pen_functions_.get(), &pen);
            points_ += loops.points();
            if (points_ > most_drawn_points) return too_many_points();
            if (Outline outline = loops.loops(); !outline.empty())
                drawing_.push_back({std::move(outline), FillRule::non_zero});
            x += mm_ * places[k].x_advance;
            // Marks stand over their letter.
            if (places[k].x_advance != 0) x += m_.spacing, ++letters;
        }
        return {};
    }

    Error missing(char32_t code) const {
        char name[16];
        std::snprintf(name, sizeof name, "U+%04X", static_cast<unsigned>(code));
        const FriBidiChar one[] = {code};
        char letter[8] = {};
        fribidi_unicode_to_charset(FRIBIDI_CHAR_SET_UTF8, one, 1, letter);
        const std::string font = m_.font.empty() ? std::string(shipped_font) : m_.font;
        return {ErrorCode::out_of_range,
                "the font " + in_quotes(font) + " has no " + in_quotes(letter) + " (" + name + "): choose another font",
                ""};
    }

    const TextMeasures& m_;
    std::unique_ptr<hb_font_t, Release> font_;
    std::unique_ptr<hb_draw_funcs_t, Release> pen_functions_;
    double mm_ = 1, line_height_ = 0;
    Drawing drawing_;
    std::size_t points_ = 0;
};

}  // namespace

Result<Drawing> lettering(const TextMeasures& m) {
    std::string lines = m.text;
    std::erase(lines, '\r');
    const auto text = characters(lines);
    if (!text) return Error{ErrorCode::out_of_range, "the text is no valid UTF-8", ""};
    if (text->size() > most_letters)
        return Error{ErrorCode::out_of_range, "a text has at most 2000 letters: split it", ""};
    const auto face = font_face(m.font, m.bold);
    if (!face) return face.error();
    return Letterer(m, *face).all(*text);
}

}  // namespace anvil
