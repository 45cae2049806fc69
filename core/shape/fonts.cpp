// Fonts: the shipped one is part of the program, others are looked up among those that are installed.
#include "core/shape/fonts.h"

#include <fontconfig/fontconfig.h>
#include <hb-ot.h>
#include <hb.h>

#include <algorithm>
#include <map>
#include <memory>
#include <mutex>

#include "core/base/plain_text.h"

// Both files as they are, between two names each.
asm(".section .rodata\n"
    "anvil_font_regular: .incbin \"" ANVIL_FONTS
    "/Lato-Regular.ttf\"\nanvil_font_regular_end:\n"
    "anvil_font_bold: .incbin \"" ANVIL_FONTS
    "/Lato-Bold.ttf\"\nanvil_font_bold_end:\n"
    ".global anvil_font_regular, anvil_font_regular_end, anvil_font_bold, anvil_font_bold_end\n"
    ".previous\n");
extern "C" const char anvil_font_regular[], anvil_font_regular_end[], anvil_font_bold[], anvil_font_bold_end[];

namespace anvil {
namespace {

struct Destroy {
    void operator()(FcPattern* p) const { FcPatternDestroy(p); }
    void operator()(FcFontSet* s) const { FcFontSetDestroy(s); }
    void operator()(FcObjectSet* s) const { FcObjectSetDestroy(s); }
    void operator()(hb_blob_t* b) const { hb_blob_destroy(b); }
};
template <class T>
using Owned = std::unique_ptr<T, Destroy>;

hb_face_t* shipped_face(bool bold) {
    const char* from = bold ? anvil_font_bold : anvil_font_regular;
    const char* to = bold ? anvil_font_bold_end : anvil_font_regular_end;
    const Owned<hb_blob_t> blob(
        hb_blob_create(from, static_cast<unsigned>(to - from), HB_MEMORY_MODE_READONLY, nullptr, nullptr));
    return hb_face_create(blob.get(), 0);
}

std::string folded(std::string text) {
    std::ranges::transform(text, text.begin(), [](unsigned char c) { return static_cast<char>(std::tolower(c)); });
    return text;
}

/// The installed font that comes nearest to upright and of that weight; null where its file cannot be read. The family
/// has to be there: none is put in its place.
Result<hb_face_t*> installed_face(const std::string& family, bool bold) {
    const Owned<FcPattern> wanted(FcPatternCreate());
    FcPatternAddString(wanted.get(), FC_FAMILY, reinterpret_cast<const FcChar8*>(family.c_str()));
    FcPatternAddInteger(wanted.get(), FC_WEIGHT, bold ? FC_WEIGHT_BOLD : FC_WEIGHT_REGULAR);
    FcPatternAddInteger(wanted.get(), FC_SLANT, FC_SLANT_ROMAN);
    FcPatternAddBool(wanted.get(), FC_OUTLINE, FcTrue);
    FcConfigSubstitute(nullptr, wanted.get(), FcMatchPattern);
    FcDefaultSubstitute(wanted.get());
    FcResult result{};
    const Owned<FcPattern> found(FcFontMatch(nullptr, wanted.get(), &result));
    const Error missing{ErrorCode::out_of_range,
                        "the font " + in_quotes(family) +
                            " is not installed here: choose another, or install it and open the job again",
                        ""};
    if (!found) return missing;
    bool same = false;
    FcChar8* name = nullptr;
    for (int k = 0; FcPatternGetString(found.get(), FC_FAMILY, k, &name) == FcResultMatch; ++k)
        same = same || folded(reinterpret_cast<const char*>(name)) == folded(family);
    FcChar8* file = nullptr;
    int index = 0;
    if (!same || FcPatternGetString(found.get(), FC_FILE, 0, &file) != FcResultMatch) return missing;
    FcPatternGetInteger(found.get(), FC_INDEX, 0, &index);
    const Owned<hb_blob_t> blob(hb_blob_create_from_file(reinterpret_cast<const char*>(file)));
    hb_face_t* face = hb_face_create(blob.get(), static_cast<unsigned>(index) & 0xffff);
    if (hb_face_get_glyph_count(face) == 0)
        return Error{ErrorCode::out_of_range,
                     "the outlines of the font " + in_quotes(family) + " cannot be read: choose another", ""};
    return face;
}

}  // namespace

std::vector<std::string> installed_fonts() {
    std::vector<std::string> out{std::string(shipped_font)};
    const Owned<FcPattern> any(FcPatternCreate());
    FcPatternAddBool(any.get(), FC_OUTLINE, FcTrue);
    const Owned<FcObjectSet> of(FcObjectSetBuild(FC_FAMILY, nullptr));
    const Owned<FcFontSet> all(FcFontList(nullptr, any.get(), of.get()));
    FcChar8* name = nullptr;
    for (int k = 0; all && k < all->nfont; ++k)
        if (FcPatternGetString(all->fonts[k], FC_FAMILY, 0, &name) == FcResultMatch)
            out.emplace_back(reinterpret_cast<const char*>(name));
    std::ranges::sort(out);
    out.erase(std::unique(out.begin(), out.end()), out.end());
    return out;
}

Result<hb_face_t*> font_face(const std::string& family, bool bold) {
    static std::mutex guard;
    // Never taken down: what uses a face may outlive it otherwise.
    static auto& faces = *new std::map<std::pair<std::string, bool>, hb_face_t*>;
    const std::lock_guard lock(guard);
    const bool shipped = family.empty() || folded(family) == folded(std::string(shipped_font));
    const std::pair key(shipped ? std::string() : family, bold);
    if (const auto at = faces.find(key); at != faces.end()) return at->second;
    Result<hb_face_t*> face = shipped ? Result(shipped_face(bold)) : installed_face(family, bold);
    if (face) faces[key] = *face;
    return face;
}

}  // namespace anvil
