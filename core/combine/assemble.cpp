#include "core/combine/assemble.h"

#include <tbb/parallel_for.h>

#include <algorithm>
#include <atomic>

namespace anvil {
namespace {

/// A run of one operand's faces, and where those that are kept go.
struct Run {
    std::uint32_t operand, from, to;
    std::size_t kept = 0, place = 0;
    std::vector<std::uint32_t> rim{};  ///< kept faces that have a corner with a dropped one, where that is known
    bool whole() const { return kept == to - from; }
};
constexpr std::uint32_t run_length = 1u << 15;

/// What becomes of an operand's face: 0 dropped (or active), 1 kept, 2 kept and turned over.
class Use {
  public:
    Use(const Arrangement& a, const Extraction& extraction) : a_(a), of_patch_(a.patches.size(), 0) {
        for (const Extraction::Whole& w : extraction.patches) {
            of_patch_[w.patch] = w.turned ? 2 : 1;
            any_[a.patches.list[w.patch].operand] = 1;
        }
    }
    bool any(std::uint32_t operand) const { return any_[operand]; }

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
    std::vector<char> any_ = std::vector<char>(a_.soup.size(), 0);
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
                h = operand.twin[h % 3 == 0 ? h + 2 : h - 1];
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

}  // namespace

Assembled assemble(const Arrangement& a, const Extraction& extraction, const RoundedFaces& rounded) {
    const Soup& soup = a.soup;
    const Use use(a, extraction);
    std::vector<Run> runs;
    for (std::uint32_t o = 0; o < soup.size(); ++o) {
        if (!use.any(o)) continue;
        const auto count = static_cast<std::uint32_t>(soup.operand(o).mesh.faces.size());
        for (std::uint32_t from = 0; from < count; from += run_length)
            runs.push_back({o, from, std::min(count, from + run_length)});
    }

    // Which points are used.
    std::vector<char> used(soup.point_count(), 0);
    for (std::uint32_t o = 0; o < soup.size(); ++o)
        if (use.any(o) && use.mostly_kept(o)) {
            const auto from = used.begin() + soup.global(o, VertexId(0)).value();
            std::fill(from, from + static_cast<long>(soup.operand(o).mesh.points.size()), 1);
        }
    std::vector<std::vector<std::uint32_t>> rims(runs.size());
    tbb::parallel_for(std::size_t{0}, runs.size(), [&](std::size_t i) {
        if (use.mostly_kept(runs[i].operand))
            unmark_dropped(a, use, runs[i], used, rims[i]);
        else
            mark_kept(a, use, runs[i], used);
    });
    share_rims(runs, rims);
    std::vector<char> touched(soup.size(), 0);  // operands that touch others in points where no face is dropped
    a.points.for_each_same_input([&](VertexId v, VertexId same) {
        for (const VertexId x : {v, same})
            if (used[x.value()] == 1) touched[soup.operand_of(x)] = 1;
    });
    for (VertexId v : rounded.input)
        if (v.valid()) used[v.value()] = 1;
    a.points.for_each_same_input([&](VertexId v, VertexId same) {
        if (used[v.value()]) used[same.value()] = 1;
        used[v.value()] = 0;
    });

    Assembled assembled;
    Mesh& out = assembled.mesh;
    std::vector<FaceSource>& source = assembled.source;
    std::vector<std::uint32_t> number(soup.point_count());
    std::size_t points = 0;
    for (std::size_t v = 0; v < used.size(); ++v)
        if (used[v]) number[v] = static_cast<std::uint32_t>(points++);
    a.points.for_each_same_input([&](VertexId v, VertexId same) { number[v.value()] = number[same.value()]; });
    std::size_t fresh = 0;
    for (VertexId v : rounded.input) fresh += !v.valid();
    out.points.raw().resize(points + fresh);
    tbb::parallel_for(std::uint32_t{0}, soup.size(), [&](std::uint32_t o) {
        const auto& own = soup.operand(o).mesh.points.raw();
        const std::uint32_t base = soup.global(o, VertexId(0)).value();
        for (std::uint32_t v = 0; v < own.size(); ++v)
            if (used[base + v]) out.points.raw()[number[base + v]] = own[v];
    });
    std::vector<VertexId> of_rounded;
    for (std::size_t i = 0; i < rounded.points.size(); ++i) {
        if (rounded.input[i].valid()) {
            of_rounded.push_back(VertexId(number[rounded.input[i].value()]));
        } else {
            out.points.raw()[points] = rounded.points[i];
            of_rounded.push_back(VertexId(points++));
        }
    }

    std::vector<char>& may_pinch = assembled.may_pinch.points;
    may_pinch.assign(out.points.size(), 0);
    for (VertexId v : of_rounded) may_pinch[v.value()] = 1;
    auto mark_input = [&](VertexId v) {
        const VertexId same = a.points.same_as(v);
        if (used[same.value()]) may_pinch[number[same.value()]] = 1;
    };
    a.points.for_each_same_input([&](VertexId v, VertexId) { mark_input(v); });
    for (std::uint32_t o = 0; o < soup.size(); ++o)
        for (VertexId v : soup.operand(o).pinched) mark_input(soup.global(o, v));

    std::size_t total = 0;
    for (Run& run : runs) {
        run.place = total;
        total += run.kept;
    }
    auto& faces = out.faces.raw();
    faces.resize(total + rounded.faces.size());
    source.resize(faces.size());
    std::vector<std::vector<FaceId>> at_pinch(runs.size());
    tbb::parallel_for(std::size_t{0}, runs.size(), [&](std::size_t i) {
        const Run& run = runs[i];
        const Operand& operand = soup.operand(run.operand);
        const auto& own = operand.mesh.faces.raw();
        const std::uint32_t* to = &number[soup.global(run.operand, VertexId(0)).value()];
        auto put = [&](std::size_t place, std::uint32_t f, char how) {
            const Triangle& t = own[f];
            const VertexId p(to[t[0].value()]), q(to[t[1].value()]), r(to[t[2].value()]);
            faces[place] = how == 2 ? Triangle{p, r, q} : Triangle{p, q, r};
            source[place] = {run.operand, operand.origin[f], how == 2};
        };
        if (use.mostly_kept(run.operand) && run.whole() && !touched[run.operand]) {
            const char how = use.of_rest(run.operand);
            for (std::uint32_t f = run.from; f < run.to; ++f) put(run.place + (f - run.from), f, how);
            for (const std::uint32_t f : run.rim) at_pinch[i].push_back(FaceId(run.place + (f - run.from)));
            return;
        }
        std::size_t place = run.place;
        use.for_each_kept(run, [&](std::uint32_t f, char how) {
            put(place, f, how);
            if (std::ranges::any_of(faces[place], [&](VertexId v) { return may_pinch[v.value()] != 0; }))
                at_pinch[i].push_back(FaceId(place));
            ++place;
        });
    });
    for (std::size_t f = 0; f < rounded.faces.size(); ++f) {
        const Triangle& t = rounded.faces[f];
        faces[total + f] = {of_rounded[t[0].value()], of_rounded[t[1].value()], of_rounded[t[2].value()]};
        source[total + f] = rounded.source[f];
    }
    for (const auto& list : at_pinch) assembled.may_pinch.faces.insert(assembled.may_pinch.faces.end(), list.begin(), list.end());
    for (std::size_t f = total; f < faces.size(); ++f) assembled.may_pinch.faces.push_back(FaceId(f));
    return assembled;
}

}  // namespace anvil
