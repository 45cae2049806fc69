// Whose findings the window tells, what is mended, and the report of both.
#include <QBuffer>
#include <nlohmann/json.hpp>

#include "app/panels/hint_line.h"
#include "app/panels/ledger.h"
#include "app/view/viewport.h"
#include "app/window.h"
#include "app/words.h"
#include "core/io/mesh_file.h"
#include "core/job/kinds/mend_values.h"
#include "core/report/facts.h"
#include "core/report/page.h"

namespace anvil::app {
/// Whose findings the ledger lists; empty for the result. It speaks of a part where that waits or has a remark; where a
/// step fails, of the one that made it fail; and of the base where that is all.
std::string Window::subject_part() const {
    const auto outcome = controller_.outcome();
    if (const Row* row = controller_.row(chosen_)) {
        if (row->idle || controller_.error()) return row->id.part;
        if (outcome && !row->is_base())
            if (const auto ready = outcome->parts.find(row->id.part);
                ready != outcome->parts.end() && ready->second.inspection && !ready->second.inspection->print_ready)
                return row->id.part;
    }
    const auto error = controller_.error();
    if (!error) return {};
    for (const Row& row : controller_.rows())
        if (row.step ? row.step->id == error->row : row.id.part == error->row) return row.id.part;
    return {};
}

/// The part into whose list goes what is done to the body at hand: that of a chosen row, else of what the ledger
/// speaks of; empty where there is none.
std::string Window::list_at_hand() const {
    if (const Row* row = controller_.row(chosen_)) return row->step && !row->use ? row->list->id : row->id.part;
    const Job& job = controller_.job();
    if (const std::string part = subject_part(); !part.empty()) return part;
    const Part* work = job.find_part(job.work());
    return work && work->steps.empty() ? base_of(job) : job.work();
}

/// Behind the chosen row where that treats the same body, else at the end.
Place Window::place_in(const std::string& list) const {
    const Row* row = controller_.row(chosen_);
    if (!row || !row->step || row->use || row->list->id != list) return controller_.end_of(list);
    const Steps& steps = row->list->steps;
    for (std::size_t i = 0; i + 1 < steps.size(); ++i)  // behind its group where it stands in one
        if (std::ranges::find(row->id.way, steps[i]->id) != row->id.way.end()) return {list, steps[i + 1]->id};
    return {list, {}};
}

Transform Window::stands_of(const std::string& list) const {
    if (list == controller_.job().work()) return controller_.result_stands();
    const Row* chosen = controller_.row(chosen_);
    if (chosen && chosen->step && !chosen->use && chosen->list->id == list) return chosen->stands;
    for (const Row* row : {chosen, controller_.row(nearest_row(controller_.rows(), {list, {}}))})
        if (row && row->id.part == list) return controller_.body_of(*row).stands;
    return Transform::Identity();
}

void Window::inspect_chosen() {
    const Job& job = controller_.job();
    const auto outcome = controller_.outcome();
    const Row* row = controller_.row(chosen_);
    if (row && row->step && !row->use && !row->cuts() && outcome) return inspect_row(*row);
    const Part* part = job.find_part(subject_part());
    if (part && outcome)
        if (const auto ready = outcome->parts.find(part->id); ready != outcome->parts.end()) {
            const auto given = outcome->given.find(part->id);
            ledger_->show({ready->second.inspection, quoted(part->name), false, part->id, ready->second.mesh,
                           stands_of(part->id), given == outcome->given.end() ? nullptr : given->second});
            return;
        }
    const Part *base = job.find_part(base_of(job)), *work = job.find_part(job.work());
    const bool alone = base && work->steps.empty();
    const std::shared_ptr<const Mesh> body = !outcome ? nullptr
                                             : alone && outcome->parts.contains(base->id)
                                                 ? outcome->parts.at(base->id).mesh
                                                 : outcome->result.mesh;
    ledger_->show({controller_.inspection(), alone ? quoted(base->name) : tr("The result"), true,
                   alone ? base->id : job.work(), body, controller_.result_stands(),
                   outcome ? outcome->base_measures : nullptr});
}

/// The body as a treatment leaves it, beside what it was before.
void Window::inspect_row(const Row& row) {
    const std::string& list = row.list->id;
    const Part* part = controller_.job().find_part(row.id.part);
    const QString name = list == controller_.job().work() ? tr("The result so far") : quoted(part->name);
    const RowOutcome* done = controller_.shown(row);
    const ReadyMesh* last = controller_.body_of_list(list);
    std::shared_ptr<const Mesh> body = done && done->treated && done->treated->mesh ? done->treated->mesh
                                       : done && done->from                         ? done->from
                                       : last                                       ? last->mesh
                                                                                    : nullptr;
    std::shared_ptr<const Measures> before;
    if (const auto mended = controller_.mended(row.step->id)) before = {mended, &mended->before.measures};
    const bool is_last = last && last->mesh == body && last->inspection;
    ledger_->show({is_last ? last->inspection
                   : body  ? inspected(body)
                           : nullptr,
                   name, false, list, body, row.stands, std::move(before)});
}

/// Null while it is still looked at; the ledger is told when that is done.
std::shared_ptr<const Inspection> Window::inspected(const std::shared_ptr<const Mesh>& body) {
    const InspectOptions options = inspect_options(controller_.job().settings, *body);
    if (looked_at_ == body && found_ && found_->options == options) return found_;
    if (asked_about_ == body) return nullptr;
    asked_about_ = body;
    auto found = std::make_shared<std::shared_ptr<const Inspection>>();
    controller_.ask(
        "the body at a row",
        [body, options, found](Progress& progress) {
            if (auto done = inspect(*body, progress, options))
                *found = std::make_shared<const Inspection>(std::move(*done));
        },
        [this, body, found] {
            looked_at_ = body;
            found_ = *found;
            asked_about_ = nullptr;
            inspect_chosen();
        },
        [this, body] {
            if (asked_about_ == body) asked_about_ = nullptr;
        });
    return nullptr;
}

void Window::mend_list(const std::string& list, const std::vector<Repair>& repairs, const MendOptions& options) {
    Job job = controller_.job();
    const Part* part = job.find_part(list);
    if (!part || repairs.empty()) return;
    const QString name = list == job.work() ? tr("the result") : QString::fromStdString(part->name);
    const Place place = place_in(list);
    const bool everywhere = options.places.empty();
    const QString change = everywhere ? tr("mend %1").arg(name) : tr("mend a place of %1").arg(name);
    MendSettings settings{repairs, options, {}};
    std::ranges::sort(settings.repairs);
    // Places of one kind in a row are one step.
    const Step* last = step_before(job, place);
    if (!everywhere && last && last->on && last->kind == "mend") {
        MendSettings before = mend_settings(last->values);
        MendOptions elsewhere = before.options;
        elsewhere.places = options.places;
        if (before.repairs == settings.repairs && !before.options.places.empty() && elsewhere == options) {
            before.options.places.insert(before.options.places.end(), options.places.begin(), options.places.end());
            edit_step(job, last->id, [&](Step& step) { step.values = values_of(before); });
            controller_.change(std::move(job), change);
            return;
        }
    }
    const bool whole = settings.is_whole_plan();
    const ReadyMesh* body = controller_.body_of_list(list);
    if (whole && options == MendOptions() && body) settings.options = cautious_options(*body->mesh);
    const std::string step = add_treatment(job, place, "mend", values_of(settings));
    controller_.change(std::move(job), change);
    if (whole) choose_step(step);
}

void Window::treat(const std::string& kind) {
    const std::string list = list_at_hand();
    if (list.empty()) return;
    Job job = controller_.job();
    const std::string step = add_treatment(job, place_in(list), kind);
    controller_.change(std::move(job), QString::fromStdString(find_kind(kind)->name));
    choose_step(step);
}

/// Of what the ledger lists, with the repairs of a part; a page for people, or JSON where the name ends so.
void Window::save_report(const QString& file) {
    const auto now = ledger_->inspection();
    if (!now) return;
    const Job& job = controller_.job();
    const Part* part = job.find_part(ledger_->part());
    std::vector<Repaired> repairs;
    std::string remains;
    const Inspection* before = nullptr;
    if (part)
        for (const auto& step : part->steps)
            if (const auto done = controller_.mended(step->id)) {
                if (!before) before = &done->before;
                repairs.insert(repairs.end(), done->repairs.begin(), done->repairs.end());
                remains = done->remains();
            }
    const bool of_part = part && part->id != job.work();
    const std::string name = of_part ? part->name : tr("The result").toStdString();
    // Places are told where the file that is exported has them.
    const Transform stands = of_part ? Transform::Identity() : controller_.result_stands();
    std::string text;
    if (file.endsWith(".json", Qt::CaseInsensitive)) {
        Json json{{"operation", repairs.empty() ? "inspect" : "mend"}, {"result", facts(*now, name, stands)}};
        if (ledger_->acceptance().count() > 0) json["accepted"] = facts(ledger_->acceptance());
        if (before) json["before"] = facts(*before, name, stands);
        if (!repairs.empty()) json["repairs"] = facts(repairs, stands);
        text = json.dump(2) + "\n";
    } else {
        QByteArray png;
        QBuffer buffer(&png);
        buffer.open(QIODevice::WriteOnly);
        viewport_->finished_picture().save(&buffer, "PNG");
        text = report_page({name, *now, before, repairs, remains, png.toStdString(), ledger_->acceptance(), stands});
    }
    if (auto written = write_file(text, file.toStdString()); !written)
        fail(written.error());
    else
        hint_line_->show_hint(tr("Saved the report to %1.").arg(file));
}

}  // namespace anvil::app
