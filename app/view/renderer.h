#pragma once

#include <QImage>
#include <memory>
#include <optional>
#include <vector>

#include "app/view/camera.h"
#include "app/view/section.h"
#include "core/mesh/display.h"
#include "core/mesh/transform.h"

namespace anvil::app {

/// One thing to draw.
struct SceneItem {
    /// `other`: an operand of an operation that is none of the three main ones. `curve`: lines on the body;
    /// `rim`: those of holes that were closed. `ghost`: a body that is only hinted at; `fault`: faces of findings;
    /// `picked`: faces chosen by hand; `mark`: lines that show findings, seen through the body.
    enum class Look { body, union_of, difference, intersection, other, idle, curve, rim, ghost, fault, picked, mark };
    std::shared_ptr<const DisplayMesh> mesh;
    Transform stands = Transform::Identity();
    Look look = Look::body;
    bool chosen = false;

    bool is_lines() const { return look == Look::curve || look == Look::rim || look == Look::mark; }
    bool is_solid() const { return look == Look::body || look == Look::idle || look == Look::ghost || lies_on_body(); }
    /// Faces of the body itself, drawn over it.
    bool lies_on_body() const { return look == Look::fault || look == Look::picked; }
};
struct Scene {
    std::vector<SceneItem> items;
    Box bounds;       ///< of all items at their places
    bool bed = true;  ///< the sheet on which the body stands, z = 0, with its contact shade
    bool see_through = false;
    bool moves = false;                     ///< drawn as fast as it can be: large bodies reduced, without soft edges
    std::optional<SectionPlane> section{};  ///< of bodies; where it goes through one it is filled, and hatched by body
};

/// Draws scenes off screen with OpenGL into an image.
class Renderer {
  public:
    Renderer();
    ~Renderer();
    /// Why nothing can be drawn; empty where it can.
    QString trouble() const;
    QImage render(const Scene& scene, const Camera& camera, const QSize& pixels, double pixel_ratio);

  private:
    struct Impl;
    std::unique_ptr<Impl> impl_;
};

}  // namespace anvil::app
