#pragma once

#include "core/job/content_key.h"
#include "core/job/kinds/value.h"
#include "core/mesh/transform.h"

namespace anvil {

/// Adds all values by their names. Of anchors how many there are: what they hold is added once it is found.
KeyMaker& add_values(KeyMaker& key, const Values& values);
/// Where something stands.
KeyMaker& add_transform(KeyMaker& key, const Transform& stands);

}  // namespace anvil
