#pragma once

#include "core/base/progress.h"
#include "core/job/segment.h"

namespace anvil {

/// Whether a cut goes by the body, and not only by the box round that.
bool needs_body(const Kind& kind, const Values& values);

/// Its values as if they told where it stands: of one that lies on a face they tell where it stood before.
Values values_where_it_stands(const Kind& kind, Values values, const Cut& cut);

/// Whether what a cut is used on is still to be selected.
bool waits_for_selection(const Kind& kind, const Values& values);

/// What a cut makes, worked out once for what it is made of. `body`: what it acts on, where it goes by that, else null;
/// `box`: that lies in it. Fails: as the kind does; lost, where it holds on to what is not there; out_of_memory.
struct MadeCut {
    std::shared_ptr<const Cut> cut;
    ContentKey key;
};
Result<MadeCut> made_cut(const Step& step, const Kind& kind, const Body* body, const Box& box, KeptResults& kept,
                         Progress& progress);

/// Its cutters as rows of a segment, all of that step, that count.
std::vector<CombineRow> rows_of_cut(const Step& step, const MadeCut& made);

}  // namespace anvil
