#pragma once

#include <QImage>
#include <QObject>
#include <memory>

#include "app/view/renderer.h"

namespace anvil::app {

/// Draws pictures on a thread of its own, so that the interface's thread never waits for one.
class PictureMaker : public QObject {
    Q_OBJECT
  public:
    struct Request {
        Scene scene;
        std::optional<Scene> before{};  ///< drawn beside it
        Eye eye;
        bool operator==(const Request&) const = default;
    };
    struct Picture {
        QImage image, before;
        Camera camera{};     ///< that it was taken with
        bool moves = false;  ///< drawn simply, since something moved
        double ms = 0;       ///< that it took
        QString trouble{};   ///< why nothing can be drawn; empty where it can
    };
    explicit PictureMaker(QObject* parent = nullptr);
    ~PictureMaker() override;

    /// Takes the place of what was asked before and is not begun. A picture at rest that is being drawn is given up
    /// where something moves; any other is finished, so that there is always a next one.
    void ask(Request request);
    /// Until what was asked is there.
    void wait();
    /// Whether something was asked that is not there yet.
    bool is_busy() const;
    /// The last one that was made.
    const Picture& picture() const { return picture_; }

  Q_SIGNALS:
    void made();

  private:
    struct Worker;
    void take();
    std::unique_ptr<Worker> worker_;
    Picture picture_;
};

}  // namespace anvil::app
