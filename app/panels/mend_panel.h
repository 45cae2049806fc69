#pragma once

#include <QWidget>
#include <array>

#include "app/job_controller.h"
#include "app/view/viewport.h"

class QCheckBox;
class QGridLayout;
class QLabel;
class QLineEdit;
class QPushButton;
class QToolButton;

namespace anvil::app {

/// The settings of a chosen mending: which repairs run and within what reach, beside what each of them did. A count
/// pins the places of its repair in the view.
class MendPanel : public QWidget {
    Q_OBJECT
  public:
    explicit MendPanel(JobController& controller, QWidget* parent = nullptr);
    void set_mending(const std::string& part, const std::string& mending);
    /// The places of the repair whose count was clicked.
    std::vector<Pin> pins() const;
    QCheckBox* box(Repair repair) const { return row(repair).box; }
    QLineEdit* reach(Repair repair) const { return row(repair).reach; }
    QToolButton* fill_button(FillStyle style) const { return fill_[static_cast<std::size_t>(style)]; }
    QToolButton* sheet_button(SheetRule rule) const { return sheets_[static_cast<std::size_t>(rule)]; }
    QToolButton* count(Repair repair) const { return row(repair).count; }
    QToolButton* compare_button(Compare compare) const { return compare_[static_cast<std::size_t>(compare)]; }
    void show_compare(Compare compare);
    QString said() const;
    /// Where the plan could not finish: puts the regions of what remains anew.
    QPushButton* rebuild_button() const { return rebuild_; }

  Q_SIGNALS:
    void hint(const QString& text);
    void pins_changed();
    void chosen(const std::string& part, const std::string& mending);
    void compare_wanted(anvil::app::Compare compare);

  private:
    struct Row {
        QCheckBox* box = nullptr;
        QLineEdit* reach = nullptr;  // of weld, holes, shells and thicken
        QToolButton* count = nullptr;
    };
    const Row& row(Repair repair) const { return rows_[static_cast<std::size_t>(repair)]; }
    template <class Choice, class Chosen>
    void add_choices(QGridLayout* grid, Repair below, const std::array<Choice, 3>& choices,
                     std::array<QToolButton*, 3>& buttons, const Chosen& chosen);
    void choose_sheets(SheetRule rule);
    void add_row(Repair repair, QGridLayout* grid);
    void reload();
    void reload_done();
    void show_repair(int repair);
    void rebuild_rest();
    void commit(Repair repair);
    void count_weldable(const QString& text);
    void change(const std::function<void(Mending&)>& edit, const QString& name);
    const Mending* mending() const;

    JobController& controller_;
    std::string part_, mending_;
    int shown_ = -1;  // the repair whose places are pinned
    QLabel *title_, *verdict_, *said_;
    QPushButton* rebuild_;
    QWidget* plan_;
    std::array<Row, repair_kinds> rows_;
    std::array<QToolButton*, 3> fill_{}, sheets_{};  // by FillStyle, by SheetRule
    std::array<QToolButton*, 4> compare_{};
};

}  // namespace anvil::app
