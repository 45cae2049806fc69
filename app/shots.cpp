#include "app/shots.h"

#include <QApplication>
#include <QCheckBox>
#include <QDir>
#include <QElapsedTimer>
#include <QListWidget>
#include <QPixmap>
#include <QPushButton>
#include <QStandardPaths>
#include <QTemporaryDir>
#include <QThread>
#include <QToolButton>
#include <cstdio>

#include "app/panels/job_sheet.h"
#include "app/panels/ledger.h"
#include "app/panels/mend_panel.h"
#include "app/panels/question_strip.h"
#include "app/panels/route.h"
#include "app/panels/spread_row.h"
#include "app/panels/step_panel.h"
#include "app/panels/unit_strip.h"
#include "app/theme.h"
#include "app/view/picture_maker.h"
#include "app/view/viewport.h"
#include "app/window.h"
#include "core/io/mesh_file.h"
#include "core/job/anchors.h"
#include "core/job/new_cut.h"
#include "core/mesh/chain.h"
#include "core/mesh/measures.h"
#include "core/mesh/primitives.h"
#include "core/mesh/weld.h"
#include "demo/lantern.h"

namespace anvil::app {

bool wait_until_idle(Window& window, int seconds) {
    QElapsedTimer timer;
    timer.start();
    do {
        QApplication::processEvents(QEventLoop::AllEvents, 20);
        QThread::usleep(500);  // events are asked for without waiting: others need the processor
    } while ((window.controller().is_busy() || window.controller().is_asked() || window.viewport()->is_drawing() ||
              std::ranges::any_of(window.findChildren<PictureMaker*>(), &PictureMaker::is_busy)) &&
             timer.elapsed() < seconds * 1000);
    for (int i = 0; i < 5; ++i) QApplication::processEvents(QEventLoop::AllEvents, 10);
    return !window.controller().is_busy();
}

int take_shots(const QString& folder) {
    if (!QDir().mkpath(folder)) {
        std::fprintf(stderr, "clean-anvil: %s: the folder cannot be made\n", folder.toUtf8().constData());
        return 4;
    }
    QStandardPaths::setTestModeEnabled(true);  // no job of the user's is offered, none is left behind
    // Nor is what a run of this that was stopped has left.
    QDir(QStandardPaths::writableLocation(QStandardPaths::AppDataLocation)).removeRecursively();
    Window window;
    window.show();
    bool good = true;
    auto shot = [&](const char* name) {
        // Painting asks for what it shows: once for that, once for the picture.
        good = wait_until_idle(window) && good;
        (void)window.grab();
        good = wait_until_idle(window) && good;
        good = window.grab().save(folder + "/" + name + ".png") && good;
    };
    auto part_named = [&](const char* name) {
        for (const Row& row : window.controller().rows())
            if (const Part* p = window.controller().job().find_part(row.id.part); p && p->name == name) return p->id;
        return std::string();
    };
    shot("empty");

    window.open_demo();
    wait_until_idle(window);
    shot("result");

    // From behind, where the bore stands out of the wall.
    const Camera front = window.viewport()->camera();
    Camera back = front;
    back.turn = 152;
    window.viewport()->set_camera(back);
    window.choose_part(part_named("gland bore"));
    shot("cutter");
    window.viewport()->set_camera(front);

    window.action("shape-cylinder")->trigger();
    wait_until_idle(window);
    window.route()->open(1);
    shot("shapes");
    window.route()->close();
    window.controller().undo();
    wait_until_idle(window);

    window.choose({});
    window.action("symmetry")->trigger();
    shot("change");
    window.controller().undo();

    window.choose({});
    window.action("section-y")->trigger();
    shot("section");
    window.action("section")->trigger();

    window.choose_part(part_named("lens seat"));
    window.step_panel()->apply_operation(Operation::inlay);
    window.action("see-through")->setChecked(true);
    shot("inlay");
    window.action("see-through")->setChecked(false);
    window.controller().undo();

    window.choose_part(part_named("vent rib"));
    const Camera before = window.viewport()->camera();
    Camera aside = before;
    aside.turn = 62;
    window.viewport()->set_camera(aside);
    shot("bundle");
    window.viewport()->set_camera(before);

    // The gland bore, taken all round the lantern.
    window.choose_part(part_named("gland bore"));
    window.action("copies-round")->trigger();
    wait_until_idle(window);
    shot("copies");
    window.controller().undo();

    // The housing as it came, beside what became of it.
    window.choose(window.controller().rows().front().id);
    window.action("link-stage")->trigger();
    wait_until_idle(window);
    window.viewport()->frame_all();
    shot("links");
    window.controller().undo();
    wait_until_idle(window);
    window.viewport()->set_camera(front);

    auto cut_by = [&](const char* kind, Values values) {
        Job job = window.controller().job();
        const std::string step = add_treatment(job, {job.work()}, kind, std::move(values));
        window.controller().change(std::move(job), kind);
        window.choose_step(step);
        wait_until_idle(window);
    };
    auto take_back = [&](int changes) {
        for (int k = 0; k < changes; ++k) window.controller().undo();
        wait_until_idle(window);
    };
    // A plane through the cutters and the housing, tilted, with pegs in its cut face.
    Values plane = values_of_plane({0, 0, 39}, {0.94, 0, 0.342}, {});
    plane["joints"] = std::string("round");
    plane["joint_size"] = plane["joint_depth"] = 1.6;
    plane["rim"] = 0.4;
    cut_by("cut-plane", plane);
    shot("split");
    take_back(1);
    // Countersunk holes in an ear, and a rounded window through the wall.
    cut_by("drill", {{"at", std::vector<Vec3>{{-45, 0, 6}}},
                     {"normal", Vec3{0, 0, 1}},
                     {"screw", std::string("M3")},
                     {"head", std::string("countersink")},
                     {"pattern", std::string("circle")},
                     {"circle", 14.0},
                     {"holes", std::int64_t{4}}});
    cut_by("cut-outline", {{"origin", Vec3{-16, -25, 38}},
                           {"normal", Vec3{-0.4, -1, 0}},
                           {"width", 14.0},
                           {"length", 22.0},
                           {"corner", 4.0},
                           {"way", std::string("depth")},
                           {"depth", 8.0},
                           {"draft", 8.0}});
    shot("outline-cut");
    take_back(2);
    // A groove round the edge of the roof.
    const auto outcome = window.controller().outcome();
    const Mesh body = welded(*outcome->result.mesh);
    const Selection creases = creases_of(body, 25);
    const Selection rim = along_creases({ElementKind::edges, {nearest_edge(body, creases, {0, -30, 70})}}, creases);
    const auto lineage = outcome->evaluation->lineages.at(window.controller().job().work());
    cut_by("notch", {{"edges", anchors_of(rim, body, *tags_of(*lineage))}, {"width", 2.5}, {"depth", 2.5}});
    shot("notch");
    take_back(1);
    // The flat top of the roof pushed down through it; then all of it in layers. On the dark bench.
    FaceId top(0);
    for (const FaceId f : ids<FaceId>(body.faces.size()))
        if (face_middle(body, f).z > face_middle(body, top).z) top = f;
    const Selection disc = within_creases(body, {ElementKind::faces, {face_element(body.faces[top])}}, 4);
    cut_by("broach", {{"faces", anchors_of(disc, body, *tags_of(*lineage))}});
    cut_by("cut-plane", {{"planes", std::string("layers")}, {"layer", 26.0}});
    window.spread_row()->slider()->setValue(30);
    apply_theme(*qApp, Theme::dark);
    window.viewport()->frame_all();
    shot("broach");
    apply_theme(*qApp, Theme::light);
    window.spread_row()->slider()->setValue(0);
    take_back(2);

    window.open_demo_scan();
    wait_until_idle(window);
    Camera camera = window.viewport()->camera();
    camera.turn = 28;
    camera.tilt = 30;
    window.viewport()->set_camera(camera);
    window.ledger()->choose(FindingKind::holes);
    window.viewport()->frame_all();
    Vec3 front_hole{0, 1e9, 0};
    for (const Finding& f : window.ledger()->inspection()->findings)
        if (f.kind == FindingKind::holes && f.place.y < front_hole.y) front_hole = f.place;
    window.ledger()->accept_one_button()->click();
    shot("findings");
    window.controller().undo();

    window.action("mend")->trigger();
    wait_until_idle(window);
    window.mend_panel()->count(Repair::holes)->click();
    shot("mended");
    window.mend_panel()->count(Repair::holes)->click();
    window.mend_panel()->compare_button(Compare::both)->click();
    // The divider through a hole, so near that both halves of it are seen.
    Camera near = camera;
    near.target = front_hole;
    near.distance = 55;
    window.viewport()->set_camera(near);
    shot("before-and-mended");
    window.viewport()->set_camera(camera);
    window.viewport()->frame_all();

    // By hand: the faces of a wall round one of them.
    window.controller().open({}, {});
    window.open_demo_scan();
    wait_until_idle(window);
    window.viewport()->set_camera(camera);
    window.viewport()->frame_all();
    window.action("by-hand")->trigger();
    const Mesh& scan = window.hand()->mesh();
    const Element first = face_element(scan.faces[FaceId(scan.faces.size() / 2)]);
    window.hand()->choose(std::span(&first, 1), HandMode::How::replace);
    for (int k = 0; k < 12; ++k) window.hand()->grow();
    shot("by-hand");
    window.hand()->stop();

    // A decision that mending leaves: the lantern's dome, scanned from outside only.
    const QTemporaryDir files;
    const QString dome = files.filePath("dome scan.ply");
    if (!write_mesh(demo::scanned_dome(), dome.toStdString())) return 4;
    window.controller().open({}, {});
    window.open_files({dome});
    wait_until_idle(window);
    window.unit_strip()->dismiss();
    window.action("mend")->trigger();
    wait_until_idle(window);
    shot("question");
    if (!good) std::fprintf(stderr, "clean-anvil: some screenshots could not be made\n");
    return good ? 0 : 4;
}

}  // namespace anvil::app
