// The demonstration that opens first: the lantern again, of shapes with their numbers, copies, a link, a bundle and a
// group, so that each can be tried on something.
#include "core/job/groups.h"
#include "core/job/links.h"
#include "demo/lantern.h"

namespace anvil::demo {
namespace {

/// Adds a shape that does something to the housing; returns its step.
std::string add(Job& job, Operation operation, const char* name, const char* kind, Values values,
                const Placement& stands = {}) {
    const std::string part = add_part(job, name, Shape{.kind = kind, .values = std::move(values)}, stands);
    return add_combining(job, operation, part);
}

void take_many_times(Job& job, const std::string& step, const char* kind, Values values) {
    edit_step(job, step, [&](Step& s) { s.operand->copies = Copies{.kind = kind, .values = std::move(values)}; });
}

}  // namespace

Job signal_lantern() {
    Job job;
    add_part(job, "lantern housing", Shape{.kind = "cylinder", .values = {{"diameter", 60.0}, {"height", 70.0}}});
    add(job, Operation::union_of, "foot", "cylinder", {{"diameter", 64.0}, {"height", 8.0}});
    add(job, Operation::union_of, "roof", "cone", {{"bottom", 60.0}, {"top", 20.0}, {"height", 8.0}}, {{0, 0, 70}, {}});
    add(job, Operation::union_of, "mounting ears", "box", {{"x", 112.0}, {"y", 22.0}, {"z", 6.0}});
    const std::string screws = add(job, Operation::difference, "screw holes", "cylinder",
                                   {{"diameter", 5.5}, {"height", 8.0}}, {{46, 0, -1}, {}});
    take_many_times(job, screws, "mirrored", {{"across", std::string("x")}});
    add(job, Operation::difference, "hollow inside", "cylinder", {{"diameter", 54.0}, {"height", 64.0}},
        {{0, 0, 3}, {}});
    add(job, Operation::difference, "lens seat", "cylinder", {{"diameter", 24.0}, {"height", 20.0}},
        {{0, -20, 42}, {90, 0, 0}});
    const std::string gland = add(job, Operation::difference, "gland bore", "cylinder",
                                  {{"diameter", 12.5}, {"height", 20.0}}, {{-13, 16, 16}, {-90, 0, 0}});
    const std::string follows = add_link(job, "second gland bore", {.part = find_step(job, gland).step->operand->part},
                                         {{13, 16, 16}, {-90, 0, 0}});
    const std::string second = add_combining(job, Operation::difference, follows);
    if (const auto glands = group_steps(job, std::vector{gland, second}))
        edit_step(job, *glands, [](Step& group) { group.values["name"] = std::string("gland bores"); });
    const std::string slots =
        add(job, Operation::difference, "vent slots", "box", {{"x", 20.0}, {"y", 16.0}, {"z", 2.5}}, {{30, 0, 22}, {}});
    take_many_times(job, slots, "rows", {{"count_z", std::int64_t{5}}, {"z", 5.5}});
    const std::string rib =
        add(job, Operation::difference, "vent rib", "box", {{"x", 22.0}, {"y", 2.0}, {"z", 5.0}}, {{30, 0, 20}, {}});
    (void)move_into(job, rib, slots);
    add(job, Operation::union_of, "serial number", "text",
        {{"text", std::string("BUOY 8")},
         {"size", 6.0},
         {"height", 1.5},
         {"align", std::string("middle")},
         {"around", 59.6}},
        {{0, 0, 12}, {}});
    return job;
}

}  // namespace anvil::demo
