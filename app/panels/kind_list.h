#pragma once

#include <QListWidget>

namespace anvil::app {

/// In place of a kind: the line that stands for all kinds of which there is none, or which are still looked for.
inline constexpr int folded_line = -2;

/// The ledger's list: a line for each kind of finding, with its count. It shows whole rows only: what is under the list
/// would cut through the last one. Items hold in Qt::UserRole the kind or `folded_line`, then the count, negative while
/// it is looked for (of the folded line: whether it is open), then how many are accepted.
class KindList : public QListWidget {
  public:
    KindList();

  protected:
    void resizeEvent(QResizeEvent* event) override;
};

}  // namespace anvil::app
