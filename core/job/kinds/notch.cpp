// A groove along edges, or a rib.
#include "core/cut/notch.h"

#include <cmath>
#include <numbers>

#include "core/job/kinds/cut_fields.h"
#include "core/job/kinds/shape_fields.h"

namespace anvil {
namespace {

const RegisterKind notch_registered(
    {.word = "notch",
     .of = KindClass::cut,
     .says = "A groove along edges, V-shaped or square; turned outward a rib",
     .fields = {{.name = "edges",
                 .type = Field::Type::held,
                 .usual = std::vector<Anchor>(),
                 .label = "edges",
                 .says = "that it follows; drawn lines, such as a scribe leaves, count as well",
                 .is_wanted = true,
                 .of = ElementKind::edges},
                choice_field("form", "form", "of its cross section", {"V", "square"}),
                choice_field("makes", "makes", "a groove in the body, or a rib on it", {"groove", "rib"}),
                measure_field("width", 2, "width", "from the edge over the face on its left", 0),
                choice_field("right", "on the right", "as wide there, or by a width of its own", {"as wide", "other"}),
                shown_for(measure_field("width_right", 2, "right width", "over the face on its right", 0), "right",
                          "other"),
                choice_field("by", "deep by", "a depth, or the angle between the flanks of a V", {"depth", "angle"}),
                shown_for(measure_field("depth", 2, "depth", "below the edge; of a rib its height", 0), "by", "depth"),
                shown_for(angle_field("angle", 90, "angle", "between the flanks", 5, 175), "by", "angle"),
                choice_field("ends", "ends", "square to the edge, run on by its width, or tilted up to the surface",
                             {"straight", "run out", "tilted"}),
                shown_for(angle_field("tilt", 45, "tilt", "of the ends against the surface", 5, 89), "ends", "tilted"),
                folded(shown_for(measure_field("over", 0.01, "over-travel",
                                               "how far it goes beyond, so that no skin stays", 0),
                                 "", ""))},
     .cut = [](const Values& values, const CutFor& of, Progress&) -> Result<Cut> {
         const KindValues m(*find_kind("notch"), values);
         const auto at = of.held.find("edges");
         if (at == of.held.end() || !of.body) return Error{ErrorCode::lost, "no edge is chosen", ""};
         Notch n;
         n.square = m.word("form") == "square";
         n.rib = m.word("makes") == "rib";
         n.width = m["width"];
         n.width_right = m.word("right") == "other" ? m["width_right"] : n.width;
         n.depth = m["depth"];
         // On a flat face the flanks have that angle; over a crease it is counted as if it were flat.
         if (m.word("by") == "angle")
             n.depth = (n.width + n.width_right) / 2 / std::tan(m["angle"] / 2 * std::numbers::pi / 180);
         if (!(n.width > 0) && !(n.width_right > 0))
             return Error{ErrorCode::out_of_range, "a width of 0 on both sides cuts nothing: set one of them", ""};
         if (!(n.depth > 0)) return Error{ErrorCode::out_of_range, "a depth of 0 cuts nothing", ""};
         n.ends = m.word("ends") == "tilted"    ? Notch::Ends::tilted
                  : m.word("ends") == "run out" ? Notch::Ends::run_out
                                                : Notch::Ends::straight;
         n.tilt = m["tilt"];
         n.over = m["over"];
         return notched(*of.body, at->second, n);
     }});

}  // namespace
}  // namespace anvil
