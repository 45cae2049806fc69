#pragma once

#include <QWidget>

class QAction;

namespace anvil::app {

/// What an empty view shows: the two ways to start, as buttons of the given actions.
class EmptyBench : public QWidget {
    Q_OBJECT
  public:
    EmptyBench(QAction* bring_in, QAction* open_job, QAction* add_shape, const QList<QAction*>& demos,
               QWidget* parent = nullptr);
};

}  // namespace anvil::app
