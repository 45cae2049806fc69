#pragma once

#include "core/job/content_key.h"
#include "core/job/kinds/value.h"

namespace anvil {

/// Adds all values by their names. Of anchors how many there are: what they hold is added once it is found.
KeyMaker& add_values(KeyMaker& key, const Values& values);

}  // namespace anvil
