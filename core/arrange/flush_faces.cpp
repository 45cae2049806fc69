#include "core/arrange/flush_faces.h"

#include <algorithm>
#include <map>
#include <numeric>

#include "core/exact/predicates.h"
#include "core/spatial/box_tree.h"

namespace anvil {

FlushFaces::FlushFaces(const PointTable& points, std::vector<FlushFace> faces, int axis)
    : points_(points), faces_(std::move(faces)), axis_(axis), counts_as_(faces_.size()), together_(faces_.size(), 1) {
    const Triangle& first = faces_.front().corners;
    turn_ = orient2d(points.view(first[0]), points.view(first[1]), points.view(first[2]), axis);
    std::iota(counts_as_.begin(), counts_as_.end(), 0u);
    std::vector<Triangle> corners;
    for (const FlushFace& f : faces_) corners.push_back(f.corners);
    edges_ = edge_uses(corners);
}

void FlushFaces::leave_out_covered(const Soup& soup, std::span<const std::uint32_t> folded) {
    const auto covered = find_covered_edges(soup, faces_, edges_, folded, axis_);
    if (covered.empty()) return;
    auto is_covered = [&](const EdgeUse& e) { return std::ranges::binary_search(covered, std::pair(e.low, e.high)); };
    DisjointSets joined(faces_.size());
    for_each_run(edges(), same_edge, [&](std::span<const EdgeUse> one) {
        if (is_covered(one[0])) joined.join(one[0].face, one[1].face);
    });
    std::erase_if(edges_, is_covered);
    together_.assign(faces_.size(), 0);
    for (std::uint32_t i = 0; i < faces_.size(); ++i) ++together_[counts_as_[i] = joined.find(i)];
}

void FlushFaces::tell_apart(const PlanarTriangulation& triangulation, Covers<std::vector<int>>& covers) const {
    // Faces with an edge that was not left out: all others are covered altogether.
    std::vector<std::uint32_t> candidates;
    for (const EdgeUse& e : edges_)
        if (together_[counts_as_[e.face]] > 1) candidates.push_back(e.face);
    if (candidates.empty()) return;
    std::ranges::sort(candidates);
    candidates.erase(std::unique(candidates.begin(), candidates.end()), candidates.end());
    std::vector<Box> boxes(candidates.size());
    for (std::size_t c = 0; c < candidates.size(); ++c)
        for (const VertexId v : faces_[candidates[c]].corners) boxes[c].add(points_.approx(v));
    const BoxTree tree(boxes);
    std::map<std::vector<int>, std::uint32_t> number;
    for (std::uint32_t i = 0; i < covers.lists.size(); ++i) number.try_emplace(covers.lists[i], i);
    for (std::size_t t = 0; t < triangulation.faces().size() && !triangulation.stopped(); ++t) {
        const std::vector<int> known = covers.lists[covers.of_face[t]];
        const auto& corners = triangulation.faces()[t].v;
        Box box;
        for (const int v : corners) box.add(triangulation.point(v).approx);
        std::vector<int> list = known;
        for (int& i : list) {
            const auto one = static_cast<std::uint32_t>(i);
            if (together_[one] == 1 || is_covered(faces_[one], known)) continue;
            tree.overlapping(box, [&](std::uint32_t c) {
                const std::uint32_t f = candidates[c];
                if (counts_as_[f] == one && holds(faces_[f], triangulation, corners)) i = static_cast<int>(f);
            });
        }
        if (list == known) continue;
        std::ranges::sort(list);
        const auto [at, is_new] = number.try_emplace(list, static_cast<std::uint32_t>(covers.lists.size()));
        if (is_new) covers.lists.push_back(list);
        covers.of_face[t] = at->second;
    }
}

bool FlushFaces::is_covered(const FlushFace& face, std::span<const int> by) const {
    return std::ranges::any_of(by, [&](int i) {
        const FlushFace& other = faces_[static_cast<std::size_t>(i)];
        return other.operand < face.operand && other.against == face.against;
    });
}

/// Whether a face of the triangulation lies in it. None of the edges within what is not covered crosses that.
bool FlushFaces::holds(const FlushFace& face, const PlanarTriangulation& triangulation, const int (&corners)[3]) const {
    for (std::size_t k = 0; k < 3; ++k)
        for (const int v : corners)
            if (orient2d(points_.view(face.corners[k]), points_.view(face.corners[(k + 1) % 3]), triangulation.point(v),
                         axis_) == -turn_of(face))
                return false;
    return true;
}

}  // namespace anvil
