#pragma once

#include <QAbstractButton>
#include <QWidget>

class QAction;
class QGridLayout;
class QLabel;
class QToolButton;

namespace anvil::app {

struct Station;

/// One tool of a drawer: its drawing, its name and key, and what it does in half a sentence.
class Tile : public QAbstractButton {
    Q_OBJECT
  public:
    explicit Tile(QAction* tool, QWidget* parent = nullptr);
    QAction* tool() const { return tool_; }
    QSize sizeHint() const override;

  protected:
    void paintEvent(QPaintEvent*) override;
    void enterEvent(QEnterEvent*) override { update(); }
    void leaveEvent(QEvent*) override { update(); }

  private:
    void take_state();
    QAction* tool_;
};

/// The band under the route with the tools of a station as tiles, as many in a row as there is room for.
class Drawer : public QWidget {
    Q_OBJECT
  public:
    explicit Drawer(QWidget* parent = nullptr);
    void show_station(const Station& station);
    bool is_pinned() const;
    void set_pinned(bool on);
    const std::vector<Tile*>& tiles() const { return tiles_; }
    /// Its height, where it is so wide.
    int height_for(int width) const;

  Q_SIGNALS:
    void used();  ///< a tool was chosen
    void pinned(bool on);

  protected:
    void resizeEvent(QResizeEvent*) override;
    void keyPressEvent(QKeyEvent*) override;

  private:
    int columns_for(int width) const;
    void lay_out();

    QWidget* field_;
    QGridLayout* grid_;
    QLabel* note_;
    QToolButton* pin_;
    std::vector<Tile*> tiles_;
};

}  // namespace anvil::app
