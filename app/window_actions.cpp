// What the window can be asked to do: every action with its words, its key and what it calls.
#include <QAction>
#include <QActionGroup>
#include <QApplication>
#include <QFileDialog>
#include <QMenu>

#include "app/panels/find_box.h"
#include "app/panels/job_sheet.h"
#include "app/panels/ledger.h"
#include "app/panels/step_panel.h"
#include "app/theme.h"
#include "app/view/viewport.h"
#include "app/window.h"
#include "app/words.h"

namespace anvil::app {

QAction* Window::add_action(const QString& name, const QString& text, const QString& icon_name, const QKeySequence& key,
                            const QString& tip, std::function<void()> run) {
    auto* a = new QAction(icon_name.isEmpty() ? QIcon() : icon(icon_name), text, this);
    a->setShortcut(key);
    a->setToolTip(tip + (key.isEmpty() ? QString() : "  (" + key.toString(QKeySequence::NativeText) + ")"));
    connect(a, &QAction::triggered, this, [run = std::move(run)] { run(); });
    addAction(a);
    actions_[name] = a;
    return a;
}

void Window::make_actions() {
    add_action("bring-in", tr("Meshes"), "bring-in", QKeySequence("Ctrl+B"),
               tr("Bring meshes onto the bench: STL, OBJ, PLY, OFF"), [this] { ask_for_meshes(); });
    add_action("open", tr("Open job"), "open-job", QKeySequence::Open, tr("Open a saved job"), [this] { open_job(); });
    add_action("save", tr("Save job"), "save-job", QKeySequence::Save, tr("Save the job: parts, steps and places"),
               [this] { save(false); });
    add_action("save-as", tr("Save job as"), "save-job", QKeySequence("Ctrl+Shift+S"),
               tr("Save the job under another name"), [this] { save(true); });
    auto* others = new QMenu(this);
    for (const Operation operation : all_operations) {
        const OperationWords words = words_of(operation);
        const QString name = word_of(operation);
        QAction* a = add_action(name, words.name.at(0).toUpper() + words.name.mid(1), name, {},
                                tr("%1 (%2 in the view)").arg(words.does, QKeySequence(words.key).toString()),
                                [this, operation] { apply_operation(operation); });
        const bool main = operation == Operation::union_of || operation == Operation::difference ||
                          operation == Operation::intersection;
        if (!main) others->addAction(a);
    }
    others->addSeparator();
    others->addAction(
        add_action("plane", tr("Split by a plane"), "plane", {},
                   tr("Put a flat sheet through the base and split along it; move and turn it like a part"),
                   [this] { add_plane(); }));
    others->addSeparator();
    others->addAction(
        add_action("bundle", tr("Bundle with the step above"), "bundle", {},
                   tr("The chosen step acts on the operand of the step above, before that acts on the body "
                      "(Ctrl+Right in the job sheet)"),
                   [this] { sheet_->view()->bundle(true); }));
    others->addAction(add_action("unbundle", tr("Take out of the bundle"), "unbundle", {},
                                 tr("The chosen step acts after its bundle, by itself (Ctrl+Left in the job sheet)"),
                                 [this] { sheet_->view()->bundle(false); }));
    others->setToolTipsVisible(true);
    add_action("more", tr("More"), "more", {}, tr("Split, pieces, inlay and others; bundles"), [] {})->setMenu(others);
    add_action("switch", tr("On / off"), "switch", {}, tr("Switch the chosen step on or off (O in the view)"),
               [this] { toggle_chosen(); });
    add_action("stop-earlier", tr("Stop line up"), {}, {}, tr("Look at the model one step earlier"),
               [this] { sheet_->view()->move_stop(-1); });
    add_action("stop-later", tr("Stop line down"), {}, {}, tr("Look at the model one step later"),
               [this] { sheet_->view()->move_stop(1); });
    add_action("remove", tr("Remove part"), "remove", QKeySequence::Delete,
               tr("Take the chosen part and its step out of the job"), [this] { remove_chosen(); });
    add_action("undo", tr("Undo"), "undo", QKeySequence::Undo, tr("Undo"), [this] { controller_.undo(); });
    add_action("redo", tr("Redo"), "redo", QKeySequence::Redo, tr("Redo"), [this] { controller_.redo(); });
    add_action("whole", tr("Whole"), "whole", {}, tr("Show the whole of it (W in the view)"),
               [this] { viewport_->frame_all(); });
    auto* through = add_action("see-through", tr("See through"), "see-through", {},
                               tr("See through the body (X in the view)"), [] {});
    through->setCheckable(true);
    connect(through, &QAction::toggled, this, [this](bool on) { viewport_->set_see_through(on); });
    add_action("next-place", tr("Next place"), "next-place", QKeySequence("F4"),
               tr("Go to the next place of the chosen finding"), [this] { ledger_->step(1); });
    add_action("export", tr("Export"), "deliver", QKeySequence("Ctrl+E"), tr("Write the result: STL, OBJ, PLY, OFF"),
               [this] {
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
    add_action("find", tr("Find a tool"), {}, QKeySequence("Ctrl+K"), tr("Find a tool"),
               [this] { find_box_->setFocus(Qt::ShortcutFocusReason); });
    add_action("demo", tr("Demo: signal lantern"), "demo", {}, tr("Open the demonstration job"),
               [this] { open_demo(); });
    add_action("demo-scan", tr("Demo: scanned bracket"), "demo", {}, tr("Bring in a badly scanned bracket to inspect"),
               [this] { open_demo_scan(); });
}

/// The whole plan, and each repair by itself, in the list that is at hand.
void Window::make_mend_actions() {
    auto mend = [this](std::vector<Repair> repairs) {
        if (const std::string list = list_at_hand(); !list.empty()) mend_list(list, repairs, {});
    };
    const auto plan = whole_plan();
    add_action("mend", tr("Mend all"), "mend", {},
               tr("Run the whole plan of repairs on what is chosen, as a row of the job sheet (M in the view)"),
               [mend, plan] {
                   mend({plan.begin(), plan.end()});
               });
    auto* by_hand = add_action("by-hand", tr("By hand"), "by-hand", {},
                               tr("Choose faces, edges or points and edit them (H in the view)"), [this] {
                                   const std::string list = list_at_hand();
                                   if (hand_->is_on())
                                       hand_->stop();
                                   else if (!list.empty())
                                       hand_->start(list, stands_of(list));
                               });
    by_hand->setCheckable(true);
    auto* menu = new QMenu(this);
    menu->setToolTipsVisible(true);
    for (const Repair repair : plan) {
        const RepairWords words = words_of(repair);
        menu->addAction(add_action("mend-" + QString::fromUtf8(word(repair).data()),
                                   words.name.at(0).toUpper() + words.name.mid(1), {}, {}, words.does,
                                   [mend, repair] { mend({repair}); }));
    }
    menu->addSeparator();
    menu->addAction(
        add_action("report", tr("Save a report …"), {}, {},
                   tr("Findings and repairs of what the ledger lists, as a page (HTML) or as JSON"), [this] {
                       const QString file =
                           QFileDialog::getSaveFileName(this, tr("Save a report"), {}, tr("Reports (*.html *.json)"));
                       if (!file.isEmpty()) save_report(file);
                   }));
    add_action("repairs", tr("Repairs"), "repairs", {}, tr("One repair by itself"), [] {})->setMenu(menu);
    make_treat_actions();
}

/// Steps that change a body by themselves, as their kinds say; those that mend have tools of their own.
void Window::make_treat_actions() {
    auto* menu = new QMenu(this);
    menu->setToolTipsVisible(true);
    for (const Kind* kind : all_kinds()) {
        if (kind->of != KindClass::treat || kind->wants_selection() || !kind->panel.empty()) continue;
        const QString word = QString::fromStdString(kind->word), name = QString::fromStdString(kind->name);
        menu->addAction(add_action("treat-" + word, name.at(0).toUpper() + name.mid(1), word, {},
                                   QString::fromStdString(kind->says), [this, word] { treat(word.toStdString()); }));
    }
    add_action("treat", tr("Change"), "treat", {}, tr("Change the body by itself: mirror, place and others"), [] {
    })->setMenu(menu);
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
         tr("Hide what is sound: only the faces of the chosen kind of finding, or of all"), Surface::findings}};
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
    add_action("surface", tr("Surface"), "surface", {}, tr("Show the body plain, with all its lines, or in colours"),
               [] {})
        ->setMenu(menu);
}

}  // namespace anvil::app
