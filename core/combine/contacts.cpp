#include "core/combine/contacts.h"

#include <algorithm>
#include <limits>
#include <set>

#include "core/combine/enclosed.h"
#include "core/combine/live_faces.h"
#include "core/combine/prove.h"
#include "core/combine/settle_faults.h"
#include "core/mesh/disjoint_sets.h"
#include "core/mesh/measures.h"

namespace anvil {
namespace {

/// Moves touching parts apart: tries steps on the faces at pinched points that lie together, and looks at what each
/// step changes only.
class Separator {
  public:
    Separator(const Settled& settled, Pinches pinches, Precision precision, Progress& progress)
        : pinches_(std::move(pinches)), precision_(precision), progress_(progress) {
        Mesh mesh = settled.mesh;
        std::vector<FaceSource> source = settled.source;
        if (!pinches_.closed_edges.empty()) {
            split_edges(mesh, pinches_.closed_edges, precision, source);
            pinches_ = find_pinches(mesh, progress);
        }
        area_ = surface_area(mesh);
        reach_ = reach_of(mesh.points.raw());
        normals_ = fan_normals(mesh, pinches_);
        find_groups(mesh, settled.mesh.points.size());
        RoundedFaces faces = unmoved(std::move(mesh), std::move(source));
        faces.thickness = settled.thickness;
        if (!faces.thickness.empty()) faces.thickness.resize(faces.faces.size(), 0);  // what was split is behind
        live_.emplace(std::move(faces));
    }

    /// Moves apart what it can; whether that is all. But for the last effort it takes small steps only, and stops where
    /// something cannot be moved.
    Result<bool> run(Effort effort) {
        const bool last = effort == Effort::last;
        const double most = last ? reach_ * 0x1p-9 : 0x1p12 * last_digit(reach_, precision_);
        bool all = true;
        const double first = (precision_ == Precision::single_precision ? 2 : 4) * last_digit(reach_, precision_);
        for (const Group& group : groups_) {
            // All skins draw back where they can; of two, where one is too thin, the other.
            const bool two = std::ranges::all_of(group.corners, [&](auto i) { return pinches_.corners[i].fan < 2; });
            std::optional<double> done;
            for (std::uint32_t skins = 0; skins <= (two ? 2u : 0u) && !done; ++skins)
                for (double step = first; step < most && !done; step *= 4) {
                    const auto tried = try_step(group, step, skins);
                    if (!tried) return tried.error();
                    if (*tried) done = step;
                }
            if (done) largest_step_ = std::max(largest_step_, *done);
            all = all && done;
            if (!all && !last) break;
        }
        return all;
    }
    RoundedFaces result() && { return std::move(*live_).result(); }
    double largest_step() const { return largest_step_; }
    /// Whether a step may have turned a crumb inside out: shells much thicker than it stay as they are.
    bool may_have_turned() const { return !live_->added_to_thicker_shells(8 * largest_step_); }

  private:
    /// Pinched points that faces connect, and those faces.
    struct Group {
        std::vector<std::uint32_t> corners;  ///< of `pinches_`
        std::vector<std::uint32_t> faces;    ///< sorted
    };
    void find_groups(const Mesh& mesh, std::size_t given_points) {
        std::vector<std::uint32_t> faces;
        for (const Pinches::Corner& c : pinches_.corners) faces.push_back(c.face.value());
        for (std::uint32_t f = 0; f < mesh.faces.size(); ++f)  // a point in the middle of an edge was rounded
            if (std::ranges::any_of(mesh.faces.raw()[f], [&](VertexId v) { return v.value() >= given_points; }))
                faces.push_back(f);
        std::sort(faces.begin(), faces.end());
        faces.erase(std::unique(faces.begin(), faces.end()), faces.end());
        std::unordered_map<std::uint32_t, std::uint32_t> first_at;
        DisjointSets sets(faces.size());
        for (std::uint32_t i = 0; i < faces.size(); ++i)
            for (const VertexId v : mesh.faces.raw()[faces[i]])
                sets.join(first_at.try_emplace(v.value(), i).first->second, i);
        std::vector<std::uint32_t> number;
        groups_.resize(sets.number(number));
        for (std::uint32_t i = 0; i < faces.size(); ++i) groups_[number[i]].faces.push_back(faces[i]);
        for (std::uint32_t i = 0; i < pinches_.corners.size(); ++i)
            groups_[number[first_at.at(pinches_.corners[i].point.value())]].corners.push_back(i);
    }

    /// Whether the parts of a group can be that far apart, mm; then they are. `skins`: which fans move, 0 for all, else
    /// only the first or only the second of each point.
    Result<bool> try_step(const Group& group, double step, std::uint32_t skins) {
        std::vector<std::uint32_t> taken;  // some may have gone with a crumb at another place
        std::ranges::copy_if(group.faces, std::back_inserter(taken), [&](std::uint32_t f) { return live_->alive(f); });
        std::vector<LiveFaces::Face> next;
        for (const std::uint32_t f : taken) {
            next.push_back(live_->face(f));
            live_->remove(f);
        }
        for (const std::uint32_t i : group.corners) {
            const Pinches::Corner& c = pinches_.corners[i];
            if (skins > 0 && c.fan != skins - 1) continue;
            const auto at = std::lower_bound(taken.begin(), taken.end(), c.face.value());
            if (at == taken.end() || *at != c.face.value()) continue;
            Vec3 p = live_->point(c.point) - normals_[i] * step;
            if (precision_ == Precision::single_precision) p = in_single_precision(p);
            std::ranges::replace(next[static_cast<std::size_t>(at - taken.begin())].corners, c.point,
                                 live_->point_at(p, step));
        }
        const auto from = static_cast<std::uint32_t>(live_->size());
        bool good = true;
        for (const LiveFaces::Face& face : next) {
            good = good && !repeats_corner(face.corners) && !live_->has(face.corners);
            if (good) live_->add(face);
        }
        // What is thinner than the step may have been turned inside out by it.
        const LiveFaces::Dropped crumbs =
            live_->drop_thin_shells(last_digit(reach_, precision_), step, [](VertexId) { return true; });
        Faults faults;
        if (!live_->find_faults(faults, std::numeric_limits<std::size_t>::max(), progress_)) return cancelled_error();
        // Crumbs may go, a thin body may not: it needs another way than so large a step.
        good = good && faults.empty() && crumbs.area < 0.01 * area_ && !pinched_from(from);
        if (progress_.cancelled()) return cancelled_error();
        if (good) return true;
        for (auto f = from; f < live_->size(); ++f) live_->remove(f);
        for (const std::uint32_t f : crumbs.faces)
            if (f < from) live_->restore(f);
        for (const std::uint32_t f : taken) live_->restore(f);
        return false;
    }

    /// Whether the surface touches itself at a point of a face from that number on.
    bool pinched_from(std::uint32_t from) const {
        Mesh near;
        std::unordered_map<std::uint32_t, VertexId> number;
        PinchCandidates candidates;
        auto number_of = [&](VertexId v) {
            const auto [at, is_new] = number.try_emplace(v.value(), VertexId(near.points.size()));
            if (is_new) near.points.push_back(live_->point(v));
            return at->second;
        };
        std::set<std::uint32_t> faces;
        for (auto f = from; f < live_->size(); ++f) {
            if (!live_->alive(f)) continue;
            for (const VertexId v : live_->face(f).corners) {
                number_of(v);
                live_->for_each_at(v, [&](std::uint32_t g) { faces.insert(g); });
            }
        }
        candidates.points.assign(near.points.size(), 1);  // all faces round these are there
        for (const std::uint32_t f : faces) {
            Triangle t = live_->face(f).corners;
            for (VertexId& v : t) v = number_of(v);
            candidates.faces.push_back(near.faces.push_back(t));
        }
        candidates.points.resize(near.points.size(), 0);
        return !find_pinches(near, candidates, progress_).empty();
    }

    Pinches pinches_;
    std::vector<Vec3> normals_;  // per corner of the pinches
    Precision precision_;
    Progress& progress_;
    std::optional<LiveFaces> live_;
    std::vector<Group> groups_;
    double area_ = 0, reach_ = 0;  // mm2, mm
    double largest_step_ = 0;      // mm
};

/// Moves touching parts apart where there is a step by which that can be done; whether that is everywhere.
Result<bool> separate(Settled& settled, const Pinches& pinches, Precision precision, Effort effort,
                      Progress& progress) {
    Separator separator(settled, pinches, precision, progress);
    if (progress.cancelled()) return cancelled_error();
    const auto all = separator.run(effort);
    if (!all) return all;
    if (separator.largest_step() > 0) {
        const bool may_have_turned = separator.may_have_turned();
        RoundedFaces apart = std::move(separator).result();
        // Where a crumb was turned inside out, what is enclosed is what counts.
        if (*all && may_have_turned)
            if (const auto done = keep_enclosed(apart, precision, progress); !done) return done.error();
        settled.mesh = as_mesh(apart);
        settled.source = std::move(apart.source);
        settled.thickness = std::move(apart.thickness);
        settled.contact_step = std::max(settled.contact_step, separator.largest_step());
    }
    return all;
}

/// The faces at pinched points and edges, sorted.
std::vector<std::uint32_t> faces_at(const Pinches& pinches, const Mesh& mesh) {
    std::vector<std::uint32_t> out;
    for (const Pinches::Corner& c : pinches.corners) out.push_back(c.face.value());
    const std::set<std::pair<VertexId, VertexId>> edges(pinches.edges.begin(), pinches.edges.end());
    for (std::uint32_t f = 0; f < mesh.faces.size(); ++f) {
        const Triangle& t = mesh.faces.raw()[f];
        for (std::size_t k = 0; k < 3; ++k)
            if (edges.contains(std::minmax(t[k], t[(k + 1) % 3]))) out.push_back(f);
    }
    std::sort(out.begin(), out.end());
    out.erase(std::unique(out.begin(), out.end()), out.end());
    return out;
}

/// Settles it again with those options, and moves apart what touches then. Returns whether all is apart; nothing, and
/// all is as it was, where faces would cross.
Result<std::optional<bool>> apart_after(Settled& settled, const SettlingOptions& options, Effort effort,
                                        Progress& progress) {
    RoundedFaces all = unmoved(settled.mesh, settled.source);
    all.largest_move = settled.largest_move;
    all.thickness = settled.thickness;
    auto tried = settle_faults(std::move(all), {}, options, progress);
    if (!tried) return tried.error();
    if (tried->faulty) return std::optional<bool>();
    settled.mesh = as_mesh(tried->rounded);
    settled.source = std::move(tried->rounded.source);
    settled.thickness = std::move(tried->rounded.thickness);
    settled.largest_move = tried->rounded.largest_move;
    const Pinches left = find_pinches(settled.mesh, progress);
    if (progress.cancelled()) return cancelled_error();
    if (left.empty()) return std::optional(true);
    const auto done = separate(settled, left, options.precision, effort, progress);
    if (!done) return done.error();
    return std::optional(*done);
}

/// Lays skins together that are too thin to be moved apart, farther from try to try; whether all is apart then.
Result<bool> separate_layers(Settled& settled, Precision precision, const Attempt& attempt, Progress& progress) {
    constexpr std::size_t most_corners = 64;  // of a point: all pairs are looked at
    const int flattenings = attempt.flattenings(settled.faulty);
    for (int time = 0; time < flattenings; time += 2) {
        SettlingOptions options{.precision = precision, .first_flattening = time, .flattenings = flattenings};
        const Pinches pinches = find_pinches(settled.mesh, progress);
        for_each_run(
            std::span(pinches.corners), [](const auto& a, const auto& b) { return a.point == b.point; },
            [&](std::span<const Pinches::Corner> here) {
                if (here.size() > most_corners) return;
                for (std::size_t i = 0; i < here.size(); ++i)
                    for (std::size_t j = 0; j < i; ++j)
                        options.layers.emplace_back(here[i].face.value(), here[j].face.value());
            });
        const auto apart = apart_after(settled, options, attempt.effort, progress);
        if (!apart) return apart.error();
        if (apart->value_or(false)) return true;
    }
    return false;
}

/// Puts skins too thin to be moved apart on coarser grids first; whether all is apart then.
Result<bool> separate_on_grids(Settled& settled, Precision precision, Progress& progress) {
    for (int grid = 1; grid < static_cast<int>(grid_bits(precision).size()); grid += 2) {
        const Pinches pinches = find_pinches(settled.mesh, progress);
        const SettlingOptions on_grid{
            .precision = precision, .on_grid = faces_at(pinches, settled.mesh), .first_grid = grid, .stubborn = true};
        const double moved = settled.largest_move;
        const auto apart = apart_after(settled, on_grid, Effort::last, progress);
        if (!apart) return apart.error();
        settled.contact_step = std::max(settled.contact_step, settled.largest_move - moved);
        if (apart->value_or(false)) return true;
    }
    return false;
}

/// Adds small bodies where it touches itself, or takes them away there; whether it touches itself no more.
Result<bool> with_small_bodies(Settled& settled, const Pinches& pinches, Operation operation, Precision precision,
                               Progress& progress) {
    const double reach = reach_of(settled.mesh.points.raw());
    for (double step = reach * 0x1p-18; step < reach * 0x1p-8; step *= 4) {
        const Mesh bodies = bridges(settled.mesh, pinches, step);
        const Mesh* operands[] = {&settled.mesh, &bodies};
        auto arrangement = arrange(operands, progress);
        if (!arrangement) return arrangement.error();
        const CombineStep apply{operation, 1, {}};
        const Extraction applied = extract(*arrangement, std::span(&apply, 1), 0, progress).front();
        if (progress.cancelled()) return cancelled_error();
        auto again = round_and_prove(*arrangement, applied, precision, {Effort::last}, progress);
        if (!again) return again.error();
        if (!again->settled.clean || !again->pinches.empty()) continue;
        std::vector<FaceSource> made_of;
        for (const FaceSource& s : again->settled.source)
            made_of.push_back(s.operand == 0 ? settled.source[s.face.value()] : FaceSource{});
        settled.mesh = std::move(again->settled.mesh);
        settled.source = std::move(made_of);
        settled.largest_move += again->settled.largest_move;
        settled.contact_step = std::max(settled.contact_step, step);
        return true;
    }
    return false;
}

}  // namespace

Result<bool> separate_contacts(Settled& settled, const Pinches& pinches, Precision precision, const Attempt& attempt,
                               Progress& progress) {
    auto done = separate(settled, pinches, precision, attempt.effort, progress);
    if (!done || *done) return done;
    done = separate_layers(settled, precision, attempt, progress);
    if (!done || *done || attempt.effort != Effort::last) return done;
    done = separate_on_grids(settled, precision, progress);
    if (!done || *done) return done;
    // A fan so twisted that no way back is free of crossings: the contact is cut out.
    return with_small_bodies(settled, find_pinches(settled.mesh, progress), Operation::difference, precision, progress);
}

Result<bool> join_contacts(Settled& settled, const Pinches& pinches, Precision precision, const Attempt& attempt,
                           Progress& progress) {
    auto done = with_small_bodies(settled, pinches, Operation::union_of, precision, progress);
    if (!done) return done;
    settled.bridged = *done;
    return *done ? done : separate_contacts(settled, pinches, precision, attempt, progress);
}

}  // namespace anvil
