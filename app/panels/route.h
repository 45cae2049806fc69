#pragma once

#include <QWidget>
#include <functional>

class QAction;
class QBoxLayout;
class QToolButton;

namespace anvil::app {

class Drawer;

/// A station of the work: what its drawer holds.
struct Station {
    QString name, icon, says;
    QList<QAction*> tools;
    /// What has to be done before any of its tools can be used; empty for nothing.
    std::function<QString()> note{};
};

/// The row of stations in the order of the work, and right of it what is at hand at any time. A station opens its
/// drawer under the row.
class Route : public QWidget {
    Q_OBJECT
  public:
    explicit Route(QWidget* parent = nullptr);
    void add_station(Station station);
    /// Small buttons right of the stations.
    void add_at_hand(const QList<QAction*>& tools);
    void add_end(QWidget* widget);
    Drawer* drawer() const { return drawer_; }
    /// Where the drawer goes while it is pinned.
    void set_place_of_pinned(QBoxLayout* column, int at);
    QToolButton* station_button(const QString& name) const;
    void open(int station);
    void close();
    /// A press of the mouse or Esc somewhere in the window: a drawer that is not pinned closes. True where it did by
    /// Esc.
    bool take_event(QObject* object, QEvent* event);

    /// With icons alone.
    QSize minimumSizeHint() const override;

  protected:
    void resizeEvent(QResizeEvent*) override;
    void changeEvent(QEvent*) override;

  private:
    void place_drawer();
    void fit();
    void show_words(bool on);

    std::vector<Station> stations_;
    std::vector<QToolButton*> buttons_, at_hand_;
    QBoxLayout* row_;
    QBoxLayout* pinned_in_ = nullptr;
    int pinned_at_ = 0, open_ = -1;
    Drawer* drawer_;
    QWidget* end_ = nullptr;
};

}  // namespace anvil::app
