// Cuts: steps that make operands of their own.
#include "core/job/cutting.h"

#include <algorithm>

#include "core/base/memory.h"
#include "core/job/anchors.h"
#include "core/job/copies.h"
#include "core/job/kept_bytes.h"
#include "core/job/treatment.h"
#include "core/job/value_key.h"
#include "core/mesh/weld.h"

namespace anvil {
namespace {

std::size_t bytes_of(const std::vector<Cutter>& cutters) {
    std::size_t bytes = 0;
    for (const Cutter& c : cutters) bytes += bytes_of(c.solid.mesh) + bytes_of(c.bundle) + 200;
    return bytes;
}

void add_rows(const Step& step, const MadeCut& made, const std::vector<Cutter>& cutters, KeyMaker way,
              std::vector<CombineRow>& out) {
    for (std::size_t k = 0; k < cutters.size(); ++k) {
        const Cutter& cutter = cutters[k];
        KeyMaker key = way;
        key.add(k);
        CombineRow row;
        row.step = &step;
        row.operation = cutter.operation;
        row.is_cut = true;
        row.ends = cutter.ends;
        row.counted = true;
        Body& body = row.operand;
        body.mesh = {made.cut, &cutter.solid.mesh};
        body.key = key.key();
        body.lineage = std::make_shared<Lineage>(
            Lineage{.maker = step.id, .mesh = body.mesh, .sides = {made.cut, &cutter.solid.side}});
        add_rows(step, made, cutter.bundle, key, row.bundle);
        out.push_back(std::move(row));
    }
}

}  // namespace

bool needs_body(const Kind& kind, const Values& values) {
    if (kind.wants_selection(values) || (kind.cuts_by_body && kind.cuts_by_body(values))) return true;
    return std::ranges::any_of(values, [](const auto& value) {
        const auto* anchors = std::get_if<std::vector<Anchor>>(&value.second);
        return anchors && !anchors->empty();
    });
}

Values values_where_it_stands(const Kind& kind, Values values, const Cut& cut) {
    if (!cut.on) return values;
    const auto& [place, normal] = *cut.on;
    if (kind.find_field("origin")) values["origin"] = place;
    if (kind.find_field("normal")) values["normal"] = normal;
    if (const auto at = values.find("at"); at != values.end())
        if (auto* points = std::get_if<std::vector<Vec3>>(&at->second))
            for (Vec3& p : *points) p = p - normal * dot(p - place, normal);
    return values;
}

bool waits_for_selection(const Kind& kind, const Values& values) {
    return std::ranges::any_of(kind.fields, [&](const Field& field) {
        const auto at = values.find(field.name);
        return field.is_wanted && field.type == Field::Type::held && is_shown(kind, values, field) &&
               (at == values.end() || std::get<std::vector<Anchor>>(at->second).empty());
    });
}

Result<MadeCut> made_cut(const Step& step, const Kind& kind, const Body* body, const Box& box, KeptResults& kept,
                         Progress& progress) {
    if (auto checked = check_values(kind, step.values); !checked) return checked.error();
    CutFor of{.box = box};
    KeyMaker key("cut 1");
    key.add(kind.word).add(kind.revision).add(box.low).add(box.high);
    add_values(key, step.values);
    if (body) {
        auto held = held_of(step.values, *body);
        if (!held) return held.error();
        of.held = std::move(held->elements);
        key.add(body->key).add(held->key);
    }
    MadeCut out{kept.find<Cut>(key.key()), key.key()};
    if (out.cut) return out;
    Mesh mesh;
    if (body) {
        mesh = welded(*body->mesh);
        of.body = &mesh;
    }
    auto cut = with_memory_checked([&] { return kind.cut(step.values, of, progress); });
    if (!cut) return cut.error();
    const std::size_t bytes = bytes_of(cut->cutters) + bytes_of(cut->shown);
    out.cut = kept.keep(out.key, std::make_shared<const Cut>(std::move(*cut)), bytes);
    return out;
}

std::vector<CombineRow> rows_of_cut(const Step& step, const MadeCut& made) {
    std::vector<CombineRow> out;
    add_rows(step, made, made.cut->cutters, KeyMaker("cutter 1").add(made.key), out);
    return out;
}

}  // namespace anvil
