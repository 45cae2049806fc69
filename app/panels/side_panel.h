#pragma once

#include <QScrollArea>
#include <QToolButton>
#include <QWidget>

namespace anvil::app {

/// A panel beside the view that folds to its edge, a bar with an arrow. Where the window is too low for what is in it,
/// that scrolls.
class SidePanel : public QWidget {
    Q_OBJECT
  public:
    enum class Side { left, right };
    SidePanel(QWidget* content, int width, Side side, const QString& name, QWidget* parent = nullptr);
    bool is_folded() const { return area_->isHidden(); }
    /// By hand: it stays so until the window is made wide or narrow.
    void fold(bool on);
    int unfolded_width() const { return width_ + bar_width; }
    QToolButton* bar() const { return bar_; }
    static constexpr int bar_width = 14;

  private:
    QScrollArea* area_;
    QToolButton* bar_;
    int width_;
    Side side_;
    QString name_;
};

}  // namespace anvil::app
