// How fast the view follows the hand, and how long the interface's thread is kept from its work: the real window,
// under whatever draws OpenGL here. Run by ./anvil bench-view.
#include <QApplication>
#include <QElapsedTimer>
#include <QEventLoop>
#include <QMouseEvent>
#include <QStandardPaths>
#include <QTimer>
#include <algorithm>
#include <cmath>
#include <cstdio>
#include <vector>

#include "app/shots.h"
#include "app/theme.h"
#include "app/view/viewport.h"
#include "app/window.h"
#include "core/job/edits.h"
#include "core/mesh/primitives.h"
#include "core/shape/shapes.h"

namespace {

using namespace anvil;
using namespace anvil::app;

double percentile(std::vector<double> v, double share) {
    if (v.empty()) return 0;
    std::ranges::sort(v);
    return v[static_cast<std::size_t>(share * static_cast<double>(v.size() - 1))];
}

/// A ball with waves, of about half a million faces.
Mesh large_body() {
    Mesh out = sphere_shape({.diameter = 80, .facets = {.around = 1000}})->mesh;
    for (Vec3& p : out.points.raw())
        p = p * (1 + 0.03 * std::sin(0.4 * p.x) * std::sin(0.5 * p.y) * std::sin(0.3 * p.z));
    return out;
}

void mouse(QWidget* to, QEvent::Type type, const QPointF& at, Qt::MouseButtons buttons) {
    QMouseEvent event(type, at, to->mapToGlobal(at), type == QEvent::MouseMove ? Qt::NoButton : Qt::LeftButton, buttons,
                      Qt::NoModifier);
    QCoreApplication::sendEvent(to, &event);
}

/// Rotates the view with the mouse, a move for each picture; ms from each move to the picture of it.
std::vector<double> rotated(Window& window) {
    Viewport* view = window.viewport();
    std::vector<double> out;
    QPointF at(30, 40);
    mouse(view, QEvent::MouseButtonPress, at, Qt::LeftButton);
    for (int k = 0; k < 80; ++k) {
        at += QPointF(5, k % 2);
        QElapsedTimer watch;
        watch.start();
        const quint64 before = view->pictures();
        mouse(view, QEvent::MouseMove, at, Qt::LeftButton);
        while (view->pictures() == before) QCoreApplication::processEvents(QEventLoop::WaitForMoreEvents);
        QCoreApplication::processEvents();  // it is painted
        out.push_back(static_cast<double>(watch.nsecsElapsed()) * 1e-6);
    }
    mouse(view, QEvent::MouseButtonRelease, at, Qt::NoButton);
    return out;
}

void tell_rotation(Window& window, const char* what) {
    rotated(window);  // the first pictures fill the card's memory
    const std::vector<double> ms = rotated(window);
    std::printf("  %-44s median %5.1f ms, 95 %% under %5.1f ms: %.0f pictures a second\n", what, percentile(ms, 0.5),
                percentile(ms, 0.95), 1000 / percentile(ms, 0.95));
}

/// Drags a plane cut by its handle through a body of 200,000 faces for some seconds, a move each 8 ms.
void tell_dragged_cut(Window& window) {
    Job job;
    const Mesh body = make_sphere({0, 0, 0}, 20, 251, 400);
    add_part(job, "body", std::make_shared<const Mesh>(body));
    add_treatment(job, {job.work()}, "cut-plane",
                  {{"origin", Vec3{0, 0, 1}}, {"normal", Vec3{0.3, -0.5, 0.8}}, {"keep", std::string("front")}});
    window.controller().open(std::move(job), {});
    wait_until_idle(window);
    for (const Row& row : window.controller().rows())
        if (row.cuts()) window.choose(RowId(row.id));
    wait_until_idle(window);
    Viewport* view = window.viewport();
    const auto handle = view->cut_handle("origin");
    if (!handle) return;
    int results = 0;
    const auto counting =
        QObject::connect(&window.controller(), &JobController::evaluated, &window, [&] { ++results; });
    mouse(view, QEvent::MouseButtonPress, *handle, Qt::LeftButton);
    const quint64 pictures = view->pictures();
    QElapsedTimer watch;
    QEventLoop loop;
    QTimer moves;
    moves.setTimerType(Qt::PreciseTimer);
    int k = 0;
    QObject::connect(&moves, &QTimer::timeout, [&] {
        if (watch.elapsed() > 8000) return loop.quit();
        const double along = 40 * std::sin(0.03 * ++k);
        mouse(view, QEvent::MouseMove, *handle + QPointF(0.3 * along, along), Qt::LeftButton);
    });
    watch.start();
    moves.start(8);
    loop.exec();
    const double s = static_cast<double>(watch.elapsed()) * 1e-3;
    moves.stop();
    QObject::disconnect(counting);
    std::printf("A plane dragged through %zu faces: %.1f results and %.1f pictures of them a second\n",
                body.faces.size(), results / s, static_cast<double>(view->pictures() - pictures) / s);
    mouse(view, QEvent::MouseButtonRelease, *handle, Qt::NoButton);
    wait_until_idle(window);
}

}  // namespace

int main(int argc, char** argv) {
    QStandardPaths::setTestModeEnabled(true);
    QApplication application(argc, argv);
    apply_theme(application, Theme::light);
    Window window;
    window.resize(1280, 800);
    window.show();
    wait_until_idle(window);
    std::printf("Rotating with the mouse, from each move to its picture (view of %d x %d):\n",
                window.viewport()->width(), window.viewport()->height());
    window.open_demo();
    wait_until_idle(window);
    tell_rotation(window, "the demo's lantern, 6,796 faces");

    Job job;
    const Mesh body = large_body();
    add_part(job, "body", std::make_shared<const Mesh>(body));
    window.controller().open(std::move(job), {});
    wait_until_idle(window);
    window.viewport()->frame_all();
    wait_until_idle(window);
    char name[64];
    std::snprintf(name, sizeof name, "a body of %zu faces", body.faces.size());
    tell_rotation(window, name);
    window.action("section")->trigger();
    wait_until_idle(window);
    tell_rotation(window, "the same, with a section");
    window.action("section")->trigger();

    // A beat each 5 ms tells when the thread was busy: while a step is worked out, and until it is shown and inspected.
    std::printf("The interface's thread, while a cut of that body is worked out, shown and inspected:\n");
    std::vector<double> gaps;
    QElapsedTimer beat;
    QTimer timer;
    timer.setTimerType(Qt::PreciseTimer);
    QObject::connect(&timer, &QTimer::timeout, [&] {
        gaps.push_back(static_cast<double>(beat.nsecsElapsed()) * 1e-6);
        beat.start();
    });
    Job next = window.controller().job();
    add_part(next, "cutter", std::make_shared<const Mesh>(make_icosphere({30, 0, 40}, 30, 5)));
    add_combining(next, Operation::difference, next.parts.back()->id);
    beat.start();
    timer.start(5);
    window.controller().change(std::move(next), "cut");
    wait_until_idle(window, 300);
    timer.stop();
    std::printf("  %zu beats; 99 %% under %.1f ms, longest %.1f ms\n", gaps.size(), percentile(gaps, 0.99),
                percentile(gaps, 1));
    tell_dragged_cut(window);
    window.controller().stop();
    return 0;
}
