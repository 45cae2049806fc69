#include "core/mend/reaches.h"

namespace anvil {
namespace {

constexpr Reach all_reaches[] = {
    {Repair::weld, "weld", &MendOptions::weld_distance, "weld within", "points no farther apart become one"},
    {Repair::borders, "border_reach", &MendOptions::border_reach, "join borders within",
     "borders no farther apart are taken for one; below 0: by the size", true},
    {Repair::bridges, "bridge", &MendOptions::bridge_within, "bridge within",
     "two borders nowhere farther apart are joined by a strip"},
    {Repair::holes, "max_hole", &MendOptions::longest_hole, "fill up to", "holes longer round their rim stay open"},
    {Repair::shells, "min_shell", &MendOptions::smallest_shell, "drop below", "closed shells of less volume go"},
    {Repair::thicken, "thickness", &MendOptions::thickness, "thickness",
     "of sheets that are thickened, half to each side"}};

}  // namespace

std::span<const Reach> reaches() { return all_reaches; }

}  // namespace anvil
