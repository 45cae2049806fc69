#pragma once

#include <QWidget>
#include <map>

#include "app/view/hand_mode.h"

class QCheckBox;
class QComboBox;
class QLabel;
class QLineEdit;
class QToolButton;

namespace anvil::app {

/// The strip above the view while a part is worked on by hand: what is chosen and how, and the tools for it.
class HandStrip : public QWidget {
    Q_OBJECT
  public:
    explicit HandStrip(HandMode& hand, QWidget* parent = nullptr);
    QToolButton* button(const QString& name) const { return buttons_.at(name); }
    QToolButton* tool_button(HandTool tool) const { return tools_.at(tool); }
    QLineEdit* cell_field() const { return cell_; }

  Q_SIGNALS:
    void findings_wanted();  ///< the ledger's chosen kind is to be chosen in the view

  private:
    void refresh();
    void commit_cell();
    HandMode& hand_;
    QLabel *count_, *and_edit_;
    QCheckBox* visible_;
    QComboBox* fill_;
    QLineEdit* cell_;
    std::map<QString, QToolButton*> buttons_;
    std::map<HandTool, QToolButton*> tools_;
};

}  // namespace anvil::app
