// What the window can be asked to do: every action with its words, its key and what it calls.
#include <QAction>
#include <QActionGroup>
#include <QApplication>
#include <QCursor>
#include <QFileDialog>
#include <QFileInfo>
#include <QMenu>
#include <QToolButton>

#include "app/panels/copies_panel.h"
#include "app/panels/find_box.h"
#include "app/panels/flush_strip.h"
#include "app/panels/hint_line.h"
#include "app/panels/job_sheet.h"
#include "app/panels/ledger.h"
#include "app/panels/route.h"
#include "app/panels/row_words.h"
#include "app/panels/step_panel.h"
#include "app/theme.h"
#include "app/user_settings.h"
#include "app/view/viewport.h"
#include "app/window.h"
#include "app/words.h"
#include "core/job/new_shape.h"
#include "core/job/place_edits.h"
#include "core/mesh/measures.h"

namespace anvil::app {

QAction* Window::add_action(const QString& name, const QString& text, const QString& icon_name, const QKeySequence& key,
                            const QString& tip, std::function<void()> run) {
    auto* a = new QAction(icon_name.isEmpty() ? QIcon() : icon(icon_name), text, this);
    a->setObjectName(name);
    a->setShortcut(key);
    a->setToolTip(tip + (key.isEmpty() ? QString() : "  (" + key.toString(QKeySequence::NativeText) + ")"));
    connect(a, &QAction::triggered, this, [run = std::move(run)] { run(); });
    addAction(a);
    actions_[name] = a;
    return a;
}

void Window::make_actions() {
    add_action("bring-in", tr("Meshes"), "bring-in", QKeySequence("Ctrl+B"),
               tr("Bring meshes onto the bench: 3MF, STL, OBJ, PLY, OFF"), [this] { ask_for_meshes(); });
    add_action("open", tr("Open job"), "open-job", QKeySequence::Open, tr("Open a saved job"), [this] { open_job(); });
    auto* recent = new QMenu(this);
    connect(recent, &QMenu::aboutToShow, this, [this, recent] {
        recent->clear();
        for (const QString& file : recent_files())
            connect(recent->addAction(QFileInfo(file).fileName()), &QAction::triggered, this,
                    [this, file] { open_files({file}); });
        if (recent->isEmpty()) recent->addAction(tr("Nothing was opened or saved yet"))->setEnabled(false);
    });
    add_action("recent", tr("Recent files"), "open-job", {}, tr("Jobs and meshes that were opened or saved last"),
               [recent] { recent->popup(QCursor::pos()); })
        ->setProperty("choices", QVariant::fromValue(recent));
    add_action("save", tr("Save job"), "save-job", QKeySequence::Save, tr("Save the job: parts, steps and places"),
               [this] { save(false); });
    add_action("save-as", tr("Save job as"), "save-job", QKeySequence("Ctrl+Shift+S"),
               tr("Save the job under another name"), [this] { save(true); });
    for (const Operation operation : all_operations) {
        const OperationWords words = words_of(operation);
        const QString name = word_of(operation);
        add_action(name, capitalised(words.name), name, {},
                   tr("%1 (%2 in the view)").arg(words.does, QKeySequence(words.key).toString()),
                   [this, operation] { apply_operation(operation); });
    }
    make_cut_actions();
    add_action("bundle", tr("Bundle"), "bundle", {},
               tr("The selected step acts on the operand of the step above, before that acts on the body "
                  "(Ctrl+Right in the job sheet)"),
               [this] { sheet_->view()->bundle(true); });
    add_action("unbundle", tr("Unbundle"), "unbundle", {},
               tr("The selected step acts after its bundle, by itself (Ctrl+Left in the job sheet)"),
               [this] { sheet_->view()->bundle(false); });
    add_action("switch", tr("On / off"), "switch", {}, tr("Switch the selected step on or off (O in the view)"),
               [this] { toggle_chosen(); });
    add_action("stop-earlier", tr("Stop line up"), {}, {}, tr("Look at the model one step earlier"),
               [this] { sheet_->view()->move_stop(-1); });
    add_action("stop-later", tr("Stop line down"), {}, {}, tr("Look at the model one step later"),
               [this] { sheet_->view()->move_stop(1); });
    add_action("remove", tr("Remove part"), "remove", QKeySequence::Delete,
               tr("Take the selected part and its step out of the job"), [this] { remove_chosen(); });
    add_action("undo", tr("Undo"), "undo", QKeySequence::Undo, tr("Undo"), [this] { controller_.undo(); });
    add_action("redo", tr("Redo"), "redo", QKeySequence::Redo, tr("Redo"), [this] { controller_.redo(); });
    add_action("whole", tr("Fit view"), "whole", {}, tr("Show everything (V in the view)"),
               [this] { viewport_->frame_all(); });
    auto* through = add_action("see-through", tr("See through"), "see-through", {},
                               tr("See through the body (X in the view)"), [] {});
    through->setCheckable(true);
    connect(through, &QAction::toggled, this, [this](bool on) { viewport_->set_see_through(on); });
    add_action("next-place", tr("Next place"), "next-place", QKeySequence("F4"),
               tr("Go to the next place of the selected finding"), [this] { ledger_->step(1); });
    add_action("export", tr("Export"), "deliver", QKeySequence("Ctrl+E"),
               tr("Write the result: 3MF, STL, OBJ, PLY, OFF"), [this] {
                   const QString file =
                       QFileDialog::getSaveFileName(this, tr("Export the result"), export_name(), mesh_filter());
                   if (!file.isEmpty()) controller_.deliver(file);
               });
    auto* dark = add_action("dark", tr("Dark bench"), "lamp", {}, tr("Dark bench, for work in a dim room"), [] {});
    dark->setCheckable(true);
    dark->setChecked(theme() == Theme::dark);
    connect(dark, &QAction::toggled, this, [](bool on) {
        const Theme wanted = on ? Theme::dark : Theme::light;
        save_theme(wanted);
        apply_theme(*qApp, wanted);
    });
    make_mend_actions();
    make_surface_actions();
    make_section_actions();
    make_measure_actions();
    add_action("find", tr("Find a tool"), {}, QKeySequence("Ctrl+K"), tr("Find a tool"),
               [this] { find_box_->setFocus(Qt::ShortcutFocusReason); });
    add_action("demo", tr("Demo: signal lantern"), "demo", {}, tr("Open the demonstration job"),
               [this] { open_demo(); });
    add_action("demo-scan", tr("Demo: bad scan"), "demo", {}, tr("Bring in a badly scanned bracket to inspect"),
               [this] { open_demo_scan(); });
}

/// The whole plan, and each repair by itself, in the list that is at hand.
void Window::make_mend_actions() {
    auto mend = [this](std::vector<Repair> repairs) {
        if (const std::string list = list_at_hand(); !list.empty()) mend_list(list, repairs, {});
    };
    const auto plan = whole_plan();
    add_action("mend", tr("Mend all"), "mend", {},
               tr("Run the whole plan of repairs on what is selected, as a row of the job sheet (M in the view)"),
               [mend, plan] {
                   mend({plan.begin(), plan.end()});
               });
    auto* by_hand = add_action("by-hand", tr("By hand"), "by-hand", {},
                               tr("Select faces, edges or points and edit them (H in the view)"), [this] {
                                   const std::string list = list_at_hand();
                                   if (hand_->is_on())
                                       hand_->stop();
                                   else if (!list.empty())
                                       hand_->start(list, stands_of(list));
                               });
    by_hand->setCheckable(true);
    for (const Repair repair : plan) {
        const RepairWords words = words_of(repair);
        add_action("mend-" + QString::fromUtf8(word(repair).data()), capitalised(words.name), {}, {}, words.does,
                   [mend, repair] { mend({repair}); });
    }
    add_action("report", tr("Save a report"), "report", {},
               tr("Findings and repairs of what the ledger lists, as a page (HTML) or as JSON"), [this] {
                   const QString file =
                       QFileDialog::getSaveFileName(this, tr("Save a report"), {}, tr("Reports (*.html *.json)"));
                   if (!file.isEmpty()) save_report(file);
               });
    make_shape_actions();
    make_copies_actions();
    make_place_actions();
    make_align_actions();
    make_link_actions();
    make_treat_actions();
}

/// The tool of a kind: called and told as that says.
void Window::add_kind_action(const QString& prefix, const Kind& kind, const QString& icon_name, const QString& tip,
                             std::function<void(const std::string&)> run) {
    QAction* a = add_action(prefix + QString::fromStdString(kind.word), capitalised(kind.name), icon_name, {}, tip,
                            [word = kind.word, run = std::move(run)] { run(word); });
    a->setStatusTip(uncapitalised(QString::fromStdString(kind.says)));
}

/// Steps that change a body by themselves, as their kinds say; some have tools of their own.
void Window::make_treat_actions() {
    for (const Kind* kind : all_kinds())
        if (kind->of == KindClass::treat && !kind->wants_selection() && kind->panel.empty() &&
            !actions_.contains(QString::fromStdString(kind->word)))
            add_kind_action("treat-", *kind, QString::fromStdString(kind->word), QString::fromStdString(kind->says),
                            [this](const std::string& word) { treat(word); });
}

/// Every shape, as its kind says.
void Window::make_shape_actions() {
    add_action("shapes", tr("Shapes"), "shapes", {}, tr("Open the drawer of shapes"),
               [this] { route_->station_button(tr("Shapes"))->click(); });
    for (const Kind* kind : all_shapes())
        add_kind_action("shape-", *kind, "shape-" + QString::fromStdString(kind->word),
                        tr("%1; it comes in under the pointer, or in the middle of the view")
                            .arg(QString::fromStdString(kind->says)),
                        [this](const std::string& word) { add_shape(word); });
}

/// Every way to copy an operand, as its kind says.
void Window::make_copies_actions() {
    for (const Kind* kind : all_copies())
        add_kind_action("copies-", *kind, "copies",
                        tr("Of the selected step's part: %1").arg(uncapitalised(QString::fromStdString(kind->says))),
                        [this](const std::string& word) { step_panel_->copies()->copy(word); });
}

/// Where parts stand.
void Window::make_place_actions() {
    add_action("duplicate", tr("Duplicate"), "duplicate", QKeySequence("Ctrl+D"),
               tr("Repeat what is selected, with what belongs to it"), [this] { duplicate_chosen(); });
    add_action(
        "drop", tr("Drop to bed"), "drop", {},
        tr("Put the lowest point of the selected part on the bed: of the base at z = 0, of others on the base's"),
        [this] {
            move_chosen(tr("drop %1"), [this](const Mesh& body, const Transform& stands) {
                return onto_height(body, stands, bed_of(*controller_.row(chosen_)));
            });
        });
    add_action("centre", tr("Centre"), "centre", {},
               tr("Put the middle of the selected part over that of the base; of the base over x = 0, y = 0"), [this] {
                   Vec3 middle;
                   if (const Row* row = controller_.row(chosen_); row && !row->is_base())
                       if (const auto [base, at] = controller_.body_of(controller_.rows().front()); base)
                           middle = placed(bounds(*base->mesh), at).center();
                   move_chosen(tr("centre %1"), [middle](const Mesh& body, const Transform& stands) {
                       return over_middle(body, stands, middle);
                   });
               });
    add_action("lay-flat", tr("Lay on a face"), "lay-flat", {},
               tr("Click a face of the selected part: it is rotated so that the face lies on the bed"), [this] {
                   viewport_->pick(
                       tr("Click the face of %1 that is to lie on the bed. Esc: leave it.")
                           .arg(quoted(controller_.job().find_part(chosen_.part)->name)),
                       {}, [this](const Viewport::Hit& hit) {
                           if (hit.part != chosen_.part) return;
                           move_chosen(tr("lay %1 on a face"), [this, hit](const Mesh& body, const Transform& stands) {
                               return laid_down(body, stands, hit.normal, bed_of(*controller_.row(chosen_)));
                           });
                       });
               });
    add_action("flush", tr("Lay against a face"), "flush", {},
               tr("Click a face of the selected part, then one of another part: they are put against each other, or at "
                  "a distance"),
               [this] { lay_against(); });
    add_action(
        "pivot", tr("Place the pivot"), "pivot", {},
        tr("Click what the selected part is rotated and scaled about: a corner, a centre, any place"), [this] {
            viewport_->pick(
                tr("Click where the pivot is to be: corners, middles and centres are met exactly. Esc: leave it."), {},
                [this](const Viewport::Hit& hit) { viewport_->set_pivot(hit.place); }, true);
        });
    add_action("pivot-middle", tr("Pivot to the middle"), "pivot-middle", {},
               tr("The selected part is rotated and scaled about its middle again"),
               [this] { viewport_->set_pivot(std::nullopt); });
    add_action(
        "stand-on", tr("Stand on a face"), "stand-on", {},
        tr("Click a face of another part: the selected one stands there, its z axis along the face's normal"), [this] {
            viewport_->pick(tr("Click where %1 is to stand. Esc: leave it.")
                                .arg(quoted(controller_.job().find_part(chosen_.part)->name)),
                            chosen_.part, [this](const Viewport::Hit& hit) {
                                const Row* row = controller_.row(chosen_);
                                if (!row) return;
                                Job job = controller_.job();
                                const Transform to = standing_on(hit.place, hit.normal).transform();
                                const Transform now = row->frame * row->placement().transform();
                                move_row(job, *row, to * Transform(now.inverse()));
                                controller_.change(std::move(job),
                                                   tr("stand %1 on a face").arg(name_of(*row, controller_.job())));
                            });
        });
}

/// A face of the selected part against one of another: asks for both, then for the distance.
void Window::lay_against() {
    const Part* part = controller_.job().find_part(chosen_.part);
    if (!part) return;
    const QString name = quoted(part->name);
    auto corner = [](const Viewport::Hit& hit) { return hit.mesh->corner(hit.face, 0); };
    viewport_->pick(tr("Click the face of %1 that is to lie against another. Esc: leave it.").arg(name), {},
                    [this, name, corner](const Viewport::Hit& own) {
                        const Row* row = controller_.row(chosen_);
                        if (own.part != chosen_.part || !row || !own.mesh) {
                            hint_line_->show_hint(tr("That is no face of %1.").arg(name));
                            return;
                        }
                        const Transform stands = row->frame * row->placement().transform();
                        const Vec3 place = apply(Transform(stands.inverse() * own.stands), corner(own));
                        ask_what_against(name, place, own.normal);
                    });
}

void Window::ask_what_against(const QString& name, const Vec3& place, const Vec3& normal) {
    viewport_->pick(tr("Click the face that %1 is to lie against. Esc: leave it.").arg(name), chosen_.part,
                    [this, name, place, normal](const Viewport::Hit& other) {
                        const Vec3 onto = apply(other.stands, other.mesh->corner(other.face, 0)), to = other.normal;
                        flush_strip_->ask(name, [this, before = controller_.job(), id = chosen_, place, normal, onto,
                                                 to](double distance) {
                            Job job = before;
                            const std::vector<Row> rows = rows_of(job);
                            const Row* at = find_row(rows, id);
                            if (!at) return;
                            const QString done = tr("lay %1 against a face").arg(name_of(*at, before));
                            lay_flush(job, *at, place, normal, onto, to, distance);
                            controller_.change(std::move(job), done, "flush");
                        });
                        flush_strip_->put();
                    });
}

/// A plane through the view; its button has a menu for how it lies.
void Window::make_section_actions() {
    auto* section =
        add_action("section", tr("Section"), "section", {},
                   tr("Cut the view by a plane and look inside; the model stays as it is (E in the view)"), [this] {
                       if (viewport_->section())
                           viewport_->end_section();
                       else
                           viewport_->start_section(nearest_axis());
                   });
    section->setCheckable(true);
    auto* menu = new QMenu(this);
    menu->setToolTipsVisible(true);
    const std::pair<const char*, QString> ways[] = {{"section-x", tr("Across x")},
                                                    {"section-y", tr("Across y")},
                                                    {"section-z", tr("Across z")},
                                                    {"section-view", tr("Across the line of sight")}};
    for (int k = 0; k < 4; ++k)
        menu->addAction(add_action(ways[k].first, ways[k].second, {}, {},
                                   tr("A section through the middle, square to that; the nearer side goes"),
                                   [this, k] { viewport_->start_section(k); }));
    menu->addAction(add_action("section-flip", tr("Other side"), {}, {},
                               tr("Show what the section hides, and hide the rest"),
                               [this] { viewport_->flip_section(); }));
    section->setMenu(menu);
}

void Window::make_measure_actions() {
    auto* measure =
        add_action("measure", tr("Measure"), "measure", {},
                   tr("Distances, angles of faces, and diameters, between places that you click (A in the view)"),
                   [this] { viewport_->start_measuring(!viewport_->is_measuring()); });
    measure->setCheckable(true);
    add_action("measure-clear", tr("Take off measurements"), {}, {}, tr("Take what was measured off the view"),
               [this] { viewport_->clear_measurements(); });
}

/// The axis along which the eye looks most.
int Window::nearest_axis() const {
    const Vec3 d = viewport_->camera().direction();
    // Upright sections show more of what stands on the bed.
    return std::fabs(d.z) > 0.8 ? 2 : std::fabs(d.x) > std::fabs(d.y) ? 0 : 1;
}

/// How the skin of the body is shown: one of these holds.
void Window::make_surface_actions() {
    const struct {
        const char* name;
        QString text, tip;
        Surface surface;
    } surfaces[] = {
        {"surface-plain", tr("Plain"), tr("The body with its creases"), Surface::plain},
        {"surface-lines", tr("All lines"), tr("Every edge of every face"), Surface::lines},
        {"surface-shells", tr("Colour by shell"), tr("A colour for each shell"), Surface::shells},
        {"surface-regions", tr("Colour by region"), tr("A colour for each region between creases"), Surface::regions},
        {"surface-findings", tr("Findings only"),
         tr("Hide what is sound: only the faces of the selected kind of finding, or of all"), Surface::findings}};
    auto* menu = new QMenu(this);
    menu->setToolTipsVisible(true);
    auto* group = new QActionGroup(this);
    for (const auto& s : surfaces) {
        QAction* a =
            add_action(s.name, s.text, {}, {}, s.tip, [this, surface = s.surface] { viewport_->set_surface(surface); });
        a->setCheckable(true);
        a->setChecked(s.surface == Surface::plain);
        group->addAction(a);
        menu->addAction(a);
    }
    menu->addSeparator();
    menu->addAction(actions_.at("dark"));
    auto* sizes = new QActionGroup(this);
    for (const int percent : {100, 125, 150}) {
        QAction* a =
            add_action(QString("text-%1").arg(percent), tr("Text at %1 %").arg(percent), {}, {},
                       tr("Draw texts and icons at this size, from the next start on"), [this, percent] {
                           save_text_size(percent);
                           hint_line_->show_hint(tr("Texts are drawn at %1 % from the next start on.").arg(percent));
                       });
        a->setCheckable(true);
        a->setChecked(saved_text_size() == percent);
        sizes->addAction(a);
        menu->addAction(a);
    }
    add_action("surface", tr("Surface"), "surface", {}, tr("Show the body plain, with all its lines, or in colours"),
               [] {})
        ->setMenu(menu);
}

}  // namespace anvil::app
