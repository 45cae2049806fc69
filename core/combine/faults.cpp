#include "core/combine/faults.h"

#include <tbb/enumerable_thread_specific.h>
#include <tbb/parallel_for.h>

#include <algorithm>

#include "core/arrange/stars.h"
#include "core/combine/kept_faces.h"
#include "core/exact/predicates.h"
#include "core/spatial/leaf_boxes.h"
#include "core/spatial/leaf_corners.h"
#include "core/spatial/triangle_contact.h"

namespace anvil {
namespace {

/// Per rounded face, whether rounding moved a corner of it.
std::vector<char> find_suspects(const RoundedFaces& rounded) {
    std::vector<char> suspect(rounded.faces.size());
    for (std::uint32_t f = 0; f < rounded.faces.size(); ++f) suspect[f] = rounded.is_moved(f);
    return suspect;
}

}  // namespace

std::optional<Faults> find_faults(const RoundedSurface& surface, Progress& progress) {
    const RoundedFaces& rounded = surface.faces;
    const BoxTree& tree = surface.tree;
    const auto& points = rounded.points;
    const auto& faces = rounded.faces;
    std::vector<char> suspect(faces.size()), flat(faces.size());
    tbb::parallel_for(tbb::blocked_range<std::size_t>(0, faces.size(), 2048), [&](const auto& range) {
        for (std::size_t f = range.begin(); f != range.end(); ++f) {
            const auto [p, q, r] = corner_points(points, faces[f]);
            suspect[f] = rounded.is_moved(f);
            flat[f] = suspect[f] && collinear(*p, *q, *r);
        }
    });
    Faults out;
    if (std::ranges::find(suspect, 1) == suspect.end()) return out;
    for (std::uint32_t f = 0; f < faces.size(); ++f)
        if (flat[f]) out.flat.push_back(f);
    if (progress.cancelled()) return std::nullopt;
    // Faces round a point that is sound answer for each other: a fan of thousands would have millions of pairs.
    const std::vector<char> sound = find_sound_stars(points, faces, surface.edges, Fans::open_too);
    if (progress.cancelled()) return std::nullopt;
    const LeafCorners corners(tree, faces, sound);
    const LeafBoxes boxes(tree, points, faces);
    const std::vector<PlaneFilter> planes = face_planes(points, faces);
    std::vector<std::vector<std::pair<std::uint32_t, std::uint32_t>>> per_task;
    auto test = [&](std::size_t task, std::uint32_t f, std::uint32_t g) {
        if (!(suspect[f] || suspect[g]) || flat[f] || flat[g]) return;
        const CornerPoints a = corner_points(points, faces[f]), b = corner_points(points, faces[g]);
        if (triangle_contact(a, b, &planes[f], &planes[g]).beyond_shared()) per_task[task].emplace_back(f, g);
    };
    auto at_sound_star_or_apart = [&](std::uint32_t a, std::uint32_t b, unsigned pairs) {
        const unsigned shared = corners.sharing(a, b);
        return shared | boxes.apart(a, b, pairs & ~shared);
    };
    const bool complete =
        tree.self_pairs([&](std::size_t tasks) { per_task.resize(tasks); }, test, &progress, at_sound_star_or_apart);
    if (!complete) return std::nullopt;
    for (const auto& list : per_task) out.pairs.insert(out.pairs.end(), list.begin(), list.end());
    std::sort(out.pairs.begin(), out.pairs.end());
    return out;
}

namespace {

/// How rounded faces lie to faces of patches, told pair by pair, from any thread.
class Fitter {
  public:
    Fitter(const Arrangement& a, const RoundedFaces& rounded) : a_(a), rounded_(rounded) {}

    void test(std::uint32_t rounded_face, std::uint32_t operand, std::uint32_t own_face) {
        const Mesh& mesh = a_.soup.operand(operand).mesh;
        const Triangle &t = rounded_.faces[rounded_face], &own = mesh.faces[FaceId(own_face)];
        const CornerPoints corners = corner_points(rounded_.points, t), other = corner_points(mesh.points.raw(), own);
        if (triangle_contact(corners, other).beyond_shared())
            found_.local().misfits.emplace_back(rounded_face, a_.soup.global(operand, FaceId(own_face)));
        for (std::size_t j = 0; j < 3; ++j) {
            if (rounded_.input[t[j].value()].valid()) continue;
            for (std::size_t k = 0; k < 3; ++k)
                if (*corners[j] == *other[k])
                    found_.local().landings.push_back(
                        {t[j].value(), a_.points.same_as(a_.soup.global(operand, own[k]))});
        }
    }
    PatchFit take() {
        PatchFit out;
        for (const PatchFit& part : found_) {
            out.landings.insert(out.landings.end(), part.landings.begin(), part.landings.end());
            out.misfits.insert(out.misfits.end(), part.misfits.begin(), part.misfits.end());
        }
        std::sort(out.misfits.begin(), out.misfits.end());
        return out;
    }

  private:
    const Arrangement& a_;
    const RoundedFaces& rounded_;
    tbb::enumerable_thread_specific<PatchFit> found_;
};

/// Calls visit(operand, its face, item) for every face that a patch has and every item of the tree that may meet it.
/// `many`: whether there are so many items that it is worth to mark what the patches have in the operands' trees.
template <class Visit>
void for_each_near_kept(const Arrangement& a, const Extraction& extraction, const BoxTree& tree, bool many,
                        Progress& progress, const Visit& visit) {
    const KeptFaces kept(a, extraction);
    tbb::parallel_for(std::uint32_t{0}, a.soup.size(), [&](std::uint32_t o) {
        if (!kept.any(o)) return;
        const auto is_kept = kept.of(o);
        a.soup.operand(o).tree.pairs(
            tree, [](std::size_t) {},
            [&](std::size_t, std::uint32_t f, std::uint32_t item) {
                if (is_kept(f)) visit(o, f, item);
            },
            &progress, many ? kept.marks(o, is_kept) : std::vector<char>());
    });
}

}  // namespace

PatchFit fit_to_patches(const Arrangement& a, const Extraction& extraction, const RoundedFaces& rounded,
                        const BoxTree& tree, Progress& progress) {
    const std::vector<char> suspect = find_suspects(rounded);
    Fitter fitter(a, rounded);
    for_each_near_kept(a, extraction, tree, true, progress, [&](std::uint32_t o, std::uint32_t f, std::uint32_t i) {
        if (suspect[i]) fitter.test(i, o, f);
    });
    return fitter.take();
}

std::optional<FreshFaults> prove_fresh(const Arrangement& a, const Extraction& extraction, const RoundedFaces& rounded,
                                       const FreshFaces& fresh, Progress& progress) {
    const auto& points = rounded.points;
    const auto& faces = rounded.faces;
    const auto count = static_cast<std::uint32_t>(fresh.sub_faces.size());
    FreshFaults out;
    // The fresh faces have the tree, first the rounded ones, and all rounded ones are looked up in it.
    std::vector<Box> boxes;
    for (const std::uint32_t f : fresh.sub_faces) boxes.push_back(box_of(corner_points(points, faces[f])));
    for (const FaceId f : fresh.untouched) boxes.push_back(box_of(a.soup.corners(f)));
    const BoxTree tree(boxes);
    std::vector<char> suspect = find_suspects(rounded), flat(faces.size(), 0);
    for (const std::uint32_t f : fresh.sub_faces) {
        const auto [p, q, r] = corner_points(points, faces[f]);
        if (!suspect[f] || !collinear(*p, *q, *r)) continue;
        flat[f] = 1;
        out.faults.flat.push_back(f);
    }
    Fitter fitter(a, rounded);
    tbb::enumerable_thread_specific<std::vector<std::pair<std::uint32_t, std::uint32_t>>> pairs;
    tbb::parallel_for(std::uint32_t{0}, static_cast<std::uint32_t>(faces.size()), [&](std::uint32_t g) {
        if (g % 1024 == 0 && progress.cancelled()) return;
        const CornerPoints own = corner_points(points, faces[g]);
        tree.overlapping(box_of(own), [&](std::uint32_t i) {
            if (i >= count) {  // a fresh one meets it from the operand's tree
                const FaceId face = fresh.untouched[i - count];
                const std::uint32_t o = a.soup.operand_of(face);
                if (fresh.known[g] && suspect[g]) fitter.test(g, o, a.soup.own(o, face).value());
                return;
            }
            const std::uint32_t f = fresh.sub_faces[i];
            if (f == g || (!fresh.known[g] && g < f) || !(suspect[f] || suspect[g]) || flat[f] || flat[g]) return;
            if (triangle_contact(corner_points(points, faces[f]), own).beyond_shared())
                pairs.local().push_back(std::minmax(f, g));
        });
    });
    for_each_near_kept(a, extraction, tree, false, progress, [&](std::uint32_t o, std::uint32_t f, std::uint32_t i) {
        if (i < count && suspect[fresh.sub_faces[i]]) fitter.test(fresh.sub_faces[i], o, f);
    });
    if (progress.cancelled()) return std::nullopt;
    for (const auto& part : pairs) out.faults.pairs.insert(out.faults.pairs.end(), part.begin(), part.end());
    std::sort(out.faults.pairs.begin(), out.faults.pairs.end());
    out.fit = fitter.take();
    return out;
}

}  // namespace anvil
