// A cut by one plane or several.
#include "core/cut/plane_cut.h"

#include "core/cut/frame.h"
#include "core/job/kinds/cut_fields.h"
#include "core/job/kinds/shape_fields.h"

namespace anvil {
namespace {

const Kind& kind() { return *find_kind("cut-plane"); }

PlaneCut cut_from(const KindValues& m) {
    PlaneCut out{.origin = m.point("origin"), .normal = m.point("normal")};
    out.keep = m.word("keep") == "front" ? KeepSide::front : m.word("keep") == "back" ? KeepSide::back : KeepSide::both;
    out.cap = m.is("cap");
    if (m.word("planes") == "layers") out.layer = m["layer"];
    if (m.word("planes") == "several") out.count = m.count("count");
    out.distance = m["distance"];
    if (m.word("planes") == "bed") out.bed = Vec3{m["bed_x"], m["bed_y"], m["bed_z"]};
    const std::string& form = m.word("joints");
    out.joints = {form == "round"      ? Joints::Form::round
                  : form == "square"   ? Joints::Form::square
                  : form == "dovetail" ? Joints::Form::dovetail
                                       : Joints::Form::none,
                  m.count("joint_count"),
                  m["joint_size"],
                  m["joint_depth"],
                  m["clearance"],
                  m["rim"],
                  m["turn"]};
    out.joints_at = m.points("joints_at");
    return out;
}

constexpr const char* with_joints = "round|square|dovetail";

const RegisterKind cut_plane_registered(
    {.word = "cut-plane",
     .of = KindClass::cut,
     .name = "plane cut",
     .says = "Cuts by a plane, or by several at once; the pieces can have pegs and sockets",
     .fields =
         {face_field("the plane lies on a flat face that it follows; none: where the numbers say"),
          shown_for(place_field("origin", "through", "a point of the plane"), "face", "none"),
          shown_for(direction_field("normal", "square to", "where the front side looks"), "face", "none"),
          shown_for(length_field("offset", 0, "distance", "from the face; below 0 it is inside the body"), "face",
                    "held"),
          {.name = "planes",
           .type = Field::Type::choice,
           .usual = std::string("one"),
           .label = "planes",
           .says = "one; several, one behind the other; layers of one height; or as many as make each piece fit a bed",
           .choices = {"one", "several", "layers", "bed"}},
          shown_for(count_field("count", 3, "how many", "along the normal, the first one through the point", 2, 500),
                    "planes", "several"),
          shown_for(measure_field("distance", 10, "apart by", "from one plane to the next"), "planes", "several"),
          shown_for(measure_field("layer", 10, "layer height", "from the lowest point upwards"), "planes", "layers"),
          shown_for(measure_field("bed_x", 220, "bed, x", "how long a piece may be along x"), "planes", "bed"),
          shown_for(measure_field("bed_y", 220, "bed, y", "how long a piece may be along y"), "planes", "bed"),
          shown_for(measure_field("bed_z", 250, "bed, z", "how high a piece may be"), "planes", "bed"),
          {.name = "keep",
           .type = Field::Type::choice,
           .usual = std::string("both"),
           .label = "keep",
           .says = "the side in front, the one behind, or both as pieces",
           .choices = {"both", "front", "back"},
           .only_if = "planes",
           .only_for = "one"},
          {.name = "cap",
           .type = Field::Type::yes_no,
           .usual = true,
           .label = "close the cut",
           .says = "off: the surface ends open at the plane",
           .only_if = "keep",
           .only_for = "front|back"},
          {.name = "joints",
           .type = Field::Type::choice,
           .usual = std::string("none"),
           .label = "joints",
           .says = "pegs in front and sockets behind, so that printed pieces find each other",
           .choices = {"none", "round", "square", "dovetail"},
           .only_if = "keep",
           .only_for = "both"},
          shown_for(count_field("joint_count", 2, "how many", "in each cut face", 1, 64), "joints", with_joints),
          shown_for(measure_field("joint_size", 6, "size", "diameter or side of a peg, width of a dovetail's neck"),
                    "joints", with_joints),
          shown_for(measure_field("joint_depth", 6, "depth", "how far a peg stands out"), "joints", with_joints),
          shown_for(measure_field("clearance", 0.2, "clearance", "between peg and socket, all round", 0), "joints",
                    with_joints),
          shown_for(measure_field("rim", 2, "from the rim", "at least, from a socket to the rim of the cut face", 0),
                    "joints", with_joints),
          shown_for(turn_field("of square pegs, and the way that dovetails run"), "joints", "square|dovetail"),
          {.name = "joints_at",
           .type = Field::Type::elements,
           .usual = std::vector<Vec3>(),
           .label = "joints at",
           .says = "places of pegs, set by hand; none: they find their places by themselves",
           .of = ElementKind::points,
           .only_if = "joints",
           .only_for = "round|square"}},
     .cut = [](const Values& values, const CutFor& of, Progress& progress) -> Result<Cut> {
         const KindValues m(kind(), values);
         PlaneCut cut = cut_from(m);
         const auto seat = seat_of(of);
         if (!seat) return seat.error();
         if (*seat) {
             cut.normal = (*seat)->normal;
             cut.origin = (*seat)->place + normalized(cut.normal) * m["offset"];
         }
         auto made = plane_cut(cut, of.box, of.body, progress);
         if (made && *seat) made->on = {cut.origin, normalized(cut.normal)};
         return made;
     },
     .cuts_by_body =
         [](const Values& values) {
             const KindValues m(kind(), values);
             return m.word("planes") == "bed" || m.word("planes") == "layers" || m.word("joints") != "none";
         },
     .handles = [](const Values& values) -> std::vector<MeasureHandle> {
         const KindValues m(kind(), values);
         if (m.word("planes") == "bed") return {};
         const Transform frame = frame_on(m.point("origin"), m.point("normal"));
         auto axis = [&](int k) { return frame_axis(frame, k); };
         const Vec3 at = m.point("origin");
         std::vector<MeasureHandle> out;
         if (values.contains("face"))
             out = {{.field = "offset", .at = at, .along = axis(2)}};
         else
             out = {{.field = "origin", .at = at, .along = axis(2)},
                    {.field = "normal", .at = at, .along = axis(0)},
                    {.field = "normal", .at = at, .along = axis(1), .number = 1}};
         int number = 0;
         for (const Vec3& p : m.points("joints_at"))
             out.push_back({.field = "joints_at", .at = p, .along = axis(0), .across = axis(1), .number = number++});
         return out;
     },
     .dragged = [](Values values, const MeasureHandle& handle,
                   const Vec3& by) { return with_point_moved(kind(), std::move(values), handle, by); }});

}  // namespace
}  // namespace anvil
