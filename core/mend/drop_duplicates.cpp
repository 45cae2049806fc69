#include <algorithm>

#include "core/base/runs.h"
#include "core/base/sort.h"
#include "core/mend/chosen.h"
#include "core/mend/edit_faces.h"
#include "core/mend/repairs.h"
#include "core/mesh/regions.h"

namespace anvil {
namespace {

constexpr std::uint32_t none = 0xffffffffu;

struct SortedFace {
    Triangle corners;  // sorted
    std::uint32_t face;
    bool reversed;
};

std::vector<SortedFace> sorted_entries(const Mesh& mesh) {
    std::vector<SortedFace> entries;
    entries.reserve(mesh.faces.size());
    for (std::uint32_t f = 0; f < mesh.faces.size(); ++f) {
        SortedFace e{mesh.faces[FaceId(f)], f, false};
        for (const auto& [i, j] : {std::pair{0, 1}, {1, 2}, {0, 1}})
            if (e.corners[j] < e.corners[i]) {
                std::swap(e.corners[i], e.corners[j]);
                e.reversed = !e.reversed;
            }
        entries.push_back(e);
    }
    sort_by_number(
        entries, [](const SortedFace& e) { return e.corners[0].value(); },
        [](const SortedFace& a, const SortedFace& b) {
            return a.corners != b.corners ? a.corners < b.corners : a.face < b.face;
        });
    return entries;
}

}  // namespace

Result<Repaired> drop_duplicates(Mesh& mesh, const MendOptions& options, Progress& progress) {
    Repaired out{.repair = Repair::duplicates};
    const std::vector<SortedFace> entries = sorted_entries(mesh);
    if (progress.cancelled()) return cancelled_error();
    std::vector<char> gone(mesh.faces.size(), 0);
    std::vector<std::uint32_t> back_to_back;  // one of each group that would vanish as a whole
    std::size_t copies = 0;
    const Chosen chosen(options);
    auto same = [](const SortedFace& a, const SortedFace& b) { return a.corners == b.corners; };
    for_each_run(std::span(entries), same, [&](std::span<const SortedFace> here) {
        if (here.size() == 1 || !chosen.has(mesh, here.front().corners)) return;
        long net = 0;
        for (const SortedFace& e : here) net += e.reversed ? -1 : 1;
        std::uint32_t stays = net == 0 ? here.front().face : none;
        for (const SortedFace& e : here)
            if (stays == none && e.reversed == (net < 0)) stays = e.face;
        for (const SortedFace& e : here) gone[e.face] = e.face != stays;
        if (net == 0) back_to_back.push_back(stays);
        copies += here.size() - 1;
        if (out.places.size() < most_places) out.places.push_back(mesh.points[here.front().corners[0]]);
    });
    if (copies == 0) return out;
    // Back to back they enclose nothing, and go, unless nothing but such faces hangs together: a sheet given from both
    // sides, of which one stays.
    DisjointSets parts = points_joined_by_faces(mesh);
    std::vector<char> single(mesh.points.size(), 0), doubled(mesh.faces.size(), 0);
    for (const std::uint32_t f : back_to_back) doubled[f] = 1;
    for (const FaceId f : ids<FaceId>(mesh.faces.size()))
        if (!gone[f.value()] && !doubled[f.value()]) single[parts.find(mesh.faces[f][0].value())] = 1;
    std::size_t pairs = 0;
    for (const std::uint32_t f : back_to_back)
        if (single[parts.find(mesh.faces[FaceId(f)][0].value())]) gone[f] = 1, ++pairs;
    out.changed = copies + pairs;
    keep_faces_of(mesh, [&](FaceId f) { return !gone[f.value()]; });
    mesh = welded(mesh);
    out.said = count_text(out.changed, "face that lay", "faces that lay") + " on another one " +
               (out.changed == 1 ? "was" : "were") + " dropped.";
    return out;
}

}  // namespace anvil
