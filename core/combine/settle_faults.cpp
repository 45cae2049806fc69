#include "core/combine/settle_faults.h"

#include <algorithm>
#include <map>
#include <set>

#include "core/arrange/wings.h"
#include "core/combine/enclosed.h"
#include "core/combine/flat_layers.h"
#include "core/combine/split_faces.h"
#include "core/mesh/disjoint_sets.h"

namespace anvil {
namespace {

constexpr int most_rounds = 60;
/// How many rounds a cluster is split and rounded plainly, and then put on each grid, before the next one.
constexpr int unknown_turn = 2;
constexpr int plain_rounds = 2, rounds_on_grid = 8;

/// Faces at faults that hang together, sorted.
struct Cluster {
    std::vector<std::uint32_t> faces;
    int age = 0;                                                   ///< for how many rounds there were faults here
    int flattened = 0;                                             ///< how often layers here were laid together
    std::vector<std::pair<std::uint32_t, std::uint32_t>> pairs{};  ///< of faces that meet

    bool is_dense() const { return pairs.size() > 4 * faces.size(); }
    /// About, of parts that its faces fall into: the lines on a face, one for each that it meets, may all cross.
    std::size_t expected_parts() const {
        std::map<std::uint32_t, std::size_t> lines;
        for (const auto& [f, g] : pairs) ++lines[f], ++lines[g];
        std::size_t out = 0;
        for (const auto& [f, n] : lines) out += n * n / 2;
        return out;
    }
    bool is_hopeless() const { return (age > 0 && is_dense()) || age >= plain_rounds + 3 * rounds_on_grid; }
};

class FaultSettler {
  public:
    FaultSettler(RoundedFaces rounded, const SettlingOptions& options, Progress& progress)
        : options_(options),
          progress_(progress),
          reach_(reach_of(rounded.points)),
          live_(std::move(rounded)),
          most_faces_(2 * live_.size() + 5000) {}

    /// Returns whether all faults are settled.
    Result<bool> run(Faults faults) {
        for (const std::uint32_t f : options_.on_grid)
            for (const VertexId v : live_.face(f).corners)
                grow_to(v, plain_rounds + options_.first_grid * rounds_on_grid);
        std::vector<std::uint32_t> also = options_.on_grid;  // faces to settle besides
        if (!options_.layers.empty()) {
            const auto done = flatten(options_.layers, options_.first_flattening, 1, 1);
            if (!done) return done.error();
            const std::size_t few = 4 * options_.layers.size();
            if (!live_.find_faults(faults, few, progress_)) return cancelled_error();
            if (faults.pairs.size() > few) return false;  // worse than what was to be mended
        }
        const std::size_t enough = 2 * faults.pairs.size() + 2000;
        while (!(faults.empty() && also.empty())) {
            // Where layers lie on each other over whole regions, rounding makes faults faster than they are settled.
            if (rounds_ == most_rounds || faults.pairs.size() > enough) return false;
            if (live_.alive_count() > most_faces_) return false;
            ++rounds_;
            const std::vector<Cluster> all = clusters(faults, also);
            if (!options_.stubborn && std::ranges::any_of(all, [&](const Cluster& c) {
                    return (c.is_hopeless() || c.expected_parts() > far_too_many()) && !can_flatten(c);
                }))
                return false;
            const std::size_t known = live_.size();
            also.clear();
            for (const Cluster& cluster : all) {
                // What borders on it and is new may cross it, too: that is looked for first.
                if (!borders_on_new(cluster, known))
                    if (const auto done = settle(cluster); !done) return done.error();
                for (const std::uint32_t f : cluster.faces) live_.look_again(f);
            }
            live_.drop_thin_shells(last_digit(reach_, options_.precision), coarsest_,
                                   [&](VertexId v) { return age(v) > plain_rounds; });
            coarsest_ = 0;
            // So many would take minutes to look at: a few needles that cross each other everywhere make them.
            if (live_.alive_count() > far_too_many()) return false;
            if (!live_.find_faults(faults, enough, progress_)) return cancelled_error();
        }
        return true;
    }
    RoundedFaces result() && { return std::move(live_).result(); }
    int rounds() const { return rounds_; }

  private:
    bool can_flatten(const Cluster& cluster) const {
        return !options_.surface && cluster.flattened < options_.flattenings;
    }
    std::size_t far_too_many() const { return 4 * most_faces_; }
    int age(VertexId v) const { return v.value() < age_.size() ? age_[v.value()] : 0; }
    void grow_to(VertexId v, int age) {
        if (age_.size() <= v.value()) age_.resize(live_.point_count(), 0);
        age_[v.value()] = std::max(age_[v.value()], age);
    }

    /// The faces at faults, and those round faces without area, parted into clusters that share no point.
    std::vector<Cluster> clusters(const Faults& faults, std::span<const std::uint32_t> also) const {
        std::vector<std::uint32_t> faces(also.begin(), also.end());
        for (const auto& [f, g] : faults.pairs) faces.insert(faces.end(), {f, g});
        for (const std::uint32_t f : faults.flat) {
            faces.push_back(f);
            // Splitting these where the face's corners lie on them makes up for it.
            for (const VertexId v : live_.face(f).corners)
                live_.for_each_at(v, [&](std::uint32_t g) { faces.push_back(g); });
        }
        std::sort(faces.begin(), faces.end());
        faces.erase(std::unique(faces.begin(), faces.end()), faces.end());
        auto place = [&](std::uint32_t f) {
            return static_cast<std::uint32_t>(std::lower_bound(faces.begin(), faces.end(), f) - faces.begin());
        };
        DisjointSets sets(faces.size());
        for (const auto& [f, g] : faults.pairs) sets.join(place(f), place(g));
        std::unordered_map<std::uint32_t, std::uint32_t> first_at;
        for (std::uint32_t i = 0; i < faces.size(); ++i)
            for (const VertexId v : live_.face(faces[i]).corners)
                sets.join(first_at.try_emplace(v.value(), i).first->second, i);
        std::vector<std::uint32_t> number;
        std::vector<Cluster> out(sets.number(number));
        for (std::uint32_t i = 0; i < faces.size(); ++i) {
            Cluster& cluster = out[number[i]];
            cluster.faces.push_back(faces[i]);
            for (const VertexId v : live_.face(faces[i]).corners) {
                cluster.age = std::max(cluster.age, age(v));
                if (const auto at = flattened_.find(v.value()); at != flattened_.end())
                    cluster.flattened = std::max(cluster.flattened, at->second);
            }
        }
        for (const auto& pair : faults.pairs) out[number[place(pair.first)]].pairs.push_back(pair);
        return out;
    }

    /// Whether a face at its points is not below the number `known`.
    bool borders_on_new(const Cluster& cluster, std::size_t known) const {
        bool found = false;
        for (const std::uint32_t f : cluster.faces)
            for (const VertexId v : live_.face(f).corners)
                live_.for_each_at(v, [&](std::uint32_t g) { found = found || g >= known; });
        return found;
    }

    Result<void> settle(const Cluster& cluster) {
        std::vector<VertexId> points;
        for (const std::uint32_t f : cluster.faces)
            for (const VertexId v : live_.face(f).corners) points.push_back(v);
        std::sort(points.begin(), points.end());
        points.erase(std::unique(points.begin(), points.end()), points.end());
        const auto bits = grid_bits(options_.precision);
        const int step = (cluster.age - plain_rounds) / rounds_on_grid;
        int next_age = cluster.age + 1;
        // Where layers slid they are laid together at once: splitting them makes more of them. What that leaves is
        // split once, as what never slid is, before regions are laid together as a whole.
        if (can_flatten(cluster) && (cluster.age != 1 || cluster.is_dense())) {
            const int counts = cluster.age > 0 || cluster.is_dense() ? 1 : 0;
            for (const VertexId v : points) note_flattened(v, cluster.flattened + counts);
            const auto done = flatten(cluster.pairs, cluster.flattened, counts, next_age);
            if (!done) return done.error();
            if (*done) return {};
        }
        if (cluster.age >= plain_rounds && step < static_cast<int>(bits.size())) {
            const double grid = grid_for(reach_, bits[static_cast<std::size_t>(step)]);
            coarsest_ = std::max(coarsest_, grid);
            bool moved = false;
            for (const VertexId v : points) {
                const Vec3 to = on_grid(live_.point(v), grid);
                moved = moved || !(to == live_.point(v));
                const VertexId there = live_.move(v, to);
                grow_to(there, next_age);
                note_flattened(there, cluster.flattened);
            }
            if (moved) return {};
            next_age = plain_rounds + (step + 1) * rounds_on_grid;
            // So dense a heap would fall into many times as many faces: a coarser grid makes it fewer instead.
            if (cluster.is_dense() && step + 1 < static_cast<int>(bits.size())) {
                for (const VertexId v : points) grow_to(v, next_age);
                return {};
            }
        }
        for (const VertexId v : points) grow_to(v, next_age);
        return split(cluster, next_age);
    }

    /// Lays layers together that lie on each other but for a few digits. `time`: how often it was done there, `counts`:
    /// 1 where this time counts, too. Returns whether there were any.
    Result<bool> flatten(std::span<const std::pair<std::uint32_t, std::uint32_t>> pairs, int time, int counts,
                         int next_age) {
        const double most = std::ldexp(a_few_digits(reach_, options_.precision), std::min(4 * (time / 2), 7));
        bool any = false;
        PlaneGrid grid{grid_for(reach_, options_.precision == Precision::single_precision ? 24 : 50)};
        if (time % 2 == 1)
            for (const auto& [f, g] : pairs)
                for (const std::uint32_t i : {f, g})
                    for (const VertexId v : live_.face(i).corners) grid.points.insert(v.value());
        std::unordered_set<std::uint32_t> met;
        for (const auto& [f, g] : pairs) {
            if (live_.alive_count() > most_faces_) break;
            if (!live_.alive(f) || !live_.alive(g) || (met.contains(f) && met.contains(g))) continue;
            const FlatRegion region = flat_region_at(live_, f, g, most, time > 0);
            if (region.faces.empty()) continue;
            met.insert(region.faces.begin(), region.faces.end());
            const auto made = flatten_layers(live_, region, grid, options_.precision, progress_);
            if (!made) return made.error();
            any = any || !made->empty();
            for (const VertexId v : *made) grow_to(v, next_age), note_flattened(v, time + counts);
        }
        return any;
    }
    void note_flattened(VertexId v, int times) {
        int& known = flattened_[v.value()];
        known = std::max(known, times);
    }

    Vec3 rounded(const Vec3& p) const {
        return options_.precision == Precision::single_precision ? in_single_precision(p) : p;
    }

    /// Some of the faces as a mesh of their own.
    struct Excerpt {
        Mesh mesh;
        std::vector<std::uint32_t> given{};                    ///< per face of `mesh`
        std::unordered_map<std::uint32_t, VertexId> number{};  ///< of points
    };
    void add(std::uint32_t f, Excerpt& to) const {
        Triangle t = live_.face(f).corners;
        for (VertexId& v : t) {
            const auto [at, is_new] = to.number.try_emplace(v.value(), VertexId(to.mesh.points.size()));
            if (is_new) to.mesh.points.push_back(live_.point(v));
            v = at->second;
        }
        to.mesh.faces.push_back(t);
        to.given.push_back(f);
    }

    /// Splits the faces of a cluster along their crossings, and rounds the new points.
    Result<void> split(const Cluster& cluster, int next_age) {
        Excerpt excerpt;
        double moved = 0;
        for (const std::uint32_t f : cluster.faces) {
            if (!live_.alive(f)) continue;
            add(f, excerpt);
            for (const VertexId v : live_.face(f).corners) moved = std::max(moved, live_.moved(v));
        }
        if (excerpt.given.empty()) return {};
        const std::size_t own = excerpt.given.size();
        if (!options_.surface) add_ring(excerpt);
        const std::vector<std::uint32_t>& given = excerpt.given;
        auto split = split_faces(excerpt.mesh, progress_);
        if (!split) return split.error();
        if (!*split) return {};
        std::vector<int> turns;
        if (!options_.surface) turns = boundary_of(**split, given, own);
        if (progress_.cancelled()) return cancelled_error();
        replace(**split, given, turns, moved, next_age);
        return {};
    }

    /// Adds the faces that share an edge with those of a cluster.
    void add_ring(Excerpt& excerpt) const {
        const std::vector<std::uint32_t>& given = excerpt.given;
        std::set<std::uint32_t> here(given.begin(), given.end()), ring;
        for (const std::uint32_t f : given) {
            const Triangle t = live_.face(f).corners;
            for (std::size_t k = 0; k < 3; ++k)
                live_.for_each_along(t[k], t[(k + 1) % 3], [&](std::uint32_t g) {
                    if (!here.contains(g)) ring.insert(g);
                });
        }
        for (const std::uint32_t f : ring) add(f, excerpt);
    }

    /// Per part, how it bounds what the cluster encloses: 1 as it is, -1 turned over, 0 not; `unknown_turn` where that
    /// cannot be told. Winding numbers are known at the faces round the cluster, and spread from there over the sides
    /// that look into the same wedge at an edge.
    std::vector<int> boundary_of(const SplitFaces& split, std::span<const std::uint32_t> given, std::size_t own) const {
        const SubFaces& parts = split.parts;
        const std::vector<Wing> wings = find_wings(split.soup, split.points, split.active, parts, Patches(), progress_);
        DisjointSets sides(2 * parts.size());
        for_each_run(std::span<const Wing>(wings), same_edge, [&](std::span<const Wing> here) {
            for (std::size_t i = 0; here.size() > 1 && i < here.size(); ++i)
                sides.join(here[i].side_ahead(), here[(i + 1) % here.size()].side_behind());
        });
        std::vector<std::uint32_t> cell;
        const std::uint32_t cells = sides.number(cell);
        std::vector<int> jump(parts.size(), 0);  // what the winding number grows by from a part's front to its back
        std::vector<std::vector<std::uint32_t>> at_cell(cells);
        std::vector<std::optional<int>> winding(cells);
        std::vector<std::uint32_t> stack;
        bool sound = true;
        auto tell = [&](std::uint32_t c, int w) {
            if (winding[c])
                sound = sound && *winding[c] == w;
            else
                winding[c] = w, stack.push_back(c);
        };
        for (std::uint32_t p = 0; p < parts.size(); ++p) {
            for (const FaceSource& s : parts.sources[parts.source[p]]) {
                const int times = live_.face(given[s.face.value()]).times;
                jump[p] += s.reversed ? -times : times;
            }
            at_cell[cell[2 * p]].push_back(p);
            at_cell[cell[2 * p + 1]].push_back(p);
        }
        auto is_ring = [&](std::uint32_t p) {
            return std::ranges::any_of(parts.sources[parts.source[p]],
                                       [&](const FaceSource& s) { return s.face.value() >= own; });
        };
        for (std::uint32_t p = 0; p < parts.size(); ++p)
            if (is_ring(p) && std::abs(jump[p]) == 1) {
                tell(cell[2 * p], jump[p] > 0 ? 0 : 1);
                tell(cell[2 * p + 1], jump[p] > 0 ? 1 : 0);
            }
        while (!stack.empty()) {
            const std::uint32_t c = stack.back();
            stack.pop_back();
            for (const std::uint32_t p : at_cell[c]) {
                if (cell[2 * p] == c) tell(cell[2 * p + 1], *winding[c] + jump[p]);
                if (cell[2 * p + 1] == c) tell(cell[2 * p], *winding[c] - jump[p]);
            }
        }
        std::vector<int> out(parts.size(), unknown_turn);
        for (std::uint32_t p = 0; p < parts.size(); ++p) {
            const auto &front = winding[cell[2 * p]], &back = winding[cell[2 * p + 1]];
            if (!front || !back) continue;
            out[p] = (*back > 0) - (*front > 0);
            // The ring has to stay, since what lies beyond it does.
            if (is_ring(p)) sound = sound && out[p] == jump[p];
        }
        if (!sound) out.assign(parts.size(), unknown_turn);
        return out;
    }

    void replace(const SplitFaces& split, std::span<const std::uint32_t> given, std::span<const int> turns,
                 double moved, int age) {
        const Operand& operand = split.operand();
        const PointTable& points = split.points;
        const SubFaces& parts = split.parts;
        std::vector<char> in_operand(given.size(), 0);
        for (const FaceId f : operand.origin) in_operand[f.value()] = 1;
        for (std::size_t i = 0; i < given.size(); ++i)
            if (!in_operand[i]) live_.remove(given[i]);  // without area
        std::unordered_map<std::uint32_t, VertexId> number;
        auto live_point = [&](VertexId v) {
            const auto [at, is_new] = number.try_emplace(v.value(), VertexId());
            if (is_new) {
                const Vec3 exact = points.approx(v);
                const Vec3 p = points.is_input(v) ? exact : rounded(exact);
                at->second = live_.point_at(p, points.is_input(v) ? 0 : moved + norm(p - exact) + last_place(exact));
                grow_to(at->second, age);
            }
            return at->second;
        };
        // All parts are worked out before the first face goes: a face that was not split stays as it is.
        std::vector<LiveFaces::Face> made;
        std::vector<char> stays(given.size(), 0);
        for (std::size_t p = 0; p < parts.size(); ++p) {
            const auto sources = parts.sources[parts.source[p]];
            LiveFaces::Face face;
            face.times = 0;
            for (const FaceSource& s : sources) {
                const LiveFaces::Face of = live_.face(given[s.face.value()]);
                face.times += s.reversed ? -of.times : of.times;
            }
            for (std::size_t k = 0; k < 3; ++k) face.corners[k] = live_point(parts.corners[p][k]);
            if (!turns.empty() && turns[p] != unknown_turn) face.times = turns[p];
            const FaceSource& s = sources.front();
            const std::uint32_t whole = given[s.face.value()];
            face.source = live_.face(whole).source;
            face.source.reversed = face.source.reversed != s.reversed;
            if (sources.size() == 1 && same_set(face.corners, live_.face(whole).corners) &&
                face.times == (s.reversed ? -1 : 1) * live_.face(whole).times) {
                stays[s.face.value()] = 1;
                continue;
            }
            if (face.times != 0) made.push_back(face);
        }
        for (const FaceId f : split.active.faces) {
            const FaceId own = operand.origin[f.value()];
            if (!stays[own.value()]) live_.remove(given[own.value()]);
        }
        for (const LiveFaces::Face& face : made) live_.add(face);
    }
    /// mm, that rounding to doubles moves a point at most.
    static double last_place(const Vec3& p) { return largest_component(p) * 0x1p-52; }

    const SettlingOptions& options_;
    Progress& progress_;
    double reach_;
    LiveFaces live_;
    std::size_t most_faces_;                            // with more, they fall apart faster than they settle
    std::vector<int> age_;                              // per point, as far as they have one
    std::unordered_map<std::uint32_t, int> flattened_;  // per point, how often layers there were laid together
    int rounds_ = 0;
    double coarsest_ = 0;  // mm, of the grids of this round
};

}  // namespace

std::span<const int> grid_bits(Precision precision) {
    static constexpr int single[] = {22, 20, 18, 16, 14, 12}, twice[] = {44, 40, 36, 32, 28, 24, 20, 16};
    return precision == Precision::single_precision ? std::span<const int>(single) : std::span<const int>(twice);
}

double grid_for(double reach, int bits) { return reach > 0 ? std::ldexp(1.0, std::ilogb(reach) + 1 - bits) : 0; }

Result<SettledFaces> settle_faults(RoundedFaces rounded, const Faults& faults, const SettlingOptions& options,
                                   Progress& progress) {
    SettledFaces out;
    {
        FaultSettler settler(std::move(rounded), options, progress);
        if (progress.cancelled()) return cancelled_error();
        const auto settled = settler.run(faults);
        if (!settled) return settled.error();
        out.rounds = settler.rounds();
        out.rounded = std::move(settler).result();
        out.faulty = !*settled;
    }
    if (progress.cancelled()) return cancelled_error();
    if (out.faulty || options.surface) return out;
    const auto encloses = keep_enclosed(out.rounded, options.precision, progress);
    if (!encloses) return encloses.error();
    out.faulty = !*encloses;
    return out;
}

}  // namespace anvil
