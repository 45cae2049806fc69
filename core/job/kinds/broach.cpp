// The outline of faces pushed through the body.
#include "core/cut/broach.h"

#include "core/job/kinds/cut_fields.h"
#include "core/job/kinds/shape_fields.h"

namespace anvil {
namespace {

const RegisterKind broach_registered(
    {.word = "broach",
     .of = KindClass::cut,
     .says = "Pushes the outline of faces through the body: a hole, a pocket or, turned round, a boss",
     .fields =
         {{.name = "faces",
           .type = Field::Type::held,
           .usual = std::vector<Anchor>(),
           .label = "faces",
           .says = "whose outline is pushed",
           .is_wanted = true,
           .of = ElementKind::faces},
          choice_field("makes", "makes", "a hole or pocket, or a boss that stands out of the body", {"hole", "boss"}),
          choice_field("along", "along",
                       "against the mean of the faces' normals, against each corner's own, or a direction",
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
                               "how far it begins outside of the faces, so that no skin stays", 0))},
     .cut = [](const Values& values, const CutFor& of, Progress&) -> Result<Cut> {
         const KindValues m(*find_kind("broach"), values);
         const auto at = of.held.find("faces");
         if (at == of.held.end() || !of.body)
             return Error{ErrorCode::lost, "no face is chosen that could be pushed", ""};
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
         return broached(*of.body, at->second, b, of.box);
     }});

}  // namespace
}  // namespace anvil
