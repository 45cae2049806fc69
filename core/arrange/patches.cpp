#include "core/arrange/patches.h"

#include <tbb/parallel_for.h>

#include "core/arrange/half_edges.h"
#include "core/mesh/disjoint_sets.h"

namespace anvil {
namespace {

/// The patches of one operand, numbered from 0.
struct OwnPatches {
    std::vector<Patches::Patch> list;
    Patches::OperandPart part;
};

/// Floods outward from the active faces of one shell, a front from each neighbour of an active face, in turns. Fronts
/// that meet become one. When all but one front have run out, the rest of the shell belongs to that one and need not
/// be walked.
class ShellFlood {
  public:
    ShellFlood(const Operand& operand, std::vector<std::uint32_t>& front_of) : operand_(operand), front_of_(front_of) {}

    void seed(std::uint32_t face) {
        if (front_of_[face] != Patches::none) return;
        front_of_[face] = static_cast<std::uint32_t>(fronts_.size());
        fronts_.push_back({{face}, {face}, 0});
    }

    /// `in_patch(face)` says whether a face is not active.
    template <class InPatch>
    void run(const InPatch& in_patch) {
        sets_ = DisjointSets(fronts_.size());
        std::vector<std::uint32_t> alive(fronts_.size());
        for (std::uint32_t i = 0; i < alive.size(); ++i) alive[i] = i;
        constexpr int stride = 16;
        while (alive.size() > 1) {
            // A front that has run out has all its neighbours, so none can meet it later.
            std::size_t kept = 0;
            for (const std::uint32_t front : alive) {
                if (sets_.find(front) != front) continue;
                for (int step = 0; step < stride; ++step) advance(sets_.find(front), in_patch);
                if (sets_.find(front) == front && !fronts_[front].run_out()) alive[kept++] = front;
            }
            alive.resize(kept);
        }
        rest_ = alive.empty() ? Patches::none : alive.front();
    }

    std::uint32_t count() const { return static_cast<std::uint32_t>(fronts_.size()); }
    bool is_root(std::uint32_t front) { return sets_.find(front) == front; }
    const std::vector<std::uint32_t>& reached(std::uint32_t root) const { return fronts_[root].reached; }
    /// The front to which all faces belong that were not reached; none where all were.
    std::uint32_t rest() const { return rest_; }

  private:
    struct Front {
        std::vector<std::uint32_t> reached;
        // Nearest first: else fronts side by side would pass each other, and walk far before they meet.
        std::vector<std::uint32_t> waiting;
        std::size_t next = 0;
        bool run_out() const { return next == waiting.size(); }
    };

    template <class InPatch>
    void advance(std::uint32_t front, const InPatch& in_patch) {
        if (fronts_[front].run_out()) return;
        const std::uint32_t face = fronts_[front].waiting[fronts_[front].next++];
        for (std::uint32_t h = 3 * face; h < 3 * face + 3; ++h) {
            if (operand_.twin[h] == HalfEdges::none) continue;
            const std::uint32_t other = operand_.twin[h] / 3;
            if (!in_patch(other)) continue;
            if (front_of_[other] == Patches::none) {
                front_of_[other] = front;
                fronts_[front].reached.push_back(other);
                fronts_[front].waiting.push_back(other);
            } else if (const std::uint32_t met = sets_.find(front_of_[other]); met != front) {
                front = join(front, met);
            }
        }
    }

    std::uint32_t join(std::uint32_t a, std::uint32_t b) {
        sets_.join(a, b);
        const std::uint32_t into = sets_.find(a), from = into == a ? b : a;
        Front &to = fronts_[into], &what = fronts_[from];
        if (what.reached.size() > to.reached.size()) to.reached.swap(what.reached);
        to.reached.insert(to.reached.end(), what.reached.begin(), what.reached.end());
        if (what.waiting.size() - what.next > to.waiting.size() - to.next) {
            to.waiting.swap(what.waiting);
            std::swap(to.next, what.next);
        }
        to.waiting.insert(to.waiting.end(), what.waiting.begin() + static_cast<long>(what.next), what.waiting.end());
        what = {};
        return into;
    }

    const Operand& operand_;
    std::vector<std::uint32_t>& front_of_;
    std::vector<Front> fronts_;
    DisjointSets sets_{0};
    std::uint32_t rest_ = Patches::none;
};

OwnPatches find_own(const Soup& soup, const ActiveFaces& active, std::uint32_t o, std::span<const FaceId> own_active) {
    const Operand& operand = soup.operand(o);
    OwnPatches out;
    const std::size_t shells = operand.shell_start.size();
    out.part.rest_of_shell.assign(shells, Patches::none);
    std::vector<std::vector<std::uint32_t>> active_of_shell;
    std::vector<std::uint32_t> order;  // shells with active faces
    if (!own_active.empty()) {
        std::vector<std::uint32_t> place(shells, Patches::none);
        for (FaceId f : own_active) {
            const std::uint32_t own = soup.own(o, f).value(), shell = operand.shell[own];
            if (place[shell] == Patches::none) {
                place[shell] = static_cast<std::uint32_t>(order.size());
                order.push_back(shell);
                active_of_shell.emplace_back();
            }
            active_of_shell[place[shell]].push_back(own);
        }
        out.part.label.assign(operand.mesh.faces.size(), Patches::none);
    }
    std::vector<char> has_active(shells, 0);
    auto in_patch = [&](std::uint32_t own) { return !active.contains(soup.global(o, FaceId(own))); };
    for (std::size_t i = 0; i < order.size(); ++i) {
        has_active[order[i]] = 1;
        if (active_of_shell[i].size() == operand.shell_size[order[i]]) continue;
        ShellFlood flood(operand, out.part.label);
        for (std::uint32_t face : active_of_shell[i])
            for (std::uint32_t h = 3 * face; h < 3 * face + 3; ++h)
                if (operand.twin[h] != HalfEdges::none && in_patch(operand.twin[h] / 3))
                    flood.seed(operand.twin[h] / 3);
        flood.run(in_patch);
        // Fronts become patches, in the order of their roots.
        std::size_t reached = 0;
        for (std::uint32_t front = 0; front < flood.count(); ++front) {
            if (!flood.is_root(front)) continue;
            const auto number = static_cast<std::uint32_t>(out.list.size());
            for (std::uint32_t face : flood.reached(front)) out.part.label[face] = number;
            reached += flood.reached(front).size();
            out.list.push_back(
                {o, FaceId(flood.reached(front).front()), static_cast<std::uint32_t>(flood.reached(front).size())});
            if (front == flood.rest()) out.part.rest_of_shell[order[i]] = number;
        }
        if (const std::uint32_t rest = out.part.rest_of_shell[order[i]]; rest != Patches::none)
            out.list[rest].faces +=
                operand.shell_size[order[i]] - static_cast<std::uint32_t>(active_of_shell[i].size() + reached);
    }
    for (std::size_t shell = 0; shell < shells; ++shell) {
        if (has_active[shell]) continue;
        out.part.rest_of_shell[shell] = static_cast<std::uint32_t>(out.list.size());
        out.list.push_back({o, operand.shell_start[shell], operand.shell_size[shell]});
    }
    return out;
}

}  // namespace

Patches find_patches(const Soup& soup, const ActiveFaces& active) {
    std::vector<OwnPatches> own(soup.size());
    tbb::parallel_for(std::uint32_t{0}, soup.size(), [&](std::uint32_t o) {
        const auto from = std::lower_bound(active.faces.begin(), active.faces.end(), soup.global(o, FaceId(0)));
        const auto to =
            std::lower_bound(from, active.faces.end(), soup.global(o, FaceId(soup.operand(o).mesh.faces.size())));
        own[o] = find_own(soup, active, o, std::span(from, to));
    });
    Patches out;
    for (OwnPatches& p : own) {
        const auto offset = static_cast<std::uint32_t>(out.list.size());
        out.list.insert(out.list.end(), p.list.begin(), p.list.end());
        if (offset > 0) {
            for (std::uint32_t& label : p.part.label)
                if (label != Patches::none) label += offset;
            for (std::uint32_t& label : p.part.rest_of_shell)
                if (label != Patches::none) label += offset;
        }
        out.parts.push_back(std::move(p.part));
    }
    return out;
}

}  // namespace anvil
