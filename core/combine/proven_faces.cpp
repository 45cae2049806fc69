#include "core/combine/proven_faces.h"

#include <tbb/parallel_for.h>

#include <bit>

#include "core/combine/kept_faces.h"

namespace anvil {
namespace {

std::uint64_t mixed(std::uint64_t h) {
    h = (h ^ (h >> 30)) * 0xbf58476d1ce4e5b9ull;
    h = (h ^ (h >> 27)) * 0x94d049bb133111ebull;
    return h ^ (h >> 31);
}

/// Calls visit(operand, face) for every face of the extraction's patches, in the order of the soup.
template <class Visit>
void for_each_untouched(const Arrangement& a, const Extraction& extraction, const Visit& visit) {
    const KeptFaces kept(a, extraction);
    for (std::uint32_t o = 0; o < a.soup.size(); ++o) {
        if (!kept.any(o)) continue;
        const auto is_kept = kept.of(o);
        for (const FaceId f : ids<FaceId>(a.soup.operand(o).mesh.faces.size()))
            if (is_kept(f.value())) visit(o, f);
    }
}

}  // namespace

ProvenFaces::ProvenFaces(const Arrangement& arrangement, const Extraction& extraction, const RoundedFaces& rounded)
    : keys_(std::bit_ceil(rounded.faces.size() + rounded.faces.size() / 4 + 64)) {
    for (const Key& key : keys_of(rounded)) keys_[slot_of(key)] = key;
    const Operand* last = nullptr;
    std::vector<char>* faces = nullptr;
    for_each_untouched(arrangement, extraction, [&](std::uint32_t o, FaceId f) {
        const auto& operand = arrangement.soup.operands()[o];
        if (operand.get() != last) {
            Untouched& own = untouched_[operand.get()];
            own.operand = operand;
            own.faces.resize(operand->mesh.faces.size(), 0);
            faces = &own.faces;
            last = operand.get();
        }
        (*faces)[f.value()] = 1;
    });
}

/// Of each rounded face, from its corners' coordinates.
std::vector<ProvenFaces::Key> ProvenFaces::keys_of(const RoundedFaces& rounded) {
    std::vector<Key> of_point(rounded.points.size()), out(rounded.faces.size());
    tbb::parallel_for(std::size_t{0}, of_point.size(), [&](std::size_t v) {
        const Vec3& p = rounded.points[v];
        std::uint64_t low = rounded.input[v].valid() ? 0x9e3779b97f4a7c15ull : 0xd1b54a32d192ed03ull, high = ~low;
        for (const double c : {p.x, p.y, p.z}) {
            const auto bits = std::bit_cast<std::uint64_t>(c + 0.0);  // makes -0 to 0
            low = mixed(low ^ bits);
            high = mixed(high + bits * 0x9e3779b97f4a7c15ull);
        }
        of_point[v] = {low, high};
    });
    tbb::parallel_for(std::size_t{0}, out.size(), [&](std::size_t f) {
        for (const VertexId v : rounded.faces[f]) {  // summed up, so that it does not matter which comes first
            out[f].low += of_point[v.value()].low;
            out[f].high += of_point[v.value()].high;
        }
        if (out[f] == Key{}) out[f].low = 1;
    });
    return out;
}

std::size_t ProvenFaces::slot_of(const Key& key) const {
    std::size_t i = key.low & (keys_.size() - 1);
    while (!(keys_[i] == Key{}) && !(keys_[i] == key)) i = (i + 1) & (keys_.size() - 1);
    return i;
}

std::vector<char> ProvenFaces::among(const RoundedFaces& rounded) const {
    const std::vector<Key> keys = keys_of(rounded);
    std::vector<char> out(keys.size());
    tbb::parallel_for(std::size_t{0}, out.size(), [&](std::size_t f) { out[f] = !(keys_[slot_of(keys[f])] == Key{}); });
    return out;
}

const std::vector<char>* ProvenFaces::of_operand(const Operand& operand) const {
    const auto at = untouched_.find(&operand);
    // Another one may have come to lie at the address of one that is gone.
    return at == untouched_.end() || at->second.operand.expired() ? nullptr : &at->second.faces;
}

std::size_t ProvenFaces::bytes() const {
    std::size_t bytes = keys_.size() * sizeof(Key);
    for (const auto& [operand, own] : untouched_) bytes += own.faces.size() + 2 * sizeof(Untouched);
    return bytes;
}

std::optional<FreshFaces> find_fresh(const Arrangement& a, const Extraction& extraction, const RoundedFaces& rounded,
                                     const ProvenFaces& before) {
    const std::size_t most = rounded.faces.size() / 8;
    FreshFaces out;
    out.known = before.among(rounded);
    for (std::uint32_t f = 0; f < out.known.size(); ++f)
        if (!out.known[f]) out.sub_faces.push_back(f);
    if (out.sub_faces.size() > most) return std::nullopt;
    std::uint32_t last = 0xffffffffu;
    const std::vector<char>* known = nullptr;
    for_each_untouched(a, extraction, [&](std::uint32_t o, FaceId f) {
        if (o != last) known = before.of_operand(a.soup.operand(o));
        last = o;
        if (!known || !(*known)[f.value()]) out.untouched.push_back(a.soup.global(o, f));
    });
    if (out.untouched.size() > most) return std::nullopt;
    return out;
}

}  // namespace anvil
