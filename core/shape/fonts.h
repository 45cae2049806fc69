#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "core/base/result.h"

struct hb_face_t;

namespace anvil {

/// The family that comes with the program.
inline constexpr std::string_view shipped_font = "Lato";

/// Families that are installed, and the shipped one, by name.
std::vector<std::string> installed_fonts();

/// A font by its family; empty: the shipped one. It stays for as long as the program runs. Fails: out_of_range where no
/// such family is installed, or its outlines cannot be read.
Result<hb_face_t*> font_face(const std::string& family, bool bold);

}  // namespace anvil
