#pragma once

#include <QObject>
#include <list>

#include "app/job_controller.h"

namespace anvil::app {

/// How the skin of the body is shown.
enum class Surface {
    plain,
    lines,     ///< every edge drawn
    shells,    ///< a colour for each shell
    regions,   ///< a colour for each region between creases
    findings,  ///< only faces that findings name, within the ghost of the others
};

/// A body after a treatment beside what it was.
enum class Compare { after, before, both, distance };

/// Displays that are made for looking only: worked out on the worker's thread when they are first asked for, and kept
/// for a while.
class Looks : public QObject {
    Q_OBJECT
  public:
    explicit Looks(JobController& controller, QObject* parent = nullptr);

    /// A mesh with its creases; null until `ready`.
    std::shared_ptr<const DisplayMesh> plain(const std::shared_ptr<const Mesh>& mesh);
    /// A mesh in colours, or with all its edges; null until `ready`.
    std::shared_ptr<const DisplayMesh> surface(const std::shared_ptr<const Mesh>& mesh, Surface surface);
    /// Faces that findings name, of one kind or of all.
    std::shared_ptr<const DisplayMesh> findings(const std::shared_ptr<const Inspection>& inspection,
                                                std::optional<FindingKind> kind);
    /// Lines that show the findings of a kind.
    std::shared_ptr<const DisplayMesh> lines(const std::shared_ptr<const Inspection>& inspection, FindingKind kind);
    struct Distances {
        std::shared_ptr<const DisplayMesh> display;
        double largest = 0;  ///< mm, at the last of the colours
    };
    /// `mesh` coloured by how far it is from `other`.
    Distances distances(const std::shared_ptr<const Mesh>& mesh, const std::shared_ptr<const Mesh>& other);
    /// The colours from none to the largest distance.
    static QColor distance_colour(double share);

  Q_SIGNALS:
    void ready();

  private:
    struct Kept {
        std::shared_ptr<const void> of, other;  // what it was made from, kept alive so that no other has its address
        int kind;
        Distances made;
    };
    const Distances& look_up(std::shared_ptr<const void> of, std::shared_ptr<const void> other, int kind,
                             std::function<Distances(Progress&)> make);
    JobController& controller_;
    std::list<Kept> kept_;
};

}  // namespace anvil::app
