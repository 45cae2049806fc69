// Skins that cutters have left standing, by the tags of their sides.
#include "core/job/skins_left.h"

#include <algorithm>

#include "core/cut/skins.h"
#include "core/job/anchors.h"

#include "core/mesh/weld.h"

namespace anvil {
namespace {

constexpr std::size_t most_skins = 100;  // a body of which more is thin was not cut by mistake

bool takes_away(const Job& job, const std::string& id) {
    const FoundStep found = find_step(job, id);
    const Kind* kind = found.step ? find_kind(found.step->kind) : nullptr;
    if (!kind) return false;
    return kind->of == KindClass::cut || (kind->of == KindClass::combine &&
                                          (kind->operation == Operation::difference ||
                                           kind->operation == Operation::split || kind->operation == Operation::inlay));
}

/// Of one piece.
Result<void> add_skins(const Job& job, const Mesh& mesh, const Tags& tags, double below, Progress& progress,
                       std::vector<SkinLeft>& out) {
    const auto skins = thin_skins(mesh, below, progress);
    if (!skins) return skins.error();
    auto cutter_at = [&](FaceId f) {
        const Tag& tag = tags.tag(f);
        const std::string& step = tag.use.empty() ? tag.maker : tag.use;
        return takes_away(job, step) ? step : std::string();
    };
    for (const ThinPlace& skin : *skins) {
        if (progress.cancelled()) return cancelled_error();
        // The end of the cutter is the wall that it made; where both are such, the smaller one.
        const std::string a = cutter_at(skin.thinnest.first), b = cutter_at(skin.thinnest.second);
        if (a.empty() && b.empty()) continue;
        if (out.size() >= most_skins) break;
        const FaceId at = a.empty() ? skin.thinnest.second : b.empty() ? skin.thinnest.first : smaller_wall(mesh, skin);
        const std::vector<FaceId> faces = wall_of(mesh, skin, at);
        const Broach push = push_through(mesh, faces, skin, over_travel_of_skins);
        Selection wall{ElementKind::faces, {}};
        for (const FaceId f : faces) wall.elements.push_back(face_element(mesh.faces[f]));
        std::ranges::sort(wall.elements);
        SkinLeft& left = out.emplace_back();
        left.step = at == skin.thinnest.first ? a : b;
        left.thinnest = skin.least;
        left.place = skin.place;
        left.through = {
            {"faces", anchors_of(wall, mesh, tags)}, {"down_to", std::string("depth")}, {"depth", push.depth}};
        if (push.own_normals) left.through["along"] = std::string("own normals");
    }
    return {};
}

}  // namespace

Result<std::vector<SkinLeft>> skins_left(const Job& job, const Combined& result, Lineage& lineage, double below,
                                         Progress& progress) {
    const Tags& tags = *tags_of(lineage);
    std::vector<SkinLeft> out;
    for (std::size_t k = 0; k < result.pieces(); ++k) {
        Tags own{tags.table, {}};
        for (std::size_t f = result.piece_start[k]; f < result.piece_start[k + 1]; ++f)
            own.of.push_back(tags.of[FaceId(static_cast<std::uint32_t>(f))]);
        if (auto added = add_skins(job, welded(result.piece(k)), own, below, progress, out); !added)
            return added.error();
    }
    return out;
}

std::string drive_through(Job& job, const Place& at, std::span<const SkinLeft> skins) {
    std::string last;
    for (const SkinLeft& skin : skins) last = add_treatment(job, at, "broach", skin.through);
    return last;
}

}  // namespace anvil
