#include "core/job/tags.h"

#include <algorithm>
#include <map>

#include "core/job/content_key.h"
#include "core/mesh/display.h"
#include "core/mesh/regions.h"

namespace anvil {
namespace {

/// Of a face's corners where they lie, whichever comes first.
std::uint64_t key_of(const Mesh& mesh, FaceId f) {
    int first = 0;
    auto before = [](const Vec3& a, const Vec3& b) { return std::tie(a.x, a.y, a.z) < std::tie(b.x, b.y, b.z); };
    for (int k = 1; k < 3; ++k)
        if (before(mesh.corner(f, k), mesh.corner(f, first))) first = k;
    KeyMaker key("face 1");
    for (int k = 0; k < 3; ++k) key.add(mesh.corner(f, (first + k) % 3));
    return key.key().low;
}

class Numbers {
  public:
    explicit Numbers(Tags& tags) : tags_(tags) {}
    std::uint32_t of(const Tag& tag) {
        const auto [at, fresh] = known_.try_emplace(tag, static_cast<std::uint32_t>(tags_.table.size()));
        if (fresh) tags_.table.push_back(tag);
        return at->second;
    }

  private:
    Tags& tags_;
    std::map<Tag, std::uint32_t> known_;
};

Tags tags_of_combined(const Lineage& lineage) {
    Tags out;
    Numbers numbers(out);
    std::vector<std::shared_ptr<const Tags>> tags;
    std::vector<std::vector<std::uint32_t>> number;  // per operand and tag of it, here
    for (const Lineage::Operand& operand : lineage.of) {
        tags.push_back(tags_of(*operand.of));
        number.emplace_back();
        for (Tag tag : tags.back()->table) {
            if (!operand.use.empty()) tag.use = operand.use;
            number.back().push_back(numbers.of(tag));
        }
    }
    const std::uint32_t bridge = numbers.of({});  // a bridge, or what closes a hole
    for (const FaceSource& s : lineage.combined->source)
        out.of.push_back(s.operand < tags.size() && s.face.valid() ? number[s.operand][tags[s.operand]->of[s.face]]
                                                                   : bridge);
    return out;
}

/// A face of each copy has the tag of the face that it is a copy of.
Tags tags_of_copies(const Tags& one, const Mesh& all) {
    Tags out{one.table};
    for (std::size_t f = 0; f < all.faces.size() && !one.of.empty(); ++f)
        out.of.push_back(one.of.raw()[f % one.of.size()]);
    return out;
}

}  // namespace

Tags tags_of_mesh(const std::string& part, const Mesh& given) {
    const Mesh mesh = welded(given);
    Tags out;
    const std::uint32_t count = regions_between_creases(mesh, usual_crease).number(out.of.raw());
    std::vector<std::uint64_t> content(count, 0);
    // A sum, so that the order of the faces does not matter.
    for (const FaceId f : ids<FaceId>(mesh.faces.size())) content[out.of[f]] += key_of(mesh, f);
    for (const std::uint64_t key : content) out.table.push_back({{}, part, key});
    return out;
}

Tags tags_of_shape(const std::string& part, const IdVector<FaceId, std::uint32_t>& sides) {
    Tags out;
    Numbers numbers(out);
    for (const std::uint32_t side : sides) out.of.push_back(numbers.of({{}, part, side}));
    return out;
}

Tags tags_after(const Tags& before, const Mesh& old, const Mesh& mesh, const std::string& step) {
    std::map<std::uint64_t, std::uint32_t> known;
    for (const FaceId f : ids<FaceId>(old.faces.size())) known.try_emplace(key_of(old, f), before.of[f]);
    Tags out{before.table};
    const auto own = static_cast<std::uint32_t>(out.table.size());
    out.table.push_back({{}, step, 0});
    for (const FaceId f : ids<FaceId>(mesh.faces.size())) {
        const auto at = known.find(key_of(mesh, f));
        out.of.push_back(at == known.end() ? own : at->second);
    }
    return out;
}

std::shared_ptr<const Tags> tags_of(Lineage& lineage) {
    if (lineage.known) return lineage.known;
    if (lineage.copies)
        lineage.known = std::make_shared<const Tags>(tags_of_copies(*tags_of(*lineage.of.front().of), *lineage.mesh));
    else if (lineage.combined)
        lineage.known = std::make_shared<const Tags>(tags_of_combined(lineage));
    else if (lineage.sides)
        lineage.known = std::make_shared<const Tags>(tags_of_shape(lineage.maker, *lineage.sides));
    else if (lineage.of.empty())
        lineage.known = std::make_shared<const Tags>(tags_of_mesh(lineage.maker, *lineage.mesh));
    else if (lineage.same_faces)
        lineage.known = tags_of(*lineage.of.front().of);
    else
        lineage.known = std::make_shared<const Tags>(
            tags_after(*tags_of(*lineage.of.front().of), *lineage.old, *lineage.mesh, lineage.maker));
    return lineage.known;
}

}  // namespace anvil
