// The outline of faces, edges or points pushed through the body.
#include "core/cut/broach.h"

#include "core/cut/slots.h"
#include "core/job/kinds/cut_fields.h"
#include "core/job/kinds/shape_fields.h"

namespace anvil {
namespace {

/// What is pushed, one sort of elements or another: the field has the name of the sort.
Field pushed_field(const char* name, const char* says, ElementKind of) {
    Field out{.name = name,
              .type = Field::Type::held,
              .usual = std::vector<Anchor>(),
              .label = name,
              .says = says,
              .is_wanted = true,
              .of = of};
    return shown_for(out, "of", name);
}

const RegisterKind broach_registered(
    {.word = "broach",
     .of = KindClass::cut,
     .says = "Pushes faces, edges or points through the body: a hole, a pocket or, turned round, a boss",
     .fields =
         {choice_field("of", "pushes", "the outline of faces, a slot along edges, or a round hole at points",
                       {"faces", "edges", "points"}),
          pushed_field("faces", "whose outline is pushed", ElementKind::faces),
          pushed_field("edges", "along which a slot is pushed", ElementKind::edges),
          pushed_field("points", "at which a round hole is pushed", ElementKind::points),
          shown_for(measure_field("thickness", 2, "thickness", "of the slot, or the diameter of the hole"), "of",
                    "edges|points"),
          choice_field("makes", "makes", "a hole or pocket, or a boss that stands out of the body", {"hole", "boss"}),
          choice_field("along", "along", "against the mean of the normals, against each corner's own, or a direction",
                       {"mean normal", "own normals", "x", "y", "z", "direction"}),
          shown_for({.name = "way",
                     .type = Field::Type::direction,
                     .usual = Vec3{0, 0, -1},
                     .label = "way",
                     .says = "into the body"},
                    "along", "direction"),
          shown_for(choice_field("turned", "the way", "as the axis runs, or against it", {"against it", "with it"}),
                    "along", "x|y|z"),
          choice_field("down_to", "down to", "through all that there is, or to a depth", {"through", "depth"}),
          shown_for(measure_field("depth", 5, "depth", "from the faces; of a boss its height"), "down_to", "depth"),
          folded(measure_field("over", 0.01, "over-travel",
                               "how far it begins outside of the faces, so that no skin stays", 0)),
          shown_for(chord_field(), "of", "edges|points")},
     .cut = [](const Values& values, const CutFor& of, Progress&) -> Result<Cut> {
         const KindValues m(*find_kind("broach"), values);
         const auto at = of.held.find(m.word("of"));
         if (at == of.held.end() || !of.body)
             return Error{ErrorCode::lost, "nothing is chosen that could be pushed", ""};
         Broach b;
         const std::string& along = m.word("along");
         b.own_normals = along == "own normals";
         b.boss = m.word("makes") == "boss";
         if (along == "direction") b.along = m.point("way");
         if (along.size() == 1) {
             Vec3 axis;
             axis[along[0] - 'x'] = m.word("turned") == "with it" ? 1 : -1;
             b.along = axis;
         }
         b.depth = m.word("down_to") == "depth" ? m["depth"] : 0;
         b.over = m["over"];
         if (b.boss && b.depth == 0)
             return Error{ErrorCode::out_of_range, "a boss has to have a height: set \"down to\" to a depth", ""};
         if (m.word("of") != "faces") return slotted(*of.body, at->second, m["thickness"], m["chord"], b, of.box);
         return broached(*of.body, at->second, b, of.box);
     }});

}  // namespace
}  // namespace anvil
