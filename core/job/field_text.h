#pragma once

#include "core/job/kinds/kind.h"

namespace anvil {

/// What somebody types for a field: "12.5+1in", "45", "yes", "weld,holes", "0,0,0;1,0,0". Lengths in mm and angles in
/// degrees where no unit is named. Fails: with a sentence that names the field.
Result<Value> value_from_text(const Field& field, std::string_view text);
/// The same; of lengths and angles "by 5" counts from the value that there is.
Result<Value> value_from_text(const Field& field, std::string_view text, const Value& now);

/// What `value_from_text` reads back as that value; elements are only counted: "3 faces".
std::string text_of(const Field& field, const Value& value);

/// What a field takes, for help: "a length, 0 mm or more".
std::string described(const Field& field);

}  // namespace anvil
