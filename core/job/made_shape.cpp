#include "core/job/made_shape.h"

#include "core/base/memory.h"
#include "core/base/plain_text.h"
#include "core/job/kept_bytes.h"
#include "core/job/value_key.h"

namespace anvil {

Result<std::shared_ptr<const Solid>> made_shape(const Shape& shape, KeptResults& kept) {
    const Kind* kind = find_shape(shape.kind);
    if (!kind)
        return Error{ErrorCode::newer_version, "this version knows no shape of the kind " + in_quotes(shape.kind), ""};
    KeyMaker key("shape 1");
    key.add(kind->word).add(kind->revision);
    add_values(key, shape.values);
    if (auto known = kept.find<Solid>(key.key())) return known;
    if (auto checked = check_values(*kind, shape.values); !checked) return checked.error();
    auto solid = with_memory_checked([&] { return kind->make(shape.values); });
    if (!solid) return solid.error();
    const std::size_t bytes = bytes_of(solid->mesh);
    return kept.keep(key.key(), std::make_shared<const Solid>(std::move(*solid)), bytes);
}

}  // namespace anvil
