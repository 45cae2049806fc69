#pragma once

#include <QString>
#include <QStringList>

#include "core/job/evaluate.h"

namespace anvil::app {

/// "mend", "fill holes", "by hand: 3 edits": what a step does to the body by itself.
QString name_of(const Step& treatment);
/// The part of an operand, or what a treatment does.
QString name_of(const Row& row, const Job& job);
/// Of one row its name, else how many there are: "3 rows".
QString names_of(std::span<const RowId> chosen, std::span<const Row> rows, const Job& job);
/// What a treatment changed, in a word or two: "3 changes", "print-ready".
QString change_of_treatment(const RowOutcome& done);
/// All that there is to say of a treatment, a line each; `done`: null where it was not worked out.
QStringList told_of(const Step& treatment, const RowOutcome* done);
/// "12 ms", "3.4 s".
QString time_text(double seconds);

}  // namespace anvil::app
