#pragma once

#include <QWidget>
#include <array>

namespace anvil::app {

/// A flat disc with the six named sides around it: turns the view. The four walls stand round the rim and turn with
/// the view; top and underside have the upper and the lower half of the middle.
class HorizonDial : public QWidget {
    Q_OBJECT
  public:
    explicit HorizonDial(QWidget* parent = nullptr);
    void set_turn(double turn, double tilt);

  Q_SIGNALS:
    void view_chosen(double turn, double tilt);

  protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent*) override;
    void mouseMoveEvent(QMouseEvent*) override;
    void mouseReleaseEvent(QMouseEvent*) override;
    void leaveEvent(QEvent*) override;
    void keyPressEvent(QKeyEvent*) override;

  private:
    struct Side {
        QString name;
        double turn, tilt;
    };
    static const std::array<Side, 6>& sides();
    QPointF place(int side) const;
    int side_at(const QPointF& p) const;

    double turn_ = 0, tilt_ = 0;
    int hovered_ = -1;
    QPointF last_, press_;
    bool dragged_ = false;
};

}  // namespace anvil::app
