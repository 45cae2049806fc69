#include "core/job/links.h"

#include <algorithm>
#include <cmath>
#include <set>

#include "core/base/plain_text.h"
#include "core/job/edit_lists.h"
#include "core/job/new_shape.h"
#include "core/spatial/pieces.h"

namespace anvil {
namespace {

bool is_made_of(const Job& job, const std::string& id, std::string_view other, std::set<std::string>& seen) {
    if (id == other) return true;
    const Part* part = job.find_part(id);
    if (!part || !seen.insert(id).second) return false;
    bool found = false;
    auto look = [&](const Use& use, const std::string&) { found = found || is_made_of(job, use.part, other, seen); };
    if (const auto* use = std::get_if<Use>(&part->source)) look(*use, {});
    if (const auto* link = std::get_if<Link>(&part->source); link && !link->as_of)
        found = found || is_made_of(job, link->part, other, seen);
    for_each_use(part->steps, look);
    return found;
}

/// Sets a link, unless its part would be made of itself.
Result<void> follow(Job& job, const std::string& part, Link link) {
    const Part* of = job.find_part(link.part);
    if (!of) return Error{ErrorCode::lost, "what it would follow is not there any more", ""};
    if (!link.as_of && is_made_of(job, link.part, part))
        return Error{ErrorCode::bad_index,
                     in_quotes(job.find_part(part)->name) + " would be made of itself: " + in_quotes(of->name) +
                         " is made of it. Let it follow that up to an earlier step",
                     ""};
    edit_part(job, part, [&](Part& p) { p.source = std::move(link); });
    return {};
}

}  // namespace

std::optional<Steps> steps_up_to(const Steps& steps, std::string_view last) {
    if (last.empty()) return Steps{};
    for (std::size_t k = 0; k < steps.size(); ++k) {
        const bool found = steps[k]->id == last;
        auto inner = found || steps[k]->steps.empty() ? std::nullopt : steps_up_to(steps[k]->steps, last);
        if (!found && !inner) continue;
        Steps out(steps.begin(), steps.begin() + static_cast<long>(k) + 1);
        if (inner) {
            Step group = *out.back();
            group.steps = std::move(*inner);
            out.back() = std::make_shared<const Step>(std::move(group));
        }
        return out;
    }
    return {};
}

std::vector<PieceOf> pieces_of(const Mesh& mesh, const Progress& progress) {
    const Pieces all = find_pieces(mesh, progress);
    const auto count = static_cast<std::uint32_t>(all.pieces.size());
    std::vector<PieceOf> out;
    for (std::uint32_t k = 0; k < count; ++k) out.push_back({k, count, all.pieces[k].middle, all.pieces[k].volume});
    return out;
}

Result<Mesh> piece_like(const PieceOf& wanted, const Mesh& mesh, const Progress& progress) {
    const Pieces all = find_pieces(mesh, progress);
    if (progress.cancelled()) return cancelled_error();
    const double diagonal = norm(bounds(mesh).size());
    // How unlike: by how far it moved, as a part of the whole, and how much larger or smaller it became.
    auto unlike = [&](const Pieces::Piece& piece) {
        const double apart = diagonal > 0 ? norm(piece.middle - wanted.middle) / diagonal : 0;
        const double ratio = piece.volume * wanted.volume > 0 ? std::fabs(std::log(piece.volume / wanted.volume)) : 1;
        return apart + ratio;
    };
    std::vector<std::pair<double, std::uint32_t>> by_likeness;
    for (std::uint32_t k = 0; k < all.pieces.size(); ++k) by_likeness.emplace_back(unlike(all.pieces[k]), k);
    std::ranges::sort(by_likeness);
    // As many as there were: the same one may look as it likes, if no other is more like it.
    const bool same_number = !by_likeness.empty() && by_likeness.size() == wanted.count && wanted.count > 1 &&
                             by_likeness.front().second == wanted.number;
    constexpr double too_far = 0.69;  // half as large, or twice
    const bool none = by_likeness.empty() || (by_likeness.front().first > too_far && !same_number);
    const bool unsure = by_likeness.size() > 1 && by_likeness[1].first < 2 * by_likeness[0].first;
    if (none || unsure)
        return Error{ErrorCode::lost,
                     none ? "the piece that it follows is not there any more"
                          : "several pieces could be the one that it follows: choose it again",
                     ""};
    return piece_of(mesh, all, by_likeness.front().second);
}

bool is_made_of(const Job& job, const std::string& id, std::string_view other) {
    std::set<std::string> seen;
    return is_made_of(job, id, other, seen);
}

std::string add_link(Job& job, std::string name, Link link, const Placement& bench) {
    const std::string id = unused_part(job);
    add(job, {.id = id, .name = unused_name(job, name), .source = std::move(link), .bench = bench});
    return id;
}

Link link_to(const Job& job, const Row& row) {
    if (row.is_base()) return {.part = job.work(), .as_of = std::string()};
    if (row.step && row.step->operand) return {.part = row.step->operand->part};
    return row.step ? link_to_stage(row) : Link{.part = row.list->id};
}

Link link_to_stage(const Row& row) { return {.part = row.list->id, .as_of = row.step ? row.step->id : std::string()}; }

void use_copy(Job& job, const std::string& part, std::shared_ptr<const Mesh> body) {
    edit_part(job, part, [&](Part& p) {
        if (const auto* link = std::get_if<Link>(&p.source)) p.source = StoredMesh{std::move(body), *link};
    });
}

Result<void> follow_again(Job& job, const std::string& id) {
    const Part* part = job.find_part(id);
    const auto* stored = part ? std::get_if<StoredMesh>(&part->source) : nullptr;
    if (!stored || !stored->copy_of) return Error{ErrorCode::lost, "it is no copy of another part", ""};
    return follow(job, id, *stored->copy_of);
}

Result<void> follow_as_of(Job& job, const std::string& id, std::optional<std::string> as_of) {
    const Part* part = job.find_part(id);
    const auto* link = part ? std::get_if<Link>(&part->source) : nullptr;
    if (!link) return Error{ErrorCode::lost, "it follows no other part", ""};
    Link next = *link;
    next.as_of = std::move(as_of);
    return follow(job, id, std::move(next));
}

}  // namespace anvil
