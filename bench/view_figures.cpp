// How fast the view follows the hand, and how long the interface's thread is kept from its work: the real window,
// under whatever draws OpenGL here. Run by ./anvil bench-view.
#include <QApplication>
#include <QElapsedTimer>
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
    window.controller().stop();
    return 0;
}
