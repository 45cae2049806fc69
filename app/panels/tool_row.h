#pragma once

#include <QWidget>

class QAction;
class QHBoxLayout;

namespace anvil::app {

/// The top row: tools in groups, in the order of the work, a word under each icon.
class ToolRow : public QWidget {
    Q_OBJECT
  public:
    explicit ToolRow(QWidget* parent = nullptr);
    void add_group(const QString& name, const QList<QAction*>& tools);
    /// What stands at the far right.
    void add_end(QWidget* widget);

  private:
    QHBoxLayout* row_;
    bool first_ = true;
};

}  // namespace anvil::app
