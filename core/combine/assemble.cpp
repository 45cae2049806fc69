#include "core/combine/assemble.h"

#include <tbb/parallel_for.h>
#include <tbb/parallel_invoke.h>

#include <algorithm>
#include <atomic>

namespace anvil {
namespace {

/// A run of one operand's faces, and where those that are kept go.
struct Run {
    std::uint32_t operand, from, to;
    std::size_t kept = 0;
    std::vector<std::uint32_t> rim{};  ///< kept faces that have a corner with a dropped one, where that is known
    bool whole() const { return kept == to - from; }
};
constexpr std::uint32_t run_length = 1u << 15;

/// What becomes of an operand's face: 0 dropped (or active), 1 kept, 2 kept and turned over.
class Use {
  public:
    Use(const Arrangement& a, const Extraction& extraction) : a_(a), of_patch_(a.patches.size(), 0) {
        for (const Extraction::Whole& w : extraction.patches) {
            const Patches::Patch& patch = a.patches.list[w.patch];
            of_patch_[w.patch] = w.turned ? 2 : 1;
            kept_[patch.operand] += patch.faces;
        }
    }
    bool any(std::uint32_t operand) const { return kept_[operand] > 0; }

    /// Whether a face of an operand that is mostly kept is dropped, or active.
    auto dropped(std::uint32_t operand) const {
        const std::uint32_t* active = &a_.active.index_of[a_.soup.global(operand, FaceId(0)).value()];
        const auto& label = a_.patches.parts[operand].label;
        return [this, active, label = label.empty() ? nullptr : label.data()](std::uint32_t own) {
            if (active[own] != ActiveFaces::none) return true;
            return label && label[own] != Patches::none && !of_patch_[label[own]];
        };
    }
    /// Whether nearly all of an operand is kept, and each point's faces can be walked round.
    bool mostly_kept(std::uint32_t operand) const {
        const Operand& own = a_.soup.operand(operand);
        if (own.shell_start.size() != 1 || !own.irregular.empty() || !own.pinched.empty()) return false;
        if (kept_[operand] < own.mesh.faces.size() / 8 * 7) return false;
        const std::uint32_t rest = a_.patches.parts[operand].rest_of_shell[0];
        return rest != Patches::none && of_patch_[rest];
    }

    /// What becomes of the faces that such an operand keeps.
    char of_rest(std::uint32_t operand) const { return of_patch_[a_.patches.parts[operand].rest_of_shell[0]]; }

    /// Calls visit(own face, use) for every kept face of a run.
    template <class Visit>
    void for_each_kept(const Run& run, const Visit& visit) const {
        const Operand& operand = a_.soup.operand(run.operand);
        const Patches::OperandPart& part = a_.patches.parts[run.operand];
        const std::uint32_t base = a_.soup.global(run.operand, FaceId(0)).value();
        for (std::uint32_t f = run.from; f < run.to; ++f) {
            if (a_.active.index_of[base + f] != ActiveFaces::none) continue;
            std::uint32_t patch = part.label.empty() ? Patches::none : part.label[f];
            if (patch == Patches::none) patch = part.rest_of_shell[operand.shell[f]];
            if (const char use = of_patch_[patch]) visit(f, use);
        }
    }

  private:
    const Arrangement& a_;
    std::vector<char> of_patch_;
    std::vector<std::size_t> kept_ = std::vector<std::size_t>(a_.soup.size(), 0);  // faces, per operand
};

/// Marks the points of a run's kept faces; every point is marked from any thread, always with the same mark.
void mark_kept(const Arrangement& a, const Use& use, Run& run, std::vector<char>& used) {
    const auto& faces = a.soup.operand(run.operand).mesh.faces.raw();
    const std::uint32_t base = a.soup.global(run.operand, VertexId(0)).value();
    use.for_each_kept(run, [&](std::uint32_t f, char) {
        ++run.kept;
        for (VertexId v : faces[f]) std::atomic_ref<char>(used[base + v.value()]).store(1, std::memory_order_relaxed);
    });
}

/// A point that is used by kept faces and by dropped ones.
constexpr char at_dropped = 2;

/// The other way round, where nearly all faces are kept and all points are marked: takes the marks off those round
/// which no face is kept, and finds the kept ones round the others. Only points of dropped faces are looked at.
void unmark_dropped(const Arrangement& a, const Use& use, Run& run, std::vector<char>& used,
                    std::vector<std::uint32_t>& rim) {
    const Operand& operand = a.soup.operand(run.operand);
    const std::uint32_t base = a.soup.global(run.operand, VertexId(0)).value();
    const auto dropped = use.dropped(run.operand);
    run.kept = run.to - run.from;
    for (std::uint32_t f = run.from; f < run.to; ++f) {
        if (!dropped(f)) continue;
        --run.kept;
        for (std::uint32_t start = 3 * f; start < 3 * f + 3; ++start) {
            bool kept = false;
            std::uint32_t h = start;  // leaves the point; the next that does lies across the edge that arrives there
            do {
                if (!dropped(h / 3)) {
                    kept = true;
                    rim.push_back(h / 3);
                }
                h = operand.twin[before_in_face(h)];
            } while (h != start);
            const std::uint32_t v = operand.mesh.faces.raw()[f][start % 3].value();
            std::atomic_ref<char>(used[base + v]).store(kept ? at_dropped : 0, std::memory_order_relaxed);
        }
    }
}

/// Gives each run the faces of the rims of all.
void share_rims(std::span<Run> runs, std::span<std::vector<std::uint32_t>> found) {
    for (std::size_t first = 0, next; first < runs.size(); first = next) {
        std::vector<std::uint32_t> rim;
        for (next = first; next < runs.size() && runs[next].operand == runs[first].operand; ++next)
            rim.insert(rim.end(), found[next].begin(), found[next].end());
        std::sort(rim.begin(), rim.end());
        rim.erase(std::unique(rim.begin(), rim.end()), rim.end());
        for (const std::uint32_t f : rim) runs[first + (f - runs[first].from) / run_length].rim.push_back(f);
    }
}

/// The steps of assembling, in their order; see `assemble`.
class Assembler {
  public:
    Assembler(const Arrangement& a, const Extraction& extraction, const RoundedSurface& rounded)
        : a_(a),
          soup_(a.soup),
          rounded_(rounded.faces),
          edges_(rounded.edges),
          use_(a, extraction),
          used_(a.soup.point_count(), 0),
          touched_(a.soup.size(), 0),
          number_(a.soup.point_count()) {
        for (std::uint32_t o = 0; o < soup_.size(); ++o) {
            if (!use_.any(o)) continue;
            const auto count = static_cast<std::uint32_t>(soup_.operand(o).mesh.faces.size());
            for (std::uint32_t from = 0; from < count; from += run_length)
                runs_.push_back({o, from, std::min(count, from + run_length)});
        }
    }

    /// Which points of the operands are used by kept faces.
    void find_used_points() {
        for (std::uint32_t o = 0; o < soup_.size(); ++o)
            if (use_.any(o) && use_.mostly_kept(o)) {
                const auto from = used_.begin() + soup_.global(o, VertexId(0)).value();
                std::fill(from, from + static_cast<long>(soup_.operand(o).mesh.points.size()), 1);
                for (const VertexId v : soup_.operand(o).loose) used_[soup_.global(o, v).value()] = 0;
            }
        std::vector<std::vector<std::uint32_t>> rims(runs_.size());
        tbb::parallel_for(std::size_t{0}, runs_.size(), [&](std::size_t i) {
            if (use_.mostly_kept(runs_[i].operand))
                unmark_dropped(a_, use_, runs_[i], used_, rims[i]);
            else
                mark_kept(a_, use_, runs_[i], used_);
        });
        share_rims(runs_, rims);
    }

    /// Points that sub-faces share with patches, or operands with each other.
    void join_points() {
        auto touch = [&](VertexId v) {
            if (v.valid() && used_[v.value()] == 1) touched_[soup_.operand_of(v)] = 1;
        };
        for (VertexId v : rounded_.input) touch(v);
        a_.points.for_each_same_input([&](VertexId v, VertexId same) { touch(v), touch(same); });
        for (VertexId v : rounded_.input)
            if (v.valid()) used_[v.value()] = 1;
        a_.points.for_each_same_input([&](VertexId v, VertexId same) {
            if (used_[v.value()]) used_[same.value()] = 1;
            used_[v.value()] = 0;
        });
    }

    /// The points of the patches in the order of the soup, then those that only sub-faces have.
    void number_points() {
        for (std::size_t v = 0; v < used_.size(); ++v)
            if (used_[v]) number_[v] = static_cast<std::uint32_t>(points_++);
        a_.points.for_each_same_input([&](VertexId v, VertexId same) { number_[v.value()] = number_[same.value()]; });
        for (const VertexId v : rounded_.input)
            of_rounded_.push_back(VertexId(v.valid() ? number_[v.value()] : points_++));
    }

    void mark_candidates() {
        auto& candidates = out_.may_pinch.points;
        candidates.assign(points_, 0);
        tbb::parallel_for(tbb::blocked_range<std::size_t>(0, of_rounded_.size(), 4096), [&](const auto& range) {
            for (std::size_t i = range.begin(); i != range.end(); ++i)
                candidates[of_rounded_[i].value()] = rounded_.input[i].valid() || !edges_.is_ring(i);
        });
        auto mark_input = [&](VertexId v) {
            const VertexId same = a_.points.same_as(v);
            if (used_[same.value()]) candidates[number_[same.value()]] = 1;
        };
        a_.points.for_each_same_input([&](VertexId v, VertexId) { mark_input(v); });
        for (std::uint32_t o = 0; o < soup_.size(); ++o)
            for (VertexId v : soup_.operand(o).pinched) mark_input(soup_.global(o, v));
    }

    /// The three lists of the result, side by side; each is filled from its beginning, so that nothing is written
    /// twice.
    void fill() {
        std::size_t total = rounded_.faces.size();
        for (const Run& run : runs_) total += run.kept;
        tbb::parallel_invoke([&] { fill_faces(total); }, [&] { fill_points(), fill_sources(total); });
    }

    Assembled take() { return std::move(out_); }

  private:
    void fill_points() {
        auto& points = out_.mesh.points.raw();
        points.reserve(points_);
        for (std::uint32_t o = 0; o < soup_.size(); ++o) {
            const auto& own = soup_.operand(o).mesh.points.raw();
            const char* used = &used_[soup_.global(o, VertexId(0)).value()];
            for (std::size_t v = 0; v < own.size(); ++v)
                if (used[v]) points.push_back(own[v]);
        }
        for (std::size_t i = 0; i < rounded_.points.size(); ++i)
            if (!rounded_.input[i].valid()) points.push_back(rounded_.points[i]);
    }

    /// Calls visit(own face, use) for every kept face of a run.
    template <class Visit>
    void for_each_kept(const Run& run, const Visit& visit) const {
        if (!use_.mostly_kept(run.operand) || !run.whole()) return use_.for_each_kept(run, visit);
        const char how = use_.of_rest(run.operand);
        for (std::uint32_t f = run.from; f < run.to; ++f) visit(f, how);
    }

    /// The faces of the patches, run by run, then the sub-faces.
    void fill_faces(std::size_t total) {
        auto& faces = out_.mesh.faces.raw();
        auto& at_pinch = out_.may_pinch.faces;
        const auto& candidates = out_.may_pinch.points;
        faces.reserve(total);
        for (const Run& run : runs_) {
            const auto& own = soup_.operand(run.operand).mesh.faces.raw();
            const std::uint32_t* to = &number_[soup_.global(run.operand, VertexId(0)).value()];
            // Where all faces of a run stay, those at candidates are known.
            const bool known = use_.mostly_kept(run.operand) && run.whole() && !touched_[run.operand];
            if (known)
                for (const std::uint32_t f : run.rim) at_pinch.push_back(FaceId(faces.size() + (f - run.from)));
            for_each_kept(run, [&](std::uint32_t f, char how) {
                const Triangle& t = own[f];
                const VertexId p(to[t[0].value()]), q(to[t[1].value()]), r(to[t[2].value()]);
                if (!known && (candidates[p.value()] || candidates[q.value()] || candidates[r.value()]))
                    at_pinch.push_back(FaceId(faces.size()));
                faces.push_back(how == 2 ? Triangle{p, r, q} : Triangle{p, q, r});
            });
        }
        for (const Triangle& t : rounded_.faces) {
            const Triangle own{of_rounded_[t[0].value()], of_rounded_[t[1].value()], of_rounded_[t[2].value()]};
            if (std::ranges::any_of(own, [&](VertexId v) { return candidates[v.value()] != 0; }))
                at_pinch.push_back(FaceId(faces.size()));
            faces.push_back(own);
        }
    }

    void fill_sources(std::size_t total) {
        out_.source.reserve(total);
        for (const Run& run : runs_) {
            const auto& origin = soup_.operand(run.operand).origin;
            for_each_kept(run, [&](std::uint32_t f, char how) {
                out_.source.push_back({run.operand, origin[f], how == 2});
            });
        }
        out_.source.insert(out_.source.end(), rounded_.source.begin(), rounded_.source.end());
    }

    const Arrangement& a_;
    const Soup& soup_;
    const RoundedFaces& rounded_;
    const HalfEdges& edges_;
    Use use_;
    std::vector<Run> runs_;
    std::vector<char> used_;             // per point of the soup
    std::vector<char> touched_;          // per operand: it touches others in points at which no face is dropped
    std::vector<std::uint32_t> number_;  // per used point of the soup: its number in the result
    std::size_t points_ = 0;             // of the result
    std::vector<VertexId> of_rounded_;   // per rounded point: the same
    Assembled out_;
};

}  // namespace

Assembled assemble(const Arrangement& a, const Extraction& extraction, const RoundedSurface& rounded) {
    Assembler assembler(a, extraction, rounded);
    assembler.find_used_points();
    assembler.join_points();
    assembler.number_points();
    assembler.mark_candidates();
    assembler.fill();
    return assembler.take();
}

}  // namespace anvil
