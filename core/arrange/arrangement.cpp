#include "core/arrange/arrangement.h"

#include <chrono>

namespace anvil {
namespace {

class Stopwatch {
  public:
    double lap() {
        const auto now = std::chrono::steady_clock::now();
        const double s = std::chrono::duration<double>(now - last_).count();
        last_ = now;
        return s;
    }

  private:
    std::chrono::steady_clock::time_point last_ = std::chrono::steady_clock::now();
};

}  // namespace

Result<Arrangement> arrange(std::span<const Mesh* const> operands, Progress& progress) {
    Stopwatch watch;
    Arrangement::Seconds seconds;

    progress.stage("gathering faces", 0.0, 0.1);
    Soup soup = gather(operands);
    PointTable points(soup.points);
    const BoxTree tree(face_boxes(soup.points.raw(), soup.faces.raw()));
    seconds.gather = watch.lap();
    if (progress.cancelled()) return cancelled_error();

    progress.stage("finding crossings", 0.1, 0.5);
    auto crossings = find_crossings(soup, tree, points, progress);
    if (!crossings) return crossings.error();
    seconds.cross = watch.lap();

    progress.stage("splitting faces", 0.5, 0.75);
    auto faces = subdivide(soup, *crossings, points, progress);
    if (!faces) return faces.error();
    seconds.subdivide = watch.lap();

    progress.stage("telling inside from outside", 0.75, 0.95);
    auto cells = find_cells(soup, tree, points, *faces, progress);
    if (!cells) return cells.error();
    seconds.cells = watch.lap();

    return Arrangement{std::move(soup),
                       std::move(points),
                       std::move(*faces),
                       std::move(*cells),
                       crossings->segments.size(),
                       crossings->coplanar.size(),
                       seconds};
}

}  // namespace anvil
