#include "app/view/looks.h"

#include "app/theme.h"
#include "core/inspect/deviation.h"
#include "core/inspect/finding_lines.h"
#include "core/mesh/colouring.h"

namespace anvil::app {
namespace {

constexpr std::size_t most_kept = 6;

Looks::Distances displayed(const Mesh& mesh, double crease_angle = usual_crease) {
    return {std::make_shared<const DisplayMesh>(make_display(mesh, crease_angle)), 0};
}

}  // namespace

Looks::Looks(JobController& controller, QObject* parent) : QObject(parent), controller_(controller) {}

const Looks::Distances& Looks::look_up(std::shared_ptr<const void> of, std::shared_ptr<const void> other, int kind,
                                       std::function<Distances(Progress&)> make) {
    for (auto at = kept_.begin(); at != kept_.end(); ++at)
        if (at->of == of && at->other == other && at->kind == kind) {
            kept_.splice(kept_.begin(), kept_, at);
            return kept_.front().made;
        }
    kept_.push_front({of, other, kind, {}});
    if (kept_.size() > most_kept) kept_.pop_back();
    auto made = std::make_shared<Distances>();
    // Named by what it is of, so that one of another mesh does not drop it.
    const QString name = QString("look %1 of %2").arg(kind).arg(reinterpret_cast<quintptr>(of.get()));
    controller_.ask(
        name, [made, make = std::move(make)](Progress& progress) { *made = make(progress); },
        [this, of, other, kind, made] {
            for (Kept& k : kept_)
                if (k.of == of && k.other == other && k.kind == kind) k.made = *made;
            Q_EMIT ready();
        },
        [this, of, other, kind] {  // to be asked again
            kept_.remove_if([&](const Kept& k) { return k.of == of && k.other == other && k.kind == kind; });
        });
    return kept_.front().made;
}

std::shared_ptr<const DisplayMesh> Looks::plain(const std::shared_ptr<const Mesh>& mesh) {
    return look_up(mesh, nullptr, static_cast<int>(Surface::plain),
                   [mesh](Progress&) { return displayed(*mesh, usual_crease); })
        .display;
}

std::shared_ptr<const DisplayMesh> Looks::surface(const std::shared_ptr<const Mesh>& mesh, Surface surface) {
    return look_up(mesh, nullptr, static_cast<int>(surface),
                   [mesh, surface](Progress&) {
                       return surface == Surface::shells    ? displayed(coloured_by_shell(*mesh))
                              : surface == Surface::regions ? displayed(coloured_by_region(*mesh, usual_crease))
                                                            : displayed(*mesh, 0);
                   })
        .display;
}

std::shared_ptr<const DisplayMesh> Looks::findings(const std::shared_ptr<const Inspection>& inspection,
                                                   std::optional<FindingKind> kind) {
    return look_up(inspection, nullptr, 100 + (kind ? static_cast<int>(*kind) : -1),
                   [inspection, kind](Progress&) {
                       Mesh some;
                       some.points = inspection->mesh.points;
                       for (const FaceId f : faces_of(*inspection, kind))
                           some.faces.push_back(inspection->mesh.faces[f]);
                       return displayed(some, 0);
                   })
        .display;
}

std::shared_ptr<const DisplayMesh> Looks::lines(const std::shared_ptr<const Inspection>& inspection, FindingKind kind) {
    return look_up(inspection, nullptr, 200 + static_cast<int>(kind),
                   [inspection, kind](Progress&) -> Distances {
                       return {std::make_shared<const DisplayMesh>(make_display_lines(lines_of(*inspection, kind))), 0};
                   })
        .display;
}

Looks::Distances Looks::distances(const std::shared_ptr<const Mesh>& mesh, const std::shared_ptr<const Mesh>& other) {
    return look_up(mesh, other, 99, [mesh, other](Progress& progress) -> Distances {
        const auto map = map_deviation(*mesh, *other, progress);
        if (!map || !std::isfinite(map->largest)) return {};
        std::vector<Tint> tints;
        for (const double d : map->distance) {
            const QColor c = distance_colour(map->largest > 0 ? d / map->largest : 0);
            tints.push_back({static_cast<std::uint8_t>(c.red()), static_cast<std::uint8_t>(c.green()),
                             static_cast<std::uint8_t>(c.blue())});
        }
        return {std::make_shared<const DisplayMesh>(make_display(map->mesh, usual_crease, tints)), map->largest};
    });
}

QColor Looks::distance_colour(double share) {
    // From the body's own grey over ochre to brick: none of it looks like another sign of the bench.
    const QColor steps[] = {QColor(0xB9, 0xC4, 0xC8), QColor(0xD9, 0xA4, 0x3B), QColor(0xA3, 0x2A, 0x1C)};
    const double at = std::clamp(share, 0.0, 1.0) * 2;
    const int k = at < 1 ? 0 : 1;
    const double t = at - k;
    auto mix = [&](int a, int b) { return static_cast<int>(std::lround(a + (b - a) * t)); };
    return {mix(steps[k].red(), steps[k + 1].red()), mix(steps[k].green(), steps[k + 1].green()),
            mix(steps[k].blue(), steps[k + 1].blue())};
}

}  // namespace anvil::app
