#include "app/view/picture_maker.h"

#include <QElapsedTimer>
#include <QOffscreenSurface>
#include <QOpenGLContext>
#include <atomic>
#include <condition_variable>
#include <mutex>
#include <thread>

namespace anvil::app {

struct PictureMaker::Worker {
    explicit Worker(PictureMaker& of) : maker(of) {
        surface.setFormat(Renderer::format());
        surface.create();  // surfaces are made on the interface's thread, contexts where they are used
        if (QOpenGLContext::supportsThreadedOpenGL()) thread = std::thread([this] { run(); });
    }
    ~Worker() {
        {
            const std::lock_guard lock(mutex);
            ends = true;
            gives_up = true;
        }
        changed.notify_all();
        if (thread.joinable()) thread.join();
        renderer.reset();
    }

    void run() {
        std::unique_lock lock(mutex);
        while (true) {
            changed.wait(lock, [this] { return ends || next; });
            if (ends) break;
            draw_next(lock);
        }
        lock.unlock();
        renderer.reset();  // on the thread that it was made on
    }

    void draw_next(std::unique_lock<std::mutex>& lock) {
        const Request request = std::move(*next);
        next.reset();
        drawn_moves = request.scene.moves;
        gives_up = ends;
        works = true;
        lock.unlock();
        Picture made = draw(request);
        lock.lock();
        works = false;
        if (!gives_up || drawn_moves) {
            ready = std::move(made);
            QMetaObject::invokeMethod(
                &maker, [m = &maker] { m->take(); }, Qt::QueuedConnection);
        }
        changed.notify_all();
    }

    Picture draw(const Request& request) {
        QElapsedTimer watch;
        watch.start();
        if (!renderer) renderer = std::make_unique<Renderer>(surface);
        Picture out;
        out.image = renderer->render(request.scene, request.eye, gives_up);
        if (request.before) out.before = renderer->render(*request.before, request.eye, gives_up);
        out.camera = request.eye.camera;
        out.moves = request.scene.moves;
        out.ms = static_cast<double>(watch.nsecsElapsed()) * 1e-6;
        out.trouble = renderer->trouble();
        return out;
    }

    PictureMaker& maker;
    QOffscreenSurface surface;
    std::unique_ptr<Renderer> renderer;
    std::mutex mutex;
    std::condition_variable changed;
    std::optional<Request> next;
    std::optional<Picture> ready;  // made, and not taken over
    bool works = false, drawn_moves = false, ends = false;
    std::atomic<bool> gives_up = false;
    std::thread thread;  // none where the driver draws on one thread only
};

PictureMaker::PictureMaker(QObject* parent) : QObject(parent), worker_(std::make_unique<Worker>(*this)) {}
PictureMaker::~PictureMaker() = default;

void PictureMaker::ask(Request request) {
    Worker& w = *worker_;
    std::unique_lock lock(w.mutex);
    if (request.scene.moves && w.works && !w.drawn_moves) w.gives_up = true;
    w.next = std::move(request);
    if (w.thread.joinable())
        w.changed.notify_all();
    else
        w.draw_next(lock);
}

void PictureMaker::wait() {
    Worker& w = *worker_;
    {
        std::unique_lock lock(w.mutex);
        w.changed.wait(lock, [&w] { return !w.works && !w.next; });
    }
    take();
}

bool PictureMaker::is_busy() const {
    const std::lock_guard lock(worker_->mutex);
    return worker_->works || worker_->next || worker_->ready;
}

void PictureMaker::take() {
    {
        const std::lock_guard lock(worker_->mutex);
        if (!worker_->ready) return;
        picture_ = std::move(*worker_->ready);
        worker_->ready.reset();
    }
    Q_EMIT made();
}

}  // namespace anvil::app
