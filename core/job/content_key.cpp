#include "core/job/content_key.h"

#define XXH_INLINE_ALL
#include <xxhash.h>

namespace anvil {
namespace {

ContentKey hash(const void* bytes, std::size_t count) {
    const XXH128_hash_t h = XXH3_128bits(bytes, count);
    return {h.high64, h.low64};
}

}  // namespace

KeyMaker& KeyMaker::add_raw(const void* bytes, std::size_t count) {
    bytes_.append(static_cast<const char*>(bytes), count);
    return *this;
}

KeyMaker& KeyMaker::add(std::string_view text) {
    add(text.size());
    return add_raw(text.data(), text.size());
}

KeyMaker& KeyMaker::add(const Mesh& mesh) {
    static_assert(sizeof(Vec3) == 3 * sizeof(double) && sizeof(Triangle) == 3 * sizeof(std::uint32_t));
    const auto add_array = [&](const auto& array) {
        add(hash(array.data(), array.size() * sizeof(array[0])));
        return add(array.size());
    };
    add_array(mesh.points.raw());
    add_array(mesh.faces.raw());
    add_array(mesh.material.raw());
    add(mesh.materials.size());
    for (const Material& m : mesh.materials) {
        add(m.name).add(m.colour.has_value());
        for (const std::uint8_t c : m.colour.value_or(std::array<std::uint8_t, 3>{})) add(c);
    }
    return *this;
}

ContentKey KeyMaker::key() const { return hash(bytes_.data(), bytes_.size()); }

ContentKey MeshKeys::of(const std::shared_ptr<const Mesh>& mesh) {
    Known& known = known_[mesh.get()];
    if (known.mesh.lock() != mesh) {  // another one may lie where that one lay
        known = {mesh, KeyMaker("mesh").add(*mesh).key()};
        if (known_.size() % 256 == 0) std::erase_if(known_, [](const auto& k) { return k.second.mesh.expired(); });
        return known_.at(mesh.get()).key;
    }
    return known.key;
}

}  // namespace anvil
