#include "core/job/value_key.h"

namespace anvil {

KeyMaker& add_values(KeyMaker& key, const Values& values) {
    key.add(values.size());
    for (const auto& [name, value] : values) {
        key.add(name).add(value.index());
        std::visit(
            [&](const auto& v) {
                if constexpr (requires { key.add(v); })
                    key.add(v);
                else if constexpr (std::is_same_v<std::remove_cvref_t<decltype(v)>, std::vector<Anchor>>)
                    key.add(v.size());  // what they hold is added once it is found
                else
                    key.add_list(v);
            },
            value);
    }
    return key;
}

KeyMaker& add_transform(KeyMaker& key, const Transform& stands) {
    for (int row = 0; row < 3; ++row)
        for (int column = 0; column < 4; ++column) key.add(stands.matrix()(row, column));
    return key;
}

}  // namespace anvil
