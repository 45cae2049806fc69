// Whose findings the window tells, what is mended, and the report of both.
#include <QBuffer>
#include <nlohmann/json.hpp>

#include "app/panels/hint_line.h"
#include "app/panels/ledger.h"
#include "app/view/viewport.h"
#include "app/window.h"
#include "app/words.h"
#include "core/io/mesh_file.h"
#include "core/report/facts.h"
#include "core/report/page.h"

namespace anvil::app {
namespace {

/// The part that a row is about, by the id of its step, its mending or itself; empty for none.
std::string part_of_row(const Job& job, const std::string& row) {
    for (const Step& step : job.steps)
        if (step.id == row) return step.part;
    for (const Part& part : job.parts)
        if (part.id == row || part.find_mending(row)) return part.id;
    return {};
}

}  // namespace

/// Whose findings the ledger lists; empty for the result. It speaks of a part where that waits, is looked at for its
/// mending, or has a remark; where a step fails, of the one that made it fail; and of the base where that is all.
std::string Window::subject_part() const {
    const Job& job = controller_.job();
    const auto outcome = controller_.outcome();
    if (!chosen_.part.empty()) {
        const auto idle = job.idle_parts();
        const bool waits = std::ranges::any_of(idle, [&](const Part* p) { return p->id == chosen_.part; });
        if (waits || !chosen_.mending.empty() || controller_.error()) return chosen_.part;
        if (outcome && chosen_.part != job.base)
            if (const auto ready = outcome->parts.find(chosen_.part);
                ready != outcome->parts.end() && ready->second.inspection && !ready->second.inspection->print_ready)
                return chosen_.part;
    }
    return controller_.error() ? part_of_row(job, controller_.error()->row) : std::string();
}

void Window::inspect_chosen() {
    const Job& job = controller_.job();
    const auto outcome = controller_.outcome();
    const Part* part = job.find_part(subject_part());
    if (part && outcome)
        if (const auto ready = outcome->parts.find(part->id); ready != outcome->parts.end()) {
            ledger_->show({ready->second.inspection, quoted(part->name), false, part->id, part->placement,
                           ready->second.given_measures});
            return;
        }
    const Part* base = job.find_part(job.base);
    const bool alone = job.steps.empty() && base;
    std::shared_ptr<const Measures> before = outcome ? outcome->base_measures : nullptr;
    ledger_->show({controller_.inspection(),
                   alone ? quoted(base->name) : tr("The result"),
                   true,
                   alone ? job.base : std::string(),
                   {},
                   std::move(before)});
}

/// The part that the ledger speaks of, or else the chosen one, or the base.
const Part* Window::part_to_mend() const {
    const Job& job = controller_.job();
    for (const std::string& id : {subject_part(), chosen_.part, job.base})
        if (const Part* part = job.find_part(id)) return part;
    return nullptr;
}

void Window::mend_part(const std::string& id, const std::vector<Repair>& repairs, const MendOptions& options) {
    Job job = controller_.job();
    Part* part = job.find_part(id);
    if (!part || repairs.empty()) return;
    const QString name = QString::fromStdString(part->name);
    const std::vector<Vec3>& places = options.places;
    // Places of one kind in a row are one mending.
    if (!places.empty() && !part->mendings.empty()) {
        Mending& last = part->mendings.back();
        MendOptions elsewhere = last.options;
        elsewhere.places = places;
        if (last.on && last.repairs == repairs && !last.options.places.empty() && elsewhere == options) {
            last.options.places.insert(last.options.places.end(), places.begin(), places.end());
            controller_.change(std::move(job), tr("mend a place of %1").arg(name));
            return;
        }
    }
    const bool whole = repairs.size() == whole_plan().size() && places.empty();
    const std::string mending =
        job.add_mending(id, repairs, whole && options == MendOptions() ? cautious_options(*part->mesh) : options);
    controller_.change(std::move(job), places.empty() ? tr("mend %1").arg(name) : tr("mend a place of %1").arg(name));
    if (whole) choose_part(id, mending);
}

/// Of what the ledger lists, with the repairs of a part; a page for people, or JSON where the name ends so.
void Window::save_report(const QString& file) {
    const auto now = ledger_->inspection();
    if (!now) return;
    const Job& job = controller_.job();
    const std::string id = ledger_->part();
    const Part* part = job.find_part(id);
    std::vector<Repaired> repairs;
    std::string remains;
    const Inspection* before = nullptr;
    if (part)
        for (const Mending& m : part->mendings)
            if (const auto done = controller_.mended(id, m.id)) {
                if (!before) before = &done->before;
                repairs.insert(repairs.end(), done->repairs.begin(), done->repairs.end());
                remains = done->remains();
            }
    const std::string name = part ? part->name : tr("The result").toStdString();
    std::string text;
    if (file.endsWith(".json", Qt::CaseInsensitive)) {
        Json json{{"operation", repairs.empty() ? "inspect" : "mend"}, {"result", facts(*now, name)}};
        if (ledger_->acceptance().count() > 0) json["accepted"] = facts(ledger_->acceptance());
        if (before) json["before"] = facts(*before, name);
        if (!repairs.empty()) json["repairs"] = facts(repairs);
        text = json.dump(2) + "\n";
    } else {
        QByteArray png;
        QBuffer buffer(&png);
        buffer.open(QIODevice::WriteOnly);
        viewport_->grab().save(&buffer, "PNG");
        text = report_page({name, *now, before, repairs, remains, png.toStdString(), ledger_->acceptance()});
    }
    if (auto written = write_file(text, file.toStdString()); !written)
        fail(written.error());
    else
        hint_line_->show_hint(tr("Saved the report to %1.").arg(file));
}

}  // namespace anvil::app
