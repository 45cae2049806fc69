#include "core/job/endless.h"

#include "core/cut/half_space_at.h"
#include "core/job/kept_bytes.h"
#include "core/mesh/measures.h"

namespace anvil {

const Kind* endless_shape(const Job& job, std::string_view id) {
    constexpr int deepest = 64;
    const Part* part = job.find_part(id);
    for (int k = 0; part && k < deepest; ++k) {
        if (const auto* shape = std::get_if<Shape>(&part->source)) {
            const Kind* kind = find_shape(shape->kind);
            return kind && kind->make_endless ? kind : nullptr;
        }
        const auto* link = std::get_if<Link>(&part->source);
        const auto* use = std::get_if<Use>(&part->source);
        part = link ? job.find_part(link->part) : use ? job.find_part(use->part) : nullptr;
    }
    return nullptr;
}

std::optional<Error> endless_trouble(Operation operation) {
    switch (operation) {
        case Operation::difference:
        case Operation::intersection:
        case Operation::split:
        case Operation::scribe:
        case Operation::trim_outside:
        case Operation::trim_inside: return std::nullopt;
        default: break;
    }
    return Error{ErrorCode::out_of_range,
                 "a half space has no end, and so would the result: it can only cut (difference, intersection, split, "
                 "scribe and trims)",
                 ""};
}

Error endless_body() {
    return {ErrorCode::out_of_range,
            "a half space has no end: it can cut a body, but it cannot be one, nor be treated as one", ""};
}

void let_reach(Body& body, const Kind& kind, const Box& meets, KeptResults& kept) {
    Solid made = kind.make_endless(reach_of(apply(body.stands, Vec3{}), meets));
    KeyMaker content("endless 1");
    content.add(kind.word).add(kind.revision).add(made.mesh);
    const ContentKey key = content.key();
    auto solid = kept.find<Solid>(key);
    if (!solid) {
        const std::size_t bytes = bytes_of(made.mesh);
        solid = kept.keep(key, std::make_shared<const Solid>(std::move(made)), bytes);
    }
    body.mesh = {solid, &solid->mesh};
    body.key = key;
    body.lineage =
        std::make_shared<Lineage>(Lineage{.maker = body.part, .mesh = body.mesh, .sides = {solid, &solid->side}});
}

}  // namespace anvil
