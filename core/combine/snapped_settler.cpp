#include "core/combine/snapped_settler.h"

#include <tbb/parallel_for.h>

#include <algorithm>
#include <atomic>

#include "core/arrange/half_edges.h"
#include "core/arrange/operands.h"
#include "core/base/memory.h"
#include "core/combine/clean.h"
#include "core/combine/settle_faults.h"
#include "core/combine/turned.h"

namespace anvil {
namespace {

constexpr double hardly_bent = 1e-6;            // radians
constexpr std::size_t many_sub_faces = 100000;  // of all pieces
/// Faces at faults: so many are not settled one by one where the operands' points nearly coincide.
constexpr std::size_t many_faults = 256;
/// Of the operands' faces: the same in single precision, which has few digits to spare for settling.
constexpr double share_of_faces = 1.0 / 32;

/// The faces that can be reached from others across edges that hardly bend.
std::vector<FaceId> flat_regions(const Operand& operand, std::vector<FaceId> faces) {
    const auto& mesh = operand.mesh;
    auto normal = [&](FaceId f) {
        const Vec3 u = normalized(mesh.corner(f, 1) - mesh.corner(f, 0));
        return normalized(cross(u, normalized(mesh.corner(f, 2) - mesh.corner(f, 0))));
    };
    std::vector<char> reached(mesh.faces.size(), 0);
    for (const FaceId f : faces) reached[f.value()] = 1;
    for (std::size_t i = 0; i < faces.size(); ++i) {
        const FaceId f = faces[i];
        for (std::size_t h = 3 * std::size_t{f.value()}, end = h + 3; h < end; ++h) {
            if (operand.twin[h] == HalfEdges::none) continue;
            const FaceId g(operand.twin[h] / 3);
            if (reached[g.value()] || norm(cross(normal(f), normal(g))) > hardly_bent) continue;
            reached[g.value()] = 1;
            faces.push_back(g);
        }
    }
    return faces;
}

/// Where operands meet nearly everywhere, and the attempt may give up, faces that rounding turns over are told before a
/// piece is cleaned, which takes longer.
bool tells_turned_early(const Arrangement& arrangement, const Attempt& attempt) {
    const std::size_t pairs = arrangement.crossing_pairs() + arrangement.coplanar_pairs();
    return attempt.gives_up && 2 * pairs >= arrangement.soup.face_count();
}

}  // namespace

Result<SettledPieces> settle_each(const Arrangement& arrangement, std::span<const Extraction> pieces,
                                  std::span<const std::uint32_t> drawn, const SettleOptions& options,
                                  const Attempt& attempt, Progress& progress, const std::function<void()>& beside) {
    std::vector<Result<Settled>> settled(pieces.size(), cancelled_error());
    std::atomic<std::size_t> count = pieces.size();  // to the first that was given up, or failed
    const bool early = tells_turned_early(arrangement, attempt);
    const bool none_turned = early && pieces.size() > 1 && none_turned_over(arrangement, options.precision);
    auto settle_one = [&](std::size_t k) {
        if (k >= count || progress.cancelled()) return;
        // An exception would stop the loops within the others half-way, too.
        settled[k] = with_memory_checked([&]() -> Result<Settled> {
            std::vector<FaceSource> turned;
            if (early && !none_turned) turned = turned_over(arrangement, pieces[k], options.precision, most_turned);
            if (!turned.empty() && attempt.gives_up(turned, faults_at_turned(pieces[k], turned.size())))
                return Settled::given_up_at(std::move(turned));
            const Extraction clean = cleaned(arrangement, pieces[k], options.merge_flush, drawn, progress);
            if (progress.cancelled()) return cancelled_error();
            Attempt own = attempt;
            own.none_turned = early && turned.empty() && clean.has_sub_faces();
            own.before = k < options.before.size() ? options.before[k].get() : nullptr;
            own.tells_proven = options.tells_proven;
            return settle(arrangement, clean, options, own, progress);
        });
        if (settled[k] && !settled[k]->given_up) return;
        for (std::size_t known = count; k + 1 < known && !count.compare_exchange_weak(known, k + 1);) {
        }
    };
    std::size_t sub_faces = 0;
    for (const Extraction& piece : pieces) sub_faces += piece.corners.size();
    // Each takes room of its own while it is settled: of large ones, two do so at the same time.
    std::atomic<std::size_t> next = 0;
    const std::size_t jobs = pieces.size() + (beside ? 1 : 0);
    tbb::parallel_for(std::size_t{0}, sub_faces > many_sub_faces ? 2 : jobs, [&](std::size_t) {
        for (std::size_t k; (k = next++) < jobs;)
            if (k < pieces.size())
                settle_one(k);
            else
                beside();
    });
    SettledPieces out;
    for (std::size_t k = 0; k < count; ++k) {
        if (!settled[k]) return settled[k].error();
        out.pieces.push_back(std::move(*settled[k]));
        out.surface = pieces[k].surface;
    }
    return out;
}

SnappedSettler::SnappedSettler(const Arrangement& arrangement, std::span<const CombineStep> steps,
                               std::span<const std::uint32_t> drawn, const SettleOptions& options, Progress& progress)
    : soup_(arrangement.soup),
      steps_(steps),
      drawn_(drawn),
      options_(options),
      progress_(progress),
      reach_(reach_of(arrangement.soup)) {}

std::vector<std::vector<FaceId>> SnappedSettler::own_faces(std::span<const FaceSource> sources) const {
    std::vector<std::vector<char>> given(soup_.size());  // per face as it came in, as far as they are known
    for (const FaceSource& s : sources) {
        if (s.operand >= soup_.size() || !s.face.valid()) continue;
        std::vector<char>& own = given[s.operand];
        if (own.size() <= s.face.value()) own.resize(std::max<std::size_t>(s.face.value() + 1, 2 * own.size()), 0);
        own[s.face.value()] = 1;
    }
    std::vector<std::vector<FaceId>> out(soup_.size());
    for (std::uint32_t o = 0; o < soup_.size(); ++o) {
        if (given[o].empty()) continue;
        const Operand& operand = soup_.operand(o);
        auto is_given = [&](FaceId f) { return f.value() < given[o].size() && given[o][f.value()] != 0; };
        for (const FaceId f : ids<FaceId>(operand.mesh.faces.size()))
            if (is_given(operand.origin[f.value()])) out[o].push_back(f);
        for (const Operand::Copy& copy : operand.copies)
            if (is_given(copy.origin)) out[o].push_back(copy.of);
    }
    return out;
}

void SnappedSettler::note_faults(const SettledPieces& pieces) {
    std::vector<FaceSource> all;
    for (const Settled& piece : pieces.pieces) all.insert(all.end(), piece.faulty.begin(), piece.faulty.end());
    faulty_ = own_faces(all);
    near_.resize(soup_.size());
    for (std::uint32_t o = 0; o < soup_.size(); ++o) {
        const Operand& operand = soup_.operand(o);
        std::vector<char>& near = near_[o];
        near.resize(operand.mesh.points.size(), 0);
        std::vector<char> at_fault(near.size(), 0);
        for (const FaceId f : faulty_[o])
            for (const VertexId v : operand.mesh.faces[f]) at_fault[v.value()] = 1;
        for (const Triangle& t : operand.mesh.faces)
            if (std::ranges::any_of(t, [&](VertexId v) { return at_fault[v.value()] != 0; }))
                for (const VertexId v : t) near[v.value()] = 1;
        for (const FaceId f : flat_regions(operand, faulty_[o]))
            for (const VertexId v : operand.mesh.faces[f]) near[v.value()] = 1;
    }
}

const NearPoints& SnappedSettler::near_points() const {
    std::call_once(near_points_made_, [&] { near_points_.emplace(soup_); });
    return *near_points_;
}

bool SnappedSettler::nearly_coincide_at(std::span<const FaceSource> faces, std::size_t faults) const {
    const std::vector<std::vector<FaceId>> own = own_faces(faces);
    const double distance = distance_at(own);
    if (!(distance > 0)) return false;
    if (distance <= a_few_digits(reach_, options_.precision) || faults > many_faults) return true;
    std::size_t faulty = 0;
    for (const auto& of_operand : own) faulty += of_operand.size();
    return options_.precision == Precision::single_precision &&
           static_cast<double>(faulty) > share_of_faces * static_cast<double>(soup_.face_count());
}

/// Every operand with its points where `to(operand, point)` says.
template <class To>
std::vector<SnappedSettler::Snapped> SnappedSettler::snapped(const To& to) const {
    std::vector<Snapped> out;
    for (std::uint32_t o = 0; o < soup_.size(); ++o) {
        Operand::Whole whole = soup_.operand(o).whole();
        Snapped& snapped = out.emplace_back(Snapped{std::move(whole.mesh), std::move(whole.origin)});
        for (const VertexId v : ids<VertexId>(soup_.operand(o).mesh.points.size())) {
            Vec3& p = snapped.mesh.points[v];
            const Vec3 q = to(o, v);
            snapped.moved = snapped.moved || !(p == q);
            snapped.largest_move = std::max(snapped.largest_move, norm(q - p));
            p = q;
        }
    }
    return out;
}

SnappedSettler::Tried SnappedSettler::rounded() const {
    return settled(
        snapped([&](std::uint32_t o, VertexId v) { return in_single_precision(soup_.operand(o).mesh.points[v]); }),
        Effort::full);
}

double SnappedSettler::merge_distance() const {
    const double at_faults = distance_at(faulty_);
    if (!(at_faults > 0)) return 0;
    const double distance =
        std::min(std::max({at_faults, a_few_digits(reach_, options_.precision), 16 * merged_}), farthest());
    return distance > merged_ ? distance : 0;
}

SnappedSettler::Tried SnappedSettler::merged() {
    const double distance = merge_distance();
    if (!(distance > 0)) return std::optional<SettledPieces>();
    merged_ = distance;
    const auto points = near_points().merged(distance, options_.precision, progress_);
    if (progress_.cancelled()) return cancelled_error();
    return settled(snapped([&](std::uint32_t o, VertexId v) { return points[o][v.value()]; }), Effort::full);
}

double SnappedSettler::grid_step(int bits) const { return grid_for(reach_, bits); }

SnappedSettler::Tried SnappedSettler::on_grid(int bits) const {
    const double grid = grid_step(bits);
    if (!(grid > 0)) return std::optional<SettledPieces>();
    const bool single = options_.precision == Precision::single_precision;
    return settled(snapped([&](std::uint32_t o, VertexId v) {
                       const Vec3& p = soup_.operand(o).mesh.points[v];
                       const Vec3 q = near_[o][v.value()] ? anvil::on_grid(p, grid) : p;
                       return single ? in_single_precision(q) : q;
                   }),
                   // It has no digits to spare for coarser grids: what does not settle here hardly will there.
                   single ? Effort::last : Effort::full);
}

SnappedSettler::Tried SnappedSettler::settled(std::span<const Snapped> operands, Effort effort) const {
    auto again = arranged(operands);
    if (!again && again.error().is_cancel()) return again.error();
    if (!again) return std::optional<SettledPieces>();
    const std::vector<Extraction> pieces = extract(*again, steps_, 0, progress_);
    if (progress_.cancelled()) return cancelled_error();
    auto settled = settle_each(*again, pieces, drawn_, options_, {effort}, progress_);
    if (!settled) return settled.error();
    for (Settled& piece : settled->pieces) trace_back(operands, piece);
    return std::optional(std::move(*settled));
}

Result<Arrangement> SnappedSettler::arranged(std::span<const Snapped> operands) const {
    auto ready = all_of(make_operands(soup_.size(), [&](std::size_t o) -> MadeOperand {
        const auto& given = soup_.operands()[o];
        if (!operands[o].moved) return given;
        return make_operand(operands[o].mesh, given->sheet ? Taken::as_surface : Taken::repaired, progress_);
    }));
    if (!ready) return ready.error();
    return arrange(std::move(*ready), progress_);
}

void SnappedSettler::trace_back(std::span<const Snapped> operands, Settled& piece) const {
    double moved = 0;
    for (const Snapped& own : operands) moved = std::max(moved, own.largest_move);
    piece.largest_move += moved;
    for (auto* list : {&piece.source, &piece.faulty})
        for (FaceSource& s : *list)
            if (s.operand < soup_.size() && s.face.valid() && operands[s.operand].moved)
                s.face = operands[s.operand].origin[s.face.value()];
}

}  // namespace anvil
