#pragma once

#include <QEvent>
#include <QLayout>
#include <QScrollArea>

namespace anvil::app {

/// The settings under a list: as high as they are where there is room, and scrolled where there is not.
class SettingsArea : public QScrollArea {
  public:
    explicit SettingsArea(QWidget* settings) {
        setFrameShape(QFrame::NoFrame);
        setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
        setWidgetResizable(true);
        setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Maximum);
        setWidget(settings);
    }
    QSize sizeHint() const override {
        const QLayout* layout = widget()->layout();
        const int height =
            layout->hasHeightForWidth() ? layout->totalHeightForWidth(width()) : layout->totalSizeHint().height();
        return {width(), height};
    }
    QSize minimumSizeHint() const override { return {0, std::min(sizeHint().height(), 160)}; }

  protected:
    /// With a scroll bar the text would have less room and be higher, so that the bar would stay.
    void resizeEvent(QResizeEvent* event) override {
        setVerticalScrollBarPolicy(height() >= sizeHint().height() ? Qt::ScrollBarAlwaysOff : Qt::ScrollBarAsNeeded);
        QScrollArea::resizeEvent(event);
    }
    bool eventFilter(QObject* object, QEvent* event) override {
        if (object == widget() && event->type() == QEvent::LayoutRequest) updateGeometry();
        return QScrollArea::eventFilter(object, event);
    }
};

}  // namespace anvil::app
