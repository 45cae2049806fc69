// The interface's thread is free while long steps are worked out.
#include "tests/app/busy.h"

#include "core/shape/shapes.h"
#include "tests/app/shown.h"

using namespace anvil;
using namespace anvil::test;

TEST_CASE("while a body of 200,000 faces is cut, shown, inspected and turned the interface is busy for 50 ms at most") {
    Mesh body = sphere_shape({.diameter = 80, .facets = {.around = 640}})->mesh;
    REQUIRE(body.faces.size() > 190'000);
    Shown w;
    Job job;
    add_part(job, "body", std::make_shared<const Mesh>(std::move(body)));
    w->controller().open(job, {});
    w.settle();
    w->viewport()->frame_all();
    w.settle();
    Job next = w.job();
    add_part(next, "cutter", std::make_shared<const Mesh>(make_icosphere({30, 0, 40}, 30, 5)));
    add_combining(next, Operation::difference, next.parts.back()->id);
    auto& timed = dynamic_cast<TimedApplication&>(*QCoreApplication::instance());
    timed.longest_ms = 0;
    timed.events = 0;
    timed.longest.clear();
    w->controller().change(std::move(next), "cut");
    w->choose_part(w.part("cutter"));
    for (int k = 0; k < 40; ++k) {
        Camera c = w->viewport()->camera();
        c.turn += 3;
        w->viewport()->set_camera(c);
        QTest::qWait(15);
    }
    w.settle();
    CHECK(w.volume() < 4.0 / 3 * 3.15 * 40 * 40 * 40);
    REQUIRE(timed.events > 20);
    std::printf("interface's thread: busy for %.1f ms at most, in %zu events\n", timed.longest_ms, timed.events);
#if !defined(__SANITIZE_ADDRESS__) && !defined(__SANITIZE_THREAD__)
    INFO(timed.longest);
    CHECK(timed.longest_ms < 50);
#endif
}
