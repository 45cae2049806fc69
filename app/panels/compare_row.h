#pragma once

#include <QWidget>
#include <array>

#include "app/view/looks.h"

class QToolButton;

namespace anvil::app {

/// How a body is shown beside what it was before the chosen row: buttons, one of which is down.
class CompareRow : public QWidget {
    Q_OBJECT
  public:
    explicit CompareRow(QWidget* parent = nullptr);
    QToolButton* button(Compare compare) const { return buttons_[static_cast<std::size_t>(compare)]; }
    void show_compare(Compare compare);

  Q_SIGNALS:
    void wanted(anvil::app::Compare compare);

  private:
    std::array<QToolButton*, 4> buttons_{};
};

}  // namespace anvil::app
