// Links, copies of results, pieces as parts, and groups of rows.
#include <QAction>
#include <QCursor>
#include <QMenu>

#include "app/panels/hint_line.h"
#include "app/panels/job_sheet.h"
#include "app/panels/row_words.h"
#include "app/panels/step_panel.h"
#include "app/window.h"
#include "app/words.h"
#include "core/job/groups.h"
#include "core/job/links.h"
#include "core/job/place_edits.h"
#include "core/mesh/measures.h"

namespace anvil::app {

void Window::make_link_actions() {
    add_action("link", tr("Link"), "link", QKeySequence("Ctrl+L"),
               tr("Another part that follows the selected one: its shape, its steps and its bundle"), [this] {
                   const Row* row = controller_.row(chosen_);
                   if (row) add_linked(*row, link_to(controller_.job(), *row), tr("link to %1"));
               });
    add_action("link-stage", tr("Result so far"), "link-stage", QKeySequence("Ctrl+Shift+L"),
               tr("A part that follows the body as the selected row leaves it, to be used again"), [this] {
                   const Row* row = controller_.row(chosen_);
                   if (row) add_linked(*row, link_to_stage(*row), tr("result of %1"));
               });
    add_action("freeze", tr("Freeze"), "freeze", {},
               tr("The body as the selected row leaves it becomes a mesh of its own, which nothing changes any more"),
               [this] { freeze_chosen(); });
    add_action(
        "pieces-apart", tr("Pieces as parts"), "pieces-apart", {},
        tr("Every separate body of the result, or of the selected part on the bench, becomes a part that follows it"),
        [this] { part_pieces(); });
    add_action("take-out", tr("Take out"), "take-out", {},
               tr("The selected part goes back to the bench; its step goes"), [this] { take_out_chosen(); });
    add_action("group", tr("Group"), "group", QKeySequence("Ctrl+G"),
               tr("The selected rows get one switch, one operation and a name"), [this] { group_chosen(); });
    add_action("ungroup", tr("Ungroup"), "ungroup", QKeySequence("Ctrl+Shift+G"),
               tr("The rows stand by themselves again"), [this] {
                   const Row* row = controller_.row(chosen_);
                   if (!row || !is_group(*row)) return;
                   Job job = controller_.job();
                   ungroup(job, row->step->id);
                   controller_.change(std::move(job), tr("ungroup %1").arg(name_of(*row, controller_.job())));
               });
}

/// One tool for all, with a menu: by which side, along which axis, or with equal gaps.
void Window::make_align_actions() {
    auto* menu = new QMenu(this);
    for (int axis = 0; axis < 3; ++axis) {
        const QString name = QString("xyz").mid(axis, 1);
        const std::pair<AlignSide, QString> sides[] = {{AlignSide::low, tr("Low sides along %1")},
                                                       {AlignSide::middle, tr("Middles along %1")},
                                                       {AlignSide::high, tr("High sides along %1")}};
        for (const auto& [side, text] : sides)
            connect(menu->addAction(text.arg(name)), &QAction::triggered, this, [this, axis, side = side] {
                arrange_chosen(tr("align %1"), axis,
                               [axis, side](std::span<const Box> boxes) { return aligned(boxes, axis, side); });
            });
        connect(menu->addAction(tr("Equal gaps along %1").arg(name)), &QAction::triggered, this, [this, axis] {
            arrange_chosen(tr("distribute %1"), axis,
                           [axis](std::span<const Box> boxes) { return distributed(boxes, axis); });
        });
        if (axis < 2) menu->addSeparator();
    }
    QAction* align = add_action("align", tr("Align"), "align", {},
                                tr("Line several selected parts up with the first of them, or give them equal gaps"),
                                [this, menu] { menu->popup(QCursor::pos()); });
    align->setProperty("choices", QVariant::fromValue(menu));
}

void Window::arrange_chosen(const QString& done, int axis,
                            const std::function<std::vector<double>(std::span<const Box>)>& by) {
    std::vector<RowId> rows;
    std::vector<Box> boxes;
    for (const RowId& id : job_sheet()->chosen_rows()) {
        const Row* row = controller_.row(id);
        if (!row || (row->step && !row->use)) continue;
        const auto [body, stands] = controller_.body_of(*row);
        if (!body) continue;
        rows.push_back(id);
        boxes.push_back(bounds(transformed(*body->mesh, stands)));
    }
    if (rows.size() < 2) {
        hint_line_->show_hint(tr("Select several parts first: their rows, with Ctrl held."));
        return;
    }
    const std::vector<double> ways = by(boxes);
    Job job = controller_.job();
    for (std::size_t k = 0; k < rows.size(); ++k) {
        const std::vector<Row> now = rows_of(job);
        const Row* row = find_row(now, rows[k]);
        if (!row || ways[k] == 0) continue;
        Vec3 way;
        way[axis] = ways[k];
        move_row(job, *row, translation(way));
    }
    controller_.change(std::move(job), done.arg(names_of(rows, controller_.rows(), controller_.job())));
}

bool Window::is_group(const Row& row) { return row.kind && row.kind->word == "group"; }

void Window::refresh_link_actions() {
    const Row* row = controller_.row(chosen_);
    for (const char* name : {"link", "link-stage", "freeze", "pieces-apart"})
        actions_[name]->setEnabled(row != nullptr);
    actions_["take-out"]->setEnabled(row && row->step && row->use);
    actions_["align"]->setEnabled(row != nullptr);
    actions_["group"]->setEnabled(row && row->step);
    actions_["ungroup"]->setEnabled(row && is_group(*row));
}

/// How far to the side something new goes that would else lie on what it is made of.
Vec3 Window::beside(const Row& row) const {
    const auto [body, stands] = controller_.body_of(row);
    if (!body) return {};
    const double width = placed(bounds(*body->mesh), stands).size().x;
    return {std::ceil(std::isfinite(width) ? 1.2 * width : 0), 0, 0};
}

/// Where what a link follows stands, beside that.
Placement Window::bench_for(const Row& row, const Link& link) const {
    Transform there = row.idle && !row.step ? row.list->bench.transform() : Transform(row.frame);
    const bool of_operand = row.step && row.step->operand && link.part == row.step->operand->part;
    if (link.part == controller_.job().work()) there = controller_.rows().front().stands;
    if (row.is_base() && link.part != controller_.job().work())
        if (const auto* use = std::get_if<Use>(&row.list->source)) there = row.stands * use->placement.transform();
    if (of_operand) there = row.frame * row.step->operand->placement.transform();
    Placement out = placement_from(there);
    out.position = out.position + beside(row.idle || of_operand ? row : controller_.rows().front());
    return out;
}

void Window::add_linked(const Row& row, const Link& link, const QString& done) {
    Job job = controller_.job();
    const QString name = name_of(row, job);
    const std::string id = add_link(job, name.toStdString(), link, bench_for(row, link));
    controller_.change(std::move(job), done.arg(name));
    choose_part(id);
    hint_line_->show_hint(tr("It follows %1 and waits on the bench. U, D or I in the view: what it does.")
                              .arg(quoted(name.toStdString())));
}

void Window::freeze_chosen() {
    const Row* row = controller_.row(chosen_);
    if (!row) return;
    const QString name = name_of(*row, controller_.job());
    Link link = row->idle && !row->step ? Link{.part = row->list->id} : link_to_stage(*row);
    if (row->is_base()) link = {.part = controller_.job().work()};
    const Placement bench = bench_for(*row, link);
    controller_.follow_once(link, [this, name, link, bench](std::shared_ptr<const Mesh> body, const auto&) {
        Job job = controller_.job();
        const std::string id = add_link(job, name.toStdString(), link, bench);
        use_copy(job, id, std::move(body));
        controller_.change(std::move(job), tr("freeze %1").arg(name));
        choose_part(id);
    });
}

/// Of a part on the bench; else of the result.
void Window::part_pieces() {
    const Row* row = controller_.row(chosen_);
    if (!row) return;
    Link link{.part = row->idle ? row->list->id : controller_.job().work()};
    const QString name = name_of(*row, controller_.job());
    const Placement bench = bench_for(*row, link);
    controller_.follow_once(link, [this, name, link, bench](const auto&, const std::vector<PieceOf>& pieces) {
        constexpr std::size_t most = 200;
        if (pieces.size() < 2 || pieces.size() > most) {
            hint_line_->show_hint(pieces.size() < 2 ? tr("It is one piece.")
                                                    : tr("It has %1 pieces; at most 200 become parts. Drop the small "
                                                         "ones first (Mend).")
                                                          .arg(pieces.size()));
            return;
        }
        Job job = controller_.job();
        std::string last;
        for (const PieceOf& piece : pieces) {
            Link one = link;
            one.piece = piece;
            last = add_link(job, tr("%1 piece %2").arg(name).arg(piece.number + 1).toStdString(), one, bench);
        }
        controller_.change(std::move(job), tr("pieces of %1").arg(name));
        choose_part(last);
    });
}

void Window::take_out_chosen() {
    const Row* row = controller_.row(chosen_);
    if (!row || !row->step || !row->use) return;
    Job job = controller_.job();
    const std::string part = row->id.part;
    const QString name = name_of(*row, job);
    remove_step(job, row->step->id);
    controller_.change(std::move(job), tr("take %1 out").arg(name));
    choose_part(part);
}

void Window::group_chosen() {
    std::vector<std::string> steps;
    for (const RowId& id : sheet_->chosen_rows())
        if (id.is_step()) steps.push_back(id.step());
    Job job = controller_.job();
    const auto made = group_steps(job, steps);
    if (!made) {
        hint_line_->show_hint(capitalised(QString::fromStdString(made.error().text)) + ".");
        return;
    }
    const auto rows = sheet_->chosen_rows();
    controller_.change(std::move(job), tr("group %1").arg(names_of(rows, controller_.rows(), controller_.job())));
    choose_step(*made);
}

}  // namespace anvil::app
