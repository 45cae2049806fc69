// The interface's thread is free while long steps are worked out.
#include "tests/app/busy.h"

#include "core/shape/shapes.h"
#include "tests/app/shown.h"

using namespace anvil;
using namespace anvil::test;

namespace {

void check_short(const TimedApplication& timed) {
    REQUIRE(timed.events > 20);
    std::printf("interface's thread: busy for %.1f ms at most, in %zu events\n", timed.longest_ms, timed.events);
#if !defined(__SANITIZE_ADDRESS__) && !defined(__SANITIZE_THREAD__)
    INFO(timed.longest);
    CHECK(timed.longest_ms < 50);
#endif
}

}  // namespace

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
    timed.restart();
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
    check_short(timed);
}

TEST_CASE("while edges and faces of a body of 100,000 faces are selected the interface is busy for 50 ms at most") {
    Shown w;
    Job job;
#if defined(__SANITIZE_ADDRESS__) || defined(__SANITIZE_THREAD__)
    constexpr int around = 220;  // more than is selected at once on the interface's thread
#else
    constexpr int around = 450;
#endif
    Mesh body = sphere_shape({.diameter = 80, .facets = {.around = around}})->mesh;
    append(body, make_box({60, 0, 0}, {90, 30, 30}));
    const std::size_t faces = body.faces.size();
    const FaceId of_box(static_cast<std::uint32_t>(body.faces.size() - 1));
    add_part(job, "body", std::make_shared<const Mesh>(std::move(body)));
    w->controller().open(job, {});
    w.settle();
    w->viewport()->frame_all();
    w->action("by-hand")->trigger();
    w.settle();
    HandMode& hand = *w->hand();
    REQUIRE(hand.is_on());
    auto& timed = dynamic_cast<TimedApplication&>(*QCoreApplication::instance());
    timed.restart();
    // In events, as the mouse and the keys do it.
    auto done = [&](std::function<void()> what) {
        QMetaObject::invokeMethod(w->viewport(), std::move(what), Qt::QueuedConnection);
        QApplication::processEvents();
        w.settle();
        return hand.selection().elements.size();
    };
    CHECK(done([&] {
              hand.set_kind(ElementKind::edges);
              hand.choose_at(FaceId(1000), {0, 0, 40}, HandMode::How::replace);
          }) == 1);
    CHECK(done([&] { hand.connected(); }) == (faces - 12) / 2 * 3);
    CHECK(done([&] { hand.set_kind(ElementKind::faces); }) == faces - 12);
    CHECK(hand.kind() == ElementKind::faces);
    CHECK(done([&] {
              hand.choose_at(of_box, {}, HandMode::How::replace);
              hand.region();
          }) == 2);
    // What is pressed behind a change that is under way goes by what that leaves.
    done([&] {
        hand.choose_at(of_box, {}, HandMode::How::replace);
        hand.use(HandTool::delete_faces);
    });
    CHECK(w->controller().outcome()->evaluation->combined->mesh.faces.size() == of_box.value());
    check_short(timed);
}
