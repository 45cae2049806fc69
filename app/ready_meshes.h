#pragma once

#include <set>

#include "app/job_controller.h"

namespace anvil::app {

/// Meshes made ready to draw and to pick, each once as long as it is asked for from one evaluation to the next.
class ReadyMeshes {
  public:
    /// `moving`: measures of the result before, where that is large and something is dragged: what is new is made ready
    /// for a moment only, can't be picked, and its shells are not counted. Else null.
    void begin_round(const Measures* moving);
    /// `shown`: the same mesh as it is to be drawn, where that differs.
    ReadyMesh& of(const std::shared_ptr<const Mesh>& mesh, const Mesh* shown = nullptr);
    /// Of one that need not be drawn.
    std::shared_ptr<const Measures> measures_of(const std::shared_ptr<const Mesh>& mesh);
    /// Drops what was not asked for in this round.
    void end_round();

  private:
    ReadyMesh& asked(const std::shared_ptr<const Mesh>& mesh);
    bool quick_ = false;
    Measures last_;
    std::map<const Mesh*, ReadyMesh> ready_;
    std::set<const Mesh*> asked_;
};

/// The crossing curves that each part has a share in, by part id.
std::map<std::string, std::shared_ptr<const DisplayMesh>> curves_by_part(const Evaluation& evaluation,
                                                                         const std::string& work);
/// Of the holes that were closed; null where there is none.
std::shared_ptr<const DisplayMesh> rims_of(const Evaluation& evaluation);

}  // namespace anvil::app
