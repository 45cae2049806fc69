#pragma once

#include <QWidget>
#include <array>

#include "app/job_controller.h"
#include "app/panels/compare_row.h"
#include "app/view/viewport.h"
#include "core/job/kinds/mend_values.h"

class QCheckBox;
class QGridLayout;
class QLabel;
class QLineEdit;
class QPushButton;
class QToolButton;

namespace anvil::app {

/// The settings of a chosen step that mends: which repairs run and within what reach, beside what each of them did. A
/// count pins the places of its repair in the view.
class MendPanel : public QWidget {
    Q_OBJECT
  public:
    explicit MendPanel(JobController& controller, QWidget* parent = nullptr);
    void set_row(const RowId& row);
    /// The places of the repair whose count was clicked.
    std::vector<Pin> pins() const;
    QCheckBox* box(Repair repair) const { return line(repair).box; }
    QLineEdit* reach(Repair repair) const { return line(repair).reach; }
    QToolButton* fill_button(FillStyle style) const { return fill_[static_cast<std::size_t>(style)]; }
    QToolButton* sheet_button(SheetRule rule) const { return sheets_[static_cast<std::size_t>(rule)]; }
    QToolButton* count(Repair repair) const { return line(repair).count; }
    QToolButton* compare_button(Compare compare) const { return compare_->button(compare); }
    void show_compare(Compare compare);
    QString said() const;
    /// Where the plan could not finish: puts the regions of what remains anew.
    QPushButton* rebuild_button() const { return rebuild_; }

  Q_SIGNALS:
    void hint(const QString& text);
    void pins_changed();
    void step_made(const std::string& step);  ///< to be chosen
    void compare_wanted(anvil::app::Compare compare);
    void remove_wanted();

  private:
    struct Line {
        QCheckBox* box = nullptr;
        QLineEdit* reach = nullptr;  // of weld, holes, shells and thicken
        QToolButton* count = nullptr;
    };
    const Line& line(Repair repair) const { return lines_[static_cast<std::size_t>(repair)]; }
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
    void change(const std::function<void(MendSettings&)>& edit, const QString& name);
    /// Null where the row is none of a step.
    const Row* row() const;
    /// What the step has set; of edits by hand that is nothing.
    MendSettings settings() const;
    QString body_name() const;

    JobController& controller_;
    RowId row_;
    int shown_ = -1;  // the repair whose places are pinned
    QLabel *title_, *verdict_, *said_;
    QPushButton* rebuild_;
    QWidget* plan_;
    std::array<Line, repair_kinds> lines_;
    std::array<QToolButton*, 3> fill_{}, sheets_{};  // by FillStyle, by SheetRule
    CompareRow* compare_;
};

}  // namespace anvil::app
