// The tools for work by hand, each a kind: what it is used on is named by where its points are.
#include "core/job/kinds/kind.h"
#include "core/job/kinds/mend_values.h"
#include "core/mend/hand_tools.h"
#include "core/mesh/weld.h"

namespace anvil {
namespace {

HandEdit edit_of(HandTool tool, const Kind& kind, const Values& values) {
    HandEdit out{.tool = tool, .points = value_of<std::vector<Vec3>>(kind, values, "at")};
    if (kind.find_field("fill")) out.fill = *fill_style_from(value_of<std::string>(kind, values, "fill"));
    if (kind.find_field("cell")) out.cell = value_of<double>(kind, values, "cell");
    return out;
}

const char* says(HandTool tool) {
    switch (tool) {
        case HandTool::merge_points: return "The selected points become one, at their middle";
        case HandTool::join_points: return "Two points get an edge between them";
        case HandTool::delete_faces: return "The selected faces go; what they leave is open";
        case HandTool::flip_faces: return "The selected faces look to the other side";
        case HandTool::fill_border: return "The holes that have a selected edge are filled";
        case HandTool::bridge_borders: return "A strip of faces between the borders of two selected edges";
        case HandTool::split_edge: return "Each selected edge gets a point in its middle";
        case HandTool::collapse_edge: return "Both ends of each selected edge become one";
        case HandTool::rotate_edge: return "Each selected edge joins the two other corners of its faces";
        case HandTool::rebuild_region:
            return "The box round the selected faces is put anew in cells, whatever lies in it; what lies outside "
                   "stays";
    }
    return "";
}

Kind kind_of(HandTool tool) {
    using Type = Field::Type;
    Kind out{.word = std::string(word(tool)), .of = KindClass::treat, .says = says(tool), .stays_sound = false};
    out.fields.push_back({"at", Type::elements, std::vector<Vec3>(), "used on", "the points of what is selected"});
    out.fields.back().is_wanted = true;
    out.fields.back().of = elements_of(tool);
    out.fields.back().as_box = tool == HandTool::rebuild_region;
    constexpr double forever = std::numeric_limits<double>::infinity();
    if (tool == HandTool::fill_border)
        out.fields.push_back({"fill",
                              Type::choice,
                              std::string(word(FillStyle::smallest)),
                              "fill",
                              "how it is closed",
                              -forever,
                              forever,
                              {std::string(word(FillStyle::smallest)), std::string(word(FillStyle::flat)),
                               std::string(word(FillStyle::smooth))}});
    if (tool == HandTool::rebuild_region)
        out.fields.push_back(
            {"cell", Type::length, 0.0, "cells of", "how finely it is put anew; 0: as its edges are long", 0});
    out.treat = [tool](const std::shared_ptr<const Mesh>& body, const Values& values, const TreatSettings& settings,
                       Progress& progress) -> Result<Treated> {
        const HandEdit edit = edit_of(tool, *find_kind(word(tool)), values);
        MendOptions options;
        options.precision = settings.precision;
        options.contact = settings.contact;
        auto edited = std::make_shared<Mesh>(welded(*body));
        auto done = edit_by_hand(*edited, edit, options, progress);
        if (!done) return done.error();
        if (progress.cancelled()) return cancelled_error();
        Treated treated;
        treated.mesh = std::move(edited);
        treated.said = done->said;
        treated.largest_move = done->largest_move;
        treated.by_hand = std::move(*done);
        return treated;
    };
    return out;
}

const struct HandTools {
    HandTools() {
        for (int k = 0; k < hand_tools; ++k) RegisterKind(kind_of(static_cast<HandTool>(k)));
        RegisterKind({.word = "by-hand", .of = KindClass::group, .panel = "repairs"});
    }
} hand_tools_registered;

}  // namespace

Values values_of(const HandEdit& edit) {
    Values out;
    if (!edit.points.empty()) out["at"] = edit.points;
    if (edit.tool == HandTool::fill_border && edit.fill != FillStyle::smallest)
        out["fill"] = std::string(word(edit.fill));
    if (edit.tool == HandTool::rebuild_region && edit.cell > 0) out["cell"] = edit.cell;
    return out;
}

}  // namespace anvil
