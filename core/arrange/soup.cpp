#include "core/arrange/soup.h"

#include <tbb/blocked_range.h>
#include <tbb/parallel_for.h>

#include <algorithm>
#include <numeric>

#include "core/exact/predicates.h"
#include "core/mesh/weld.h"

namespace anvil {
namespace {

/// The corners, lowest first, and whether that took a reflection.
struct Canonical {
    Triangle corners;
    bool reversed = false;
};
Canonical canonical(const Triangle& t) {
    Canonical c{t};
    auto order = [&](int i, int j) {
        if (c.corners[j] < c.corners[i]) {
            std::swap(c.corners[i], c.corners[j]);
            c.reversed = !c.reversed;
        }
    };
    order(0, 1);
    order(1, 2);
    order(0, 1);
    return c;
}

}  // namespace

Soup gather(std::span<const Mesh* const> operands) {
    Soup soup;
    soup.operands = static_cast<std::uint32_t>(operands.size());
    std::vector<Vec3> all;
    std::size_t face_total = 0;
    for (const Mesh* m : operands) {
        all.insert(all.end(), m->points.begin(), m->points.end());
        face_total += m->faces.size();
    }
    const WeldMap weld = weld_map(all);
    soup.points.resize(weld.groups);
    for (std::size_t i = all.size(); i-- > 0;) soup.points[VertexId(weld.group[i])] = all[i];

    std::vector<Triangle> corners;
    std::vector<FaceSource> origin;
    corners.reserve(face_total);
    origin.reserve(face_total);
    std::size_t offset = 0;
    for (std::uint32_t o = 0; o < operands.size(); ++o) {
        const Mesh& m = *operands[o];
        for (FaceId f : ids<FaceId>(m.faces.size())) {
            Triangle t;
            for (int k = 0; k < 3; ++k) t[k] = VertexId(weld.group[offset + m.faces[f][k].value()]);
            corners.push_back(t);
            origin.push_back({o, f, false});
        }
        offset += m.points.size();
    }

    std::vector<char> flat(corners.size());
    tbb::parallel_for(tbb::blocked_range<std::size_t>(0, corners.size(), 2048), [&](const auto& range) {
        for (std::size_t i = range.begin(); i != range.end(); ++i) {
            const auto& [a, b, c] = corners[i];
            flat[i] = a == b || b == c || c == a || collinear(soup.points[a], soup.points[b], soup.points[c]);
        }
    });

    // Twins lie in the bucket of their lowest corner.
    std::vector<std::uint32_t> start(soup.points.size() + 1, 0), first(corners.size());
    for (std::size_t i = 0; i < corners.size(); ++i)
        if (!flat[i]) ++start[std::min({corners[i][0], corners[i][1], corners[i][2]}).value() + 1];
    std::partial_sum(start.begin(), start.end(), start.begin());
    std::vector<std::uint32_t> bucket(start.back()), next(start.begin(), start.end() - 1);
    for (std::uint32_t i = 0; i < corners.size(); ++i) {
        first[i] = i;
        if (flat[i]) {
            ++soup.set_aside;
            continue;
        }
        const Canonical c = canonical(corners[i]);
        const std::uint32_t v = c.corners[0].value();
        for (std::uint32_t k = start[v]; k < next[v]; ++k)
            if (canonical(corners[bucket[k]]).corners == c.corners) {
                first[i] = bucket[k];
                break;
            }
        if (first[i] == i) bucket[next[v]++] = i;
    }

    std::vector<std::vector<FaceSource>> twins;  // further sources of a face, for the few that have any
    std::vector<std::uint32_t> twin_list(corners.size(), 0xffffffffu);
    for (std::uint32_t i = 0; i < corners.size(); ++i) {
        if (first[i] == i) continue;
        std::uint32_t& list = twin_list[first[i]];
        if (list == 0xffffffffu) {
            list = static_cast<std::uint32_t>(twins.size());
            twins.emplace_back();
        }
        FaceSource s = origin[i];
        s.reversed = canonical(corners[i]).reversed != canonical(corners[first[i]]).reversed;
        twins[list].push_back(s);
    }
    soup.faces.reserve(corners.size());
    soup.source.reserve(corners.size());
    for (std::uint32_t i = 0; i < corners.size(); ++i) {
        if (flat[i] || first[i] != i) continue;
        soup.faces.push_back(corners[i]);
        std::vector<FaceSource> list{origin[i]};
        if (twin_list[i] != 0xffffffffu)
            list.insert(list.end(), twins[twin_list[i]].begin(), twins[twin_list[i]].end());
        soup.source.push_back(soup.sources.add(list));
    }
    return soup;
}

}  // namespace anvil
