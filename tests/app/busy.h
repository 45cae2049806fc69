#pragma once

#include <QApplication>
#include <ctime>

namespace anvil::test {

/// Measures how long each event keeps the interface's thread, in its own processor time, which other programs on the
/// machine do not change.
class TimedApplication : public QApplication {
  public:
    using QApplication::QApplication;

    bool notify(QObject* receiver, QEvent* event) override {
        if (depth_ > 0) return QApplication::notify(receiver, event);
        ++depth_;
        const double since = now();
        const bool done = QApplication::notify(receiver, event);
        longest_ms = std::max(longest_ms, (now() - since) * 1e3);
        ++events;
        --depth_;
        return done;
    }
    double longest_ms = 0;
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
