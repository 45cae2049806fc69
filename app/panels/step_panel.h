#pragma once

#include <QWidget>
#include <array>
#include <map>

#include "app/job_controller.h"

class QAction;
class QCheckBox;
class QLabel;
class QLineEdit;
class QPushButton;
class QToolButton;

namespace anvil::app {

class CopiesPanel;
class LinkPanel;
class SizePanel;
class SkinsRow;
class ShapePanel;

/// The settings of a row with a part: its operation, and where its part stands, as typed numbers with units.
class StepPanel : public QWidget {
    Q_OBJECT
  public:
    explicit StepPanel(JobController& controller, QWidget* parent = nullptr);
    void set_row(const RowId& row);
    /// Makes the chosen part the operand of this operation: a waiting part gets a step.
    void apply_operation(Operation operation);
    ShapePanel* shape() const { return shape_; }
    CopiesPanel* copies() const { return copies_; }
    LinkPanel* link() const { return link_; }
    SkinsRow* skins_ = nullptr;
    SizePanel* size_panel() const { return size_; }
    /// What chooses an operation, one of the main ones or in the list of the others.
    QToolButton* main_operation(Operation operation) const { return operations_.at(operation); }
    QAction* other_operation(Operation operation) const { return others_.at(operation); }
    QToolButton* others() const { return other_; }
    QCheckBox* merge_flush() const { return merge_flush_; }
    QCheckBox* closes_sheets() const { return closes_sheets_; }
    QCheckBox* goes_along() const { return goes_along_; }
    QLineEdit* budget_field() const { return budget_; }
    QLineEdit* field(int index) const { return fields_[static_cast<std::size_t>(index)]; }

    /// Gives what the row's part is rotated about, in the job, where that was put somewhere; its own origin else.
    std::function<std::optional<Vec3>()> pivot{};

  Q_SIGNALS:
    void hint(const QString& text);
    void remove_wanted();

  private:
    void make_result_box();
    void reload();
    void reload_note();
    void reload_met();
    void reload_open();
    void reload_kept();
    void commit_budget();
    void commit(int index);
    const Row* row() const { return controller_.row(row_); }
    const Part* part() const { return controller_.job().find_part(row_.part); }

    JobController& controller_;
    RowId row_;
    QLabel *title_, *note_, *does_, *met_, *position_ = nullptr;
    QWidget *body_, *operation_box_, *result_box_;
    std::array<QToolButton*, 2> contact_{};
    QCheckBox *merge_flush_, *closes_sheets_, *goes_along_;
    std::map<Operation, QToolButton*> operations_;
    std::map<Operation, QAction*> others_;
    QToolButton* other_ = nullptr;
    ShapePanel* shape_ = nullptr;
    CopiesPanel* copies_ = nullptr;
    LinkPanel* link_ = nullptr;
    SizePanel* size_ = nullptr;
    std::array<QLineEdit*, 6> fields_{};
    QPushButton *base_, *remove_;
    QLabel* kept_;
    QLineEdit* budget_;
};

}  // namespace anvil::app
