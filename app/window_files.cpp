// Files that come and go: jobs, meshes, the copy of unsaved work and what a crash left.
#include <QCloseEvent>
#include <QDir>
#include <QFileDialog>
#include <QFileInfo>
#include <QPushButton>
#include <QStandardPaths>
#include <QUuid>

#include "app/panels/first_hints.h"
#include "app/panels/hint_line.h"
#include "app/panels/notice_strip.h"
#include "app/panels/recovery_strip.h"
#include "app/panels/unit_strip.h"
#include "app/panels/unsaved_strip.h"
#include "app/user_settings.h"
#include "app/view/viewport.h"
#include "app/window.h"
#include "app/words.h"
#include "core/io/mesh_file.h"
#include "core/job/job_file.h"
#include "demo/lantern.h"

namespace anvil::app {
namespace {

QString job_filter() { return Window::tr("Jobs (*.anvil)"); }
QString autosave_folder() { return QStandardPaths::writableLocation(QStandardPaths::AppDataLocation) + "/autosave"; }

}  // namespace

QString Window::mesh_filter() { return tr("Meshes (*.3mf *.stl *.obj *.ply *.off *.3MF *.STL *.OBJ *.PLY *.OFF)"); }

void Window::open_files(const QStringList& files) {
    QStringList meshes, jobs;
    for (const QString& file : files) (file.endsWith(".anvil", Qt::CaseInsensitive) ? jobs : meshes) << file;
    if (jobs.isEmpty()) {
        bring_in(meshes);
        return;
    }
    // Of several jobs the last one: each would take the place of the one before.
    controller_.read(jobs.back(), [this, file = jobs.back(), meshes](Job job, const std::vector<LostPart>& lost) {
        leave_then([this, job = std::move(job), lost, file, meshes] {
            // What was read in part is never saved over what it was read from.
            start_with(job, lost.empty() ? file : QString());
            bring_in(meshes);
            if (!lost.empty()) tell_lost(file, lost);
        });
    });
}

void Window::tell_lost(const QString& file, const std::vector<LostPart>& lost) {
    QStringList names;
    for (const LostPart& part : lost) names << quoted(part.name);
    notice_strip_->tell(
        tr("%1: the meshes of %2 are damaged (%3). The rest was opened. Save it under another name, or bring "
           "those parts in again.")
            .arg(QFileInfo(file).fileName(), names.join(", "), QString::fromStdString(lost.front().why)));
}

void Window::bring_in(const QStringList& meshes) {
    // All or nothing: a file that cannot be read leaves the job as it was.
    if (meshes.isEmpty()) return;
    hint_line_->show_hint(tr("Reading %1 …").arg(QFileInfo(meshes.front()).fileName()));
    controller_.read_bodies(meshes, [this, meshes](std::vector<JobController::BodyOfFile> bodies) {
        add_bodies(meshes, std::move(bodies));
    });
}

void Window::add_bodies(const QStringList& meshes, std::vector<JobController::BodyOfFile> bodies) {
    if (bodies.empty()) return;
    Job job = controller_.job();
    std::vector<std::string> added, unitless;
    for (JobController::BodyOfFile& body : bodies) {
        added.push_back(add_part(job, body.name, std::move(body.mesh)));
        if (body.unitless) unitless.push_back(added.back());
    }
    const auto unit = job.settings.import_unit;
    if (unit) read_as(job, unitless, *unit);
    controller_.change(std::move(job), meshes.size() == 1 ? tr("bring in %1").arg(QFileInfo(meshes[0]).fileName())
                                                          : tr("bring in %1 meshes").arg(meshes.size()));
    for (const QString& file : meshes) add_recent_file(file);
    choose_part(added.back());
    viewport_->frame_when_ready();
    if (!unit && !unitless.empty())
        unit_strip_->ask(meshes.size() == 1 ? QFileInfo(meshes[0]).fileName() : tr("What came in"), unitless);
}

void Window::open_demo() {
    leave_then([this] {
        start_with(demo::signal_lantern(), {});
        first_hints_->offer();
        viewport_->frame_when_ready();
    });
}

void Window::open_demo_scan() {
    Job job;
    add_part(job, "scanned bracket", std::make_shared<const Mesh>(demo::scanned_bracket()));
    leave_then([this, job = std::move(job)] {
        start_with(job, {});
        viewport_->frame_when_ready();
    });
}

void Window::ask_for_meshes() {
    const QStringList files = QFileDialog::getOpenFileNames(this, tr("Bring in meshes"), {}, mesh_filter());
    if (!files.isEmpty()) open_files(files);
}

QString Window::export_name() const {
    const Part* base = controller_.job().find_part(base_of(controller_.job()));
    QString name = base ? QString::fromStdString(base->name) : tr("result");
    name.replace('/', '-');
    const QString folder = controller_.file().isEmpty() ? QString() : QFileInfo(controller_.file()).path() + "/";
    return folder + name + ".stl";
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
    add_recent_file(file);
    controller_.drop_copy();
    hint_line_->show_hint(tr("Saved to %1.").arg(file));
    return true;
}

void Window::start_with(Job job, const QString& file) {
    choose({});
    unit_strip_->dismiss();
    if (!file.isEmpty()) add_recent_file(file);
    controller_.open(std::move(job), file);
}

bool Window::has_unsaved() const { return controller_.history().is_changed() && !controller_.job().parts.empty(); }

void Window::leave_then(std::function<void()> go) {
    if (has_unsaved())
        unsaved_strip_->ask(std::move(go));
    else
        go();
}

void Window::closeEvent(QCloseEvent* event) {
    if (!leaving_ && has_unsaved()) {
        event->ignore();
        unsaved_strip_->ask([this] {
            leaving_ = true;
            close();
        });
        return;
    }
    controller_.stop();
    controller_.drop_copy();
    event->accept();
}

void Window::start_autosave() {
    QDir().mkpath(autosave_folder());
    autosave_file_ = autosave_folder() + "/" + QUuid::createUuid().toString(QUuid::WithoutBraces) + ".anvil";
    autosave_lock_ = std::make_unique<QLockFile>(RecoveryStrip::lock_of(autosave_file_));
    autosave_lock_->setStaleLockTime(0);
    autosave_lock_->tryLock();
    connect(&autosave_timer_, &QTimer::timeout, this, &Window::autosave);
    autosave_timer_.start(60'000);
    QTimer::singleShot(0, this, [this] { recovery_strip_->look_in(autosave_folder()); });
}

void Window::autosave() { controller_.write_copy(autosave_file_); }

/// The copy becomes this program's own: there is one at every moment, until the job is saved.
void Window::recover(const QString& file) {
    controller_.read(file, [this, file](Job job, const std::vector<LostPart>& lost) {
        leave_then([this, file, lost, job = std::move(job)] {
            recovery_strip_->dismiss();
            start_with({}, {});
            controller_.drop_copy();
            if (QFile::rename(file, autosave_file_)) controller_.take_copy(autosave_file_);
            controller_.change(job, tr("recover the unsaved job"));
            viewport_->frame_when_ready();
            if (!lost.empty()) tell_lost(file, lost);
        });
    });
}

}  // namespace anvil::app
