#pragma once

#include <QWidget>

#include "app/job_controller.h"
#include "app/panels/compare_row.h"
#include "app/panels/field_editors.h"
#include "app/panels/skins_row.h"

class QComboBox;
class QLabel;

namespace anvil::app {

/// The settings of a chosen step, built from the fields of its kind. What a step does that has no panel of its own is
/// set here.
class FieldPanel : public QWidget {
    Q_OBJECT
  public:
    explicit FieldPanel(JobController& controller, QWidget* parent = nullptr);
    void set_row(const RowId& row);
    /// What a field is set by, by its name; null where it has none.
    QWidget* editor(const std::string& field) const;
    CompareRow* compare_row() const { return compare_; }
    SkinsRow* skins() const { return skins_; }
    QComboBox* operations() const { return operations_; }
    QString said() const;

  Q_SIGNALS:
    void hint(const QString& text);
    void compare_wanted(anvil::app::Compare compare);
    void operation_wanted(anvil::Operation operation);  ///< of all rows of the group
    void remove_wanted();
    void selection_wanted(const anvil::Field& field);  ///< what the step is used on is to be selected anew
    void direction_wanted(const anvil::Field& field, bool by_edge);  ///< see FieldEditors

  private:
    void reload();
    void reload_done();
    void commit(const Field& field, const Value& value);
    const Row* row() const;

    JobController& controller_;
    RowId row_;
    QLabel *title_, *says_, *said_;
    FieldEditors* fields_ = nullptr;
    QWidget *look_, *group_;
    QComboBox* operations_;
    CompareRow* compare_;
    SkinsRow* skins_;
};

}  // namespace anvil::app
