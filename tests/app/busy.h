#pragma once

#include <QApplication>
#include <QThread>
#include <ctime>
#include <string>

namespace anvil::test {

/// Measures how long each event keeps the interface's thread, in its own processor time, which other programs on the
/// machine do not change.
class TimedApplication : public QApplication {
  public:
    using QApplication::QApplication;

    bool notify(QObject* receiver, QEvent* event) override {
        // Events of the worker's objects come by here, too, on its thread.
        if (QThread::currentThread() != thread() || depth_ > 0) return QApplication::notify(receiver, event);
        ++depth_;
        const std::string about = std::string(receiver->metaObject()->className()) + ", event " +
                                  std::to_string(static_cast<int>(event->type()));
        const double since = now();
        const bool done = QApplication::notify(receiver, event);
        if (const double ms = (now() - since) * 1e3; ms > longest_ms) {
            longest_ms = ms;
            longest = about;
        }
        ++events;
        --depth_;
        return done;
    }
    void restart() {
        longest_ms = 0;
        longest.clear();
        events = 0;
    }
    double longest_ms = 0;
    std::string longest{};  ///< what took that
    std::size_t events = 0;

  private:
    static double now() {
        timespec t{};
        ::clock_gettime(CLOCK_THREAD_CPUTIME_ID, &t);
        return static_cast<double>(t.tv_sec) + 1e-9 * static_cast<double>(t.tv_nsec);
    }
    int depth_ = 0;
};

}  // namespace anvil::test
