#pragma once

#include <QImage>
#include <QSurfaceFormat>
#include <atomic>
#include <memory>
#include <optional>
#include <vector>

#include "app/view/camera.h"
#include "app/view/section.h"
#include "core/mesh/display.h"
#include "core/mesh/transform.h"

class QOffscreenSurface;

namespace anvil::app {

struct Palette;

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

    bool operator==(const SceneItem& o) const {
        return mesh == o.mesh && stands.matrix() == o.stands.matrix() && look == o.look && chosen == o.chosen;
    }
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

    bool operator==(const Scene& o) const {
        return items == o.items && bounds.low == o.bounds.low && bounds.high == o.bounds.high && bed == o.bed &&
               see_through == o.see_through && moves == o.moves && section == o.section;
    }
};

/// From where a scene is looked at, and onto what.
struct Eye {
    Camera camera{};
    QSize pixels{};
    double ratio = 1;  ///< pixels of the screen per pixel of the interface
    const Palette* palette = nullptr;
    bool operator==(const Eye&) const = default;
};

/// Draws scenes off screen with OpenGL into an image. Made, used and destroyed on one thread, which need not be the
/// interface's.
class Renderer {
  public:
    static QSurfaceFormat format();
    /// `surface`: of that format.
    explicit Renderer(QOffscreenSurface& surface);
    ~Renderer();
    /// Why nothing can be drawn; empty where it can.
    QString trouble() const;
    /// A null image where nothing can be drawn, or where `gives_up` became true meanwhile.
    QImage render(const Scene& scene, const Eye& eye, const std::atomic<bool>& gives_up);

  private:
    struct Impl;
    std::unique_ptr<Impl> impl_;
};

}  // namespace anvil::app
