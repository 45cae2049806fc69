#include "app/window.h"

#include <QAction>
#include <QActionGroup>
#include <QApplication>
#include <QBuffer>
#include <QCloseEvent>
#include <QCoreApplication>
#include <QDir>
#include <QFileDialog>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QLabel>
#include <QMenu>
#include <QMessageBox>
#include <QPushButton>
#include <QStandardPaths>
#include <QVBoxLayout>
#include <csignal>

#include "app/panels/empty_bench.h"
#include "app/panels/find_box.h"
#include "app/panels/hand_strip.h"
#include "app/panels/hint_line.h"
#include "app/panels/job_sheet.h"
#include "app/panels/ledger.h"
#include "app/panels/mend_panel.h"
#include "app/panels/question_strip.h"
#include "app/panels/step_panel.h"
#include "app/panels/tool_row.h"
#include "app/panels/unit_strip.h"
#include "app/theme.h"
#include "app/view/viewport.h"
#include "app/words.h"
#include "core/io/mesh_file.h"
#include "core/job/job_file.h"
#include "core/mesh/primitives.h"
#include "core/report/facts.h"
#include "core/report/page.h"
#include "demo/lantern.h"

namespace anvil::app {
namespace {

QString job_filter() { return Window::tr("Jobs (*.anvil)"); }
QString autosave_folder() { return QStandardPaths::writableLocation(QStandardPaths::AppDataLocation) + "/autosave"; }

}  // namespace

QString Window::mesh_filter() { return tr("Meshes (*.stl *.obj *.ply *.off *.STL *.OBJ *.PLY *.OFF)"); }

Window::Window(QWidget* parent) : QMainWindow(parent) {
    setObjectName("bench");
    make_actions();
    make_layout();
    resize(1280, 800);

    connect(&controller_, &JobController::job_changed, this, [this] {
        hint_line_->clear_error();
        const Part* part = controller_.job().find_part(chosen_);
        if (!chosen_.empty() && !part)
            choose_part({});
        else if (part && !chosen_mending_.empty() && !part->find_mending(chosen_mending_))
            choose_part(chosen_);
        sheet_->choose(chosen_, chosen_mending_);
        refresh_actions();
        refresh_title();
        hint_line_->show_hint(controller_.job().parts.empty()
                                  ? tr("Drop meshes here, or take Bring in above.")
                                  : tr("Drag to turn, right-drag to slide, wheel to zoom; click a part to choose it."));
    });
    connect(&controller_, &JobController::inspected, this, &Window::inspect_chosen);
    connect(&controller_, &JobController::evaluated, this, &Window::inspect_chosen);
    connect(&controller_, &JobController::failed, this, &Window::fail);
    connect(&controller_, &JobController::delivered, this, [this](const QString& said) {
        hint_line_->clear_error();
        hint_line_->show_hint(said);
    });
    connect(sheet_, &JobSheet::hint, hint_line_, &HintLine::show_hint);
    connect(sheet_, &JobSheet::chosen, this, &Window::choose_part);
    connect(viewport_, &Viewport::part_clicked, this, [this](const std::string& part) { choose_part(part); });
    connect(viewport_, &Viewport::hint, hint_line_, &HintLine::show_hint);
    connect(unit_strip_, &UnitStrip::hint, hint_line_, &HintLine::show_hint);
    connect(step_panel_, &StepPanel::hint, hint_line_, &HintLine::show_hint);
    connect(viewport_, &Viewport::files_dropped, this, &Window::open_files);
    connect(viewport_, &Viewport::key_command, this, [this](const QString& name) { action(name)->trigger(); });
    connect(ledger_, &Ledger::pins_changed, this, [this] {
        viewport_->set_pins(ledger_->pins());
        viewport_->set_findings(ledger_->inspection(), ledger_->chosen_kind(), ledger_->placement());
    });
    connect(mend_panel_, &MendPanel::compare_wanted, viewport_, &Viewport::set_compare);
    connect(viewport_, &Viewport::compare_changed, this, [this] { mend_panel_->show_compare(viewport_->compare()); });
    connect(ledger_, &Ledger::place_chosen, viewport_, &Viewport::frame_place);
    connect(ledger_, &Ledger::part_wanted, this, [this](const std::string& part) { choose_part(part); });
    connect(ledger_, &Ledger::mend_wanted, this, &Window::mend_part);
    connect(question_strip_, &QuestionStrip::hint, hint_line_, &HintLine::show_hint);
    connect(hand_, &HandMode::said, hint_line_, &HintLine::show_hint);
    connect(hand_, &HandMode::changed, this, &Window::show_hand);
    connect(hand_strip_, &HandStrip::findings_wanted, this, [this] {
        if (const auto kind = ledger_->chosen_kind(); kind && ledger_->inspection())
            hand_->choose_findings(*ledger_->inspection(), *kind);
        else
            hint_line_->show_hint(tr("Choose a line of the ledger first."));
    });
    connect(&controller_, &JobController::evaluated, this, [this] { question_strip_->refresh(viewport_->camera()); });
    connect(mend_panel_, &MendPanel::hint, hint_line_, &HintLine::show_hint);
    connect(mend_panel_, &MendPanel::pins_changed, this, [this] { viewport_->set_pins(mend_panel_->pins()); });
    connect(hint_line_, &HintLine::details_wanted, this, [this](const QString& text) {
        QMessageBox box(QMessageBox::Information, tr("Details"), text, QMessageBox::Ok, this);
        box.setTextInteractionFlags(Qt::TextSelectableByMouse);
        box.exec();
    });

    QDir().mkpath(autosave_folder());
    autosave_file_ = autosave_folder() + "/" + QString::number(QCoreApplication::applicationPid()) + ".anvil";
    connect(&autosave_timer_, &QTimer::timeout, this, &Window::autosave);
    autosave_timer_.start(60'000);
    refresh_actions();
    refresh_title();
    hint_line_->show_hint(tr("Drop meshes here, or take Bring in above."));
    QTimer::singleShot(0, this, &Window::offer_recovery);
}

Window::~Window() {
    // A field that loses its focus commits what was typed, so the panels must be gone before the controller is.
    hide();
    delete takeCentralWidget();
}

void Window::make_layout() {
    auto* all = new QWidget;
    auto* column = new QVBoxLayout(all);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    tools_ = new ToolRow;
    auto list = [this](std::initializer_list<const char*> names) {
        QList<QAction*> out;
        for (const char* n : names) out << actions_[n];
        return out;
    };
    tools_->add_group(tr("Bring in"), list({"bring-in", "open", "save"}));
    tools_->add_group(tr("Combine"), list({"union", "difference", "intersection", "more", "switch"}));
    tools_->add_group(tr("Mend"), list({"mend", "repairs", "by-hand"}));
    tools_->add_group(tr("Look"), list({"whole", "see-through", "surface"}));
    tools_->add_group(tr("Change of mind"), list({"undo", "redo"}));
    tools_->add_group(tr("Deliver"), list({"export"}));
    find_box_ = new FindBox;
    tools_->add_end(find_box_);
    const std::pair<const char*, QString> found[] = {{"bring-in", tr("import, open or load meshes")},
                                                     {"open", tr("load a saved job")},
                                                     {"save", tr("keep the job")},
                                                     {"save-as", tr("keep a copy under a new name")},
                                                     {"union", tr("join, add together")},
                                                     {"difference", tr("cut, take away, drill")},
                                                     {"intersection", tr("keep what both share")},
                                                     {"split", tr("cut in two, keep both sides")},
                                                     {"pieces", tr("every region by itself")},
                                                     {"inlay", tr("pocket and plug, seat a plate")},
                                                     {"reverse-difference", tr("subtract the body from the part")},
                                                     {"scribe", tr("imprint, draw crossing lines")},
                                                     {"trim-outside", tr("cut an open surface, keep what is outside")},
                                                     {"trim-inside", tr("cut an open surface, keep what is inside")},
                                                     {"plane", tr("cut flat, cut in half, section")},
                                                     {"gather", tr("put together without a boolean")},
                                                     {"switch", tr("mute a step for now")},
                                                     {"mend", tr("repair everything, make it watertight")},
                                                     {"mend-weld", tr("merge vertices by distance")},
                                                     {"mend-degenerate", tr("remove zero-length edges, slivers")},
                                                     {"mend-duplicates", tr("remove duplicate faces")},
                                                     {"mend-fins", tr("fix non-manifold edges, stray faces")},
                                                     {"mend-t-junctions", tr("cracks along borders")},
                                                     {"mend-borders", tr("stitch, close cracks")},
                                                     {"mend-orient", tr("fix normals, inside out")},
                                                     {"mend-holes", tr("close open edges")},
                                                     {"mend-shells", tr("remove small loose bits")},
                                                     {"mend-thicken", tr("give a surface a thickness")},
                                                     {"mend-crossings", tr("self-intersections, inside faces")},
                                                     {"by-hand", tr("select faces, edit the mesh, merge, delete")},
                                                     {"report", tr("save findings as HTML or JSON")},
                                                     {"surface-plain", tr("shaded")},
                                                     {"surface-lines", tr("wire, edges, mesh")},
                                                     {"surface-shells", tr("random colours, loose bodies")},
                                                     {"surface-regions", tr("random colours, flat areas")},
                                                     {"surface-findings", tr("hide the sound part, show errors")},
                                                     {"remove", tr("delete a part and its step")},
                                                     {"bundle", tr("group steps: cut the cutter first")},
                                                     {"unbundle", tr("ungroup a step")},
                                                     {"stop-earlier", tr("look at the model as of an earlier step")},
                                                     {"stop-later", tr("take one step more")},
                                                     {"undo", tr("take the last change back")},
                                                     {"redo", tr("do it again")},
                                                     {"whole", tr("frame everything, fit the view")},
                                                     {"see-through", tr("look inside the body")},
                                                     {"next-place", tr("step through findings")},
                                                     {"export", tr("write the result for printing")},
                                                     {"dark", tr("dark theme, light theme, colours")},
                                                     {"demo", tr("an example job")},
                                                     {"demo-scan", tr("an example with every kind of defect")}};
    for (const auto& [name, words] : found) find_box_->add(actions_[name], words);
    column->addWidget(tools_);

    auto* middle = new QHBoxLayout;
    middle->setSpacing(0);
    auto* left = new QWidget;
    left->setObjectName("sheetPanel");
    left->setAttribute(Qt::WA_StyledBackground);
    left->setFixedWidth(296);
    auto* left_column = new QVBoxLayout(left);
    left_column->setContentsMargins(0, 0, 1, 0);
    left_column->setSpacing(0);
    sheet_ = new JobSheet(controller_);
    step_panel_ = new StepPanel(controller_);
    left_column->addWidget(sheet_, 1);
    auto* rule = new QWidget;
    rule->setObjectName("groupRule");
    rule->setAttribute(Qt::WA_StyledBackground);
    rule->setFixedHeight(1);
    left_column->addWidget(rule);
    left_column->addWidget(step_panel_);
    mend_panel_ = new MendPanel(controller_);
    mend_panel_->hide();
    left_column->addWidget(mend_panel_);
    hand_ = new HandMode(controller_, this);
    viewport_ = new Viewport(controller_, *hand_);
    empty_bench_ = new EmptyBench(actions_["bring-in"], actions_["open"], {actions_["demo"], actions_["demo-scan"]});
    auto* over = new QVBoxLayout(viewport_);
    over->addWidget(empty_bench_);
    auto* right = new QWidget;
    right->setObjectName("ledgerPanel");
    right->setAttribute(Qt::WA_StyledBackground);
    right->setFixedWidth(268);
    auto* right_column = new QVBoxLayout(right);
    right_column->setContentsMargins(1, 0, 0, 0);
    ledger_ = new Ledger(controller_);
    right_column->addWidget(ledger_);
    middle->addWidget(left);
    auto* bench = new QVBoxLayout;
    bench->setSpacing(0);
    unit_strip_ = new UnitStrip(controller_);
    bench->addWidget(unit_strip_);
    question_strip_ = new QuestionStrip(controller_);
    bench->addWidget(question_strip_);
    hand_strip_ = new HandStrip(*hand_);
    bench->addWidget(hand_strip_);
    bench->addWidget(viewport_, 1);
    middle->addLayout(bench, 1);
    middle->addWidget(right);
    column->addLayout(middle, 1);
    hint_line_ = new HintLine(controller_);
    column->addWidget(hint_line_);
    setCentralWidget(all);
}

void Window::refresh_actions() {
    const Job& job = controller_.job();
    empty_bench_->setVisible(job.parts.empty());
    const bool any = !job.parts.empty(), operand = !chosen_.empty() && job.find_part(chosen_) && chosen_ != job.base;
    for (const Operation operation : all_operations) actions_[word_of(operation)]->setEnabled(operand);
    actions_["more"]->setEnabled(any);
    actions_["plane"]->setEnabled(any);
    const bool step = std::any_of(job.steps.begin(), job.steps.end(), [&](const Step& s) { return s.part == chosen_; });
    for (const char* name : {"switch", "bundle", "unbundle"}) actions_[name]->setEnabled(step);
    actions_["remove"]->setEnabled(!chosen_.empty());
    for (const char* name :
         {"save", "save-as", "whole", "see-through", "surface", "export", "next-place", "mend", "repairs", "by-hand"})
        actions_[name]->setEnabled(any);
    for (const Repair repair : whole_plan())
        actions_["mend-" + QString::fromUtf8(word(repair).data())]->setEnabled(any);
    const History& h = controller_.history();
    actions_["undo"]->setEnabled(h.can_undo());
    actions_["redo"]->setEnabled(h.can_redo());
    actions_["undo"]->setToolTip(h.can_undo() ? tr("Undo: %1  (Ctrl+Z)").arg(QString::fromStdString(h.undo_name()))
                                              : tr("Nothing to undo"));
    actions_["redo"]->setToolTip(
        h.can_redo() ? tr("Redo: %1  (%2)")
                           .arg(QString::fromStdString(h.redo_name()), QKeySequence(QKeySequence::Redo).toString())
                     : tr("Nothing to redo"));
}

void Window::refresh_title() {
    const QString name = controller_.file().isEmpty() ? tr("new job") : QFileInfo(controller_.file()).fileName();
    setWindowTitle(QString("%1%2 – Clean Anvil").arg(name, controller_.history().is_changed() ? " *" : ""));
}

/// While a part is worked on by hand it is shown alone.
void Window::show_hand() {
    const Part* part = controller_.job().find_part(hand_->part());
    actions_["by-hand"]->setChecked(hand_->is_on());
    if (!part) {
        viewport_->show_alone(chosen_mending_.empty() ? std::string() : chosen_);
        return;
    }
    viewport_->set_compare(Compare::after);
    viewport_->show_alone(part->id);
}

void Window::choose_part(const std::string& part, const std::string& mending) {
    if (hand_->is_on() && part != hand_->part()) hand_->stop();
    chosen_ = part;
    chosen_mending_ = mending;
    sheet_->choose(part, mending);
    step_panel_->set_part(part);
    mend_panel_->set_mending(part, mending);
    step_panel_->setVisible(mending.empty());
    mend_panel_->setVisible(!mending.empty());
    viewport_->set_chosen_part(part);
    viewport_->show_alone(hand_->is_on() ? hand_->part() : mending.empty() ? std::string() : part);
    refresh_actions();
    inspect_chosen();
}

/// Whose findings the ledger lists; empty for the result. It speaks of a part where that waits, is looked at for its
/// mending, or has a remark; where a step fails, of the one that made it fail; and of the base where that is all.
std::string Window::subject_part() const {
    const Job& job = controller_.job();
    const auto outcome = controller_.outcome();
    if (!chosen_.empty()) {
        const auto idle = job.idle_parts();
        const bool waits = std::ranges::any_of(idle, [&](const Part* p) { return p->id == chosen_; });
        if (waits || !chosen_mending_.empty() || controller_.error()) return chosen_;
        if (outcome && chosen_ != job.base)
            if (const auto ready = outcome->parts.find(chosen_);
                ready != outcome->parts.end() && ready->second.inspection && !ready->second.inspection->print_ready)
                return chosen_;
    }
    if (!controller_.error()) return {};
    const int row = controller_.error()->operand;
    if (row == 0) return job.base;
    return row > 0 && row <= static_cast<int>(job.steps.size()) ? job.steps[static_cast<std::size_t>(row) - 1].part
                                                                : std::string();
}

void Window::inspect_chosen() {
    const Job& job = controller_.job();
    const auto outcome = controller_.outcome();
    const Part* part = job.find_part(subject_part());
    if (part && outcome)
        if (const auto ready = outcome->parts.find(part->id);
            ready != outcome->parts.end() && ready->second.inspection) {
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
    for (const std::string& id : {subject_part(), chosen_, job.base})
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
        if (before) json["before"] = facts(*before, name);
        if (!repairs.empty()) json["repairs"] = facts(repairs);
        text = json.dump(2) + "\n";
    } else {
        QByteArray png;
        QBuffer buffer(&png);
        buffer.open(QIODevice::WriteOnly);
        viewport_->grab().save(&buffer, "PNG");
        text = report_page({name, *now, before, repairs, remains, png.toStdString()});
    }
    if (auto written = write_file(text, file.toStdString()); !written)
        fail(written.error());
    else
        hint_line_->show_hint(tr("Saved the report to %1.").arg(file));
}

void Window::apply_operation(Operation operation) { step_panel_->apply_operation(operation); }

void Window::fail(const Error& error) { hint_line_->show_error(error); }

void Window::open_files(const QStringList& files) {
    QStringList meshes;
    for (const QString& file : files) {
        if (!file.endsWith(".anvil", Qt::CaseInsensitive)) {
            meshes << file;
            continue;
        }
        auto job = read_job(file.toStdString());
        if (!job) {
            fail(job.error());
            return;
        }
        if (!may_leave()) return;
        choose_part({});
        unit_strip_->dismiss();
        controller_.open(std::move(*job), file);
    }
    if (meshes.isEmpty()) return;
    // All or nothing: a file that cannot be read leaves the job as it was.
    Job job = controller_.job();
    std::vector<std::string> added;
    for (const QString& file : meshes) {
        auto mesh = read_mesh(file.toStdString());
        if (!mesh) {
            fail(mesh.error());
            return;
        }
        if (mesh->empty()) {
            fail({ErrorCode::bad_count, "there are no faces in it", file.toStdString()});
            return;
        }
        added.push_back(job.add_part(QFileInfo(file).completeBaseName().toStdString(),
                                     std::make_shared<const Mesh>(welded(*mesh))));
    }
    const auto unit = import_unit(job);
    if (unit) read_as(job, added, *unit);
    controller_.change(std::move(job), meshes.size() == 1 ? tr("bring in %1").arg(QFileInfo(meshes[0]).fileName())
                                                          : tr("bring in %1 meshes").arg(meshes.size()));
    choose_part(added.back());
    viewport_->frame_when_ready();
    if (!unit) unit_strip_->ask(meshes.size() == 1 ? QFileInfo(meshes[0]).fileName() : tr("What came in"), added);
}

void Window::open_demo() {
    if (!may_leave()) return;
    choose_part({});
    unit_strip_->dismiss();
    controller_.open(demo::lantern_job(), {});
    viewport_->frame_when_ready();
}

void Window::open_demo_scan() {
    Job job;
    job.add_part("scanned bracket", std::make_shared<const Mesh>(demo::scanned_bracket()));
    if (!may_leave()) return;
    choose_part({});
    unit_strip_->dismiss();
    controller_.open(std::move(job), {});
    viewport_->frame_when_ready();
}

void Window::bring_in() {
    const QStringList files = QFileDialog::getOpenFileNames(this, tr("Bring in meshes"), {}, mesh_filter());
    if (!files.isEmpty()) open_files(files);
}

void Window::open_job() {
    const QString file = QFileDialog::getOpenFileName(this, tr("Open a job"), {}, job_filter());
    if (!file.isEmpty()) open_files({file});
}

bool Window::save(bool as) {
    QString file = as ? QString() : controller_.file();
    if (file.isEmpty()) {
        file = QFileDialog::getSaveFileName(this, tr("Save the job"), {}, job_filter());
        if (file.isEmpty()) return false;
        if (!file.endsWith(".anvil")) file += ".anvil";
    }
    if (!controller_.save(file)) return false;
    QFile::remove(autosave_file_);
    hint_line_->show_hint(tr("Saved to %1.").arg(file));
    return true;
}

void Window::add_plane() {
    Job job = controller_.job();
    const Part* base = job.find_part(job.base);
    if (!base) return;
    const Box box = bounds(base->placed());
    const Vec3 size = box.size();
    const double side = std::ceil(1.5 * std::max({size.x, size.y, size.z}));
    const std::string id = job.add_part("plane", std::make_shared<const Mesh>(make_plate({0, 0, 0}, side, side)));
    job.find_part(id)->placement.position = box.center();
    job.add_step(Operation::split, id);
    controller_.change(std::move(job), tr("split by a plane"));
    choose_part(id);
}

bool Window::may_leave() {
    if (!controller_.history().is_changed() || controller_.job().parts.empty()) return true;
    QMessageBox box(QMessageBox::Question, tr("Unsaved job"), tr("The job has changes that are not saved."),
                    QMessageBox::NoButton, this);
    QAbstractButton* keep = box.addButton(tr("Save"), QMessageBox::AcceptRole);
    QAbstractButton* drop = box.addButton(tr("Drop changes"), QMessageBox::DestructiveRole);
    box.addButton(tr("Go back"), QMessageBox::RejectRole);
    box.setDefaultButton(qobject_cast<QPushButton*>(keep));
    box.exec();
    if (box.clickedButton() == keep) return save(false);
    return box.clickedButton() == drop;
}

void Window::closeEvent(QCloseEvent* event) {
    if (!may_leave()) {
        event->ignore();
        return;
    }
    controller_.stop();
    QFile::remove(autosave_file_);
    event->accept();
}

void Window::autosave() {
    if (!controller_.history().is_changed() || controller_.job().parts.empty()) return;
    if (auto saved = write_job(controller_.job(), autosave_file_.toStdString()); !saved) fail(saved.error());
}

/// Copies whose program is gone were left by a crash.
void Window::offer_recovery() {
    for (const QFileInfo& file : QDir(autosave_folder()).entryInfoList({"*.anvil"}, QDir::Files, QDir::Time)) {
        const auto pid = file.completeBaseName().toLongLong();
        if (pid <= 0 || ::kill(static_cast<pid_t>(pid), 0) == 0) continue;
        QMessageBox box(QMessageBox::Question, tr("A job was left unsaved"),
                        tr("The program ended before a job was saved, on %1.")
                            .arg(QLocale().toString(file.lastModified(), QLocale::ShortFormat)),
                        QMessageBox::NoButton, this);
        QAbstractButton* open = box.addButton(tr("Open it"), QMessageBox::AcceptRole);
        QAbstractButton* drop = box.addButton(tr("Delete it"), QMessageBox::DestructiveRole);
        box.addButton(tr("Later"), QMessageBox::RejectRole);
        box.exec();
        if (box.clickedButton() == open) {
            auto job = read_job(file.filePath().toStdString());
            if (!job) {
                fail(job.error());
            } else {
                controller_.open({}, {});
                controller_.change(std::move(*job), tr("recover the unsaved job"));
                viewport_->frame_when_ready();
                QFile::remove(file.filePath());
            }
        } else if (box.clickedButton() == drop) {
            QFile::remove(file.filePath());
        }
        return;
    }
}

}  // namespace anvil::app
