#include "app/panels/row_words.h"

#include <QCoreApplication>

#include "app/words.h"
#include "core/job/kinds/mend_values.h"

namespace anvil::app {
namespace {

QString tr(const char* text) { return QCoreApplication::translate("rows", text); }

std::size_t changed_by(const Mended& mended) {
    std::size_t changed = 0;
    for (const Repaired& r : mended.repairs) changed += r.changed;
    for (const HandDone& h : mended.by_hand) changed += h.changed;
    return changed;
}

}  // namespace

QString name_of(const Step& treatment) {
    const Kind* kind = find_kind(treatment.kind);
    if (!kind) return QString::fromStdString(treatment.kind);
    if (kind->word == "group") return QString::fromStdString(value_of<std::string>(*kind, treatment.values, "name"));
    if (kind->of == KindClass::group)
        return tr("by hand: %1").arg(counted(treatment.steps.size(), tr("edit"), tr("edits")));
    if (const auto tool = hand_tool_from(kind->word)) return words_of(*tool).name;
    if (kind->word != "mend") return QString::fromStdString(kind->name);
    const MendSettings mend = mend_settings(treatment.values);
    if (mend.repairs.size() == whole_plan().size()) return tr("mend");
    if (mend.repairs.size() == 1) return words_of(mend.repairs.front()).name;
    return tr("mend: %1").arg(counted(mend.repairs.size(), tr("repair"), tr("repairs")));
}

QString name_of(const Row& row, const Job& job) {
    if (row.step && !row.step->operand) return name_of(*row.step);
    const Part* part = job.find_part(row.id.part);
    return QString::fromStdString(part ? part->name : row.id.part);
}

QString names_of(std::span<const RowId> chosen, std::span<const Row> rows, const Job& job) {
    const Row* row = chosen.size() == 1 ? find_row(rows, chosen.front()) : nullptr;
    return row ? name_of(*row, job) : counted(chosen.size(), tr("row"), tr("rows"));
}

QString change_of_treatment(const RowOutcome& done) {
    if (!done.treated) return {};
    if (const Mended* mended = done.treated->mended.get()) {
        const std::size_t changed = changed_by(*mended);
        if (changed == 0) return tr("no change");
        return mended->after.print_ready ? tr("print-ready") : counted(changed, tr("change"), tr("changes"));
    }
    if (const auto& edit = done.treated->by_hand)
        return edit->refused        ? tr("not done")
               : edit->changed == 0 ? tr("no change")
                                    : counted(edit->changed, tr("change"), tr("changes"));
    return done.treated->mesh == done.from ? tr("no change") : tr("changed");
}

QStringList told_of(const Step& treatment, const RowOutcome* done) {
    QStringList said;
    if (!find_kind(treatment.kind))
        said << tr("This version knows no step of this kind. It does nothing here, and is saved as it came.");
    if (!done) return said;
    if (done->error) said << QString::fromStdString(done->error->sentence());
    if (done->cut && !done->error && !done->cut->said.empty()) said << QString::fromStdString(done->cut->said);
    if (!treatment.operand && !done->error && !done->note.empty()) said << QString::fromStdString(done->note);
    if (!done->treated) return said;
    for (const std::string& sentence : said_by(*done->treated)) said << QString::fromStdString(sentence);
    const Mended* mended = done->treated->mended.get();  // a group of edits says nothing of what is left by itself
    if (mended && done->treated->said.empty() && !mended->remains().empty())
        said << QString::fromStdString(mended->remains());
    if (done->seconds > 0) said << tr("It took %1.").arg(time_text(done->seconds));
    return said;
}

QString time_text(double seconds) {
    if (seconds < 0.0095) return tr("less than 10 ms");
    return seconds < 0.995 ? tr("%1 ms").arg(std::lround(seconds * 100) * 10)
                           : tr("%1 s").arg(seconds, 0, 'f', seconds < 10 ? 1 : 0);
}

}  // namespace anvil::app
