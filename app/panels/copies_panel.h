#pragma once

#include <QWidget>

#include "app/job_controller.h"
#include "app/panels/field_editors.h"

class QComboBox;

namespace anvil::app {

/// How often the operand of a row is taken, and where. Hidden for rows without one.
class CopiesPanel : public QWidget {
    Q_OBJECT
  public:
    explicit CopiesPanel(JobController& controller, QWidget* parent = nullptr);
    void set_row(const RowId& row);
    /// Copies the operand of the row in that way; empty: once again only.
    void copy(const std::string& kind);
    QComboBox* kinds() const { return kinds_; }
    QWidget* editor(const std::string& field) const { return fields_->editor(field); }

  Q_SIGNALS:
    void selection_wanted(const anvil::Field& field);  ///< what the copies go along is to be selected in the view
    void hint(const QString& text);

  private:
    const Row* row() const;
    void change(const std::function<void(std::optional<Copies>&)>& edit, const QString& name);
    void reload();

    JobController& controller_;
    RowId row_;
    QComboBox* kinds_;
    FieldEditors* fields_;
};

}  // namespace anvil::app
