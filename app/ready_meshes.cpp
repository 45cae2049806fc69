#include "app/ready_meshes.h"

#include "core/mesh/colouring.h"

namespace anvil::app {

void ReadyMeshes::begin_round() { asked_.clear(); }

ReadyMesh& ReadyMeshes::measured(const std::shared_ptr<const Mesh>& mesh) {
    asked_.insert(mesh.get());
    ReadyMesh& ready = ready_[mesh.get()];
    if (!ready.mesh) {
        ready.mesh = mesh;
        ready.measures = std::make_shared<const Measures>(measure(welded(*mesh)));
    }
    return ready;
}

std::shared_ptr<const Measures> ReadyMeshes::measures_of(const std::shared_ptr<const Mesh>& mesh) {
    return measured(mesh).measures;
}

ReadyMesh& ReadyMeshes::of(const std::shared_ptr<const Mesh>& mesh, const Mesh* shown) {
    ReadyMesh& ready = measured(mesh);
    if (ready.display) return ready;
    ready.display = std::make_shared<const DisplayMesh>(make_display(shown ? *shown : *mesh));
    ready.picker = std::make_shared<const Picker>(*mesh);
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
