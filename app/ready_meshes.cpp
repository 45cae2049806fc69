#include "app/ready_meshes.h"

#include <tbb/parallel_invoke.h>

#include "core/mesh/colouring.h"
#include "core/mesh/edge_table.h"
#include "core/mesh/weld.h"

namespace anvil::app {

void ReadyMeshes::begin_round(const Measures* moving) {
    asked_.clear();
    quick_ = moving != nullptr;
    if (moving) last_ = *moving;
}

ReadyMesh& ReadyMeshes::asked(const std::shared_ptr<const Mesh>& mesh) {
    asked_.insert(mesh.get());
    ReadyMesh& ready = ready_[mesh.get()];
    ready.mesh = mesh;
    return ready;
}

std::shared_ptr<const Measures> ReadyMeshes::measures_of(const std::shared_ptr<const Mesh>& mesh) {
    ReadyMesh& ready = asked(mesh);
    if (!ready.measures) ready.measures = std::make_shared<const Measures>(measure(welded(*mesh)));
    return ready.measures;
}

ReadyMesh& ReadyMeshes::of(const std::shared_ptr<const Mesh>& mesh, const Mesh* shown) {
    ReadyMesh& ready = asked(mesh);
    if (ready.picker || (ready.display && quick_)) return ready;
    constexpr std::size_t very_large = 60'000;  // faces; of smaller ones creases are found in no time
    if (quick_ && mesh->faces.size() > very_large) {
        tbb::parallel_invoke(
            [&] {
                if (!ready.measures) ready.measures = std::make_shared<const Measures>(measure_as(last_, *mesh));
            },
            [&] { ready.display = std::make_shared<const DisplayMesh>(make_quick_display(shown ? *shown : *mesh)); });
        return ready;
    }
    const Mesh joined = welded(*mesh);
    const EdgeTable edges(joined.faces.raw(), joined.points.size());
    tbb::parallel_invoke(
        [&] {
            if (!ready.measures) ready.measures = std::make_shared<const Measures>(measure(joined, edges));
        },
        [&] {
            ready.display =
                std::make_shared<const DisplayMesh>(shown ? make_display(*shown) : make_display(joined, edges));
        },
        [&] {
            if (!quick_) ready.picker = std::make_shared<const Picker>(*mesh);
        });
    return ready;
}

void ReadyMeshes::end_round() {
    std::erase_if(ready_, [&](const auto& known) { return !asked_.contains(known.first); });
}

std::map<std::string, std::shared_ptr<const DisplayMesh>> curves_by_part(const Evaluation& evaluation,
                                                                         const std::string& work) {
    std::map<std::string, std::vector<std::vector<Vec3>>> lines;
    const auto lineage = evaluation.lineages.find(work);
    // The cutter of a cut is no part: it goes by its step.
    auto name = [&](std::uint32_t o) {
        const std::string& part = evaluation.operand_parts[o];
        const bool known = lineage != evaluation.lineages.end() && o < lineage->second->of.size();
        return part.empty() && known ? lineage->second->of[o].use : part;
    };
    for (const CrossingCurve& curve : evaluation.combined->curves)
        for (const std::uint32_t o : std::set{curve.a, curve.b}) {
            auto& line = lines[name(o)].emplace_back(curve.points);
            if (curve.closed) line.push_back(curve.points.front());
        }
    std::map<std::string, std::shared_ptr<const DisplayMesh>> out;
    for (const auto& [part, list] : lines) out[part] = std::make_shared<const DisplayMesh>(make_display_lines(list));
    return out;
}

std::shared_ptr<const DisplayMesh> rims_of(const Evaluation& evaluation) {
    std::vector<std::vector<Vec3>> lines;
    for (const ClosedHole& hole : evaluation.combined->closed_holes) {
        lines.push_back(hole.rim);
        lines.back().push_back(hole.rim.front());
    }
    return lines.empty() ? nullptr : std::make_shared<const DisplayMesh>(make_display_lines(lines));
}

}  // namespace anvil::app
