#pragma once

#include <QWidget>

#include "app/job_controller.h"
#include "app/panels/field_editors.h"

class QLabel;

namespace anvil::app {

/// The measures of a row whose part is a shape. Hidden for all others.
class ShapePanel : public QWidget {
    Q_OBJECT
  public:
    explicit ShapePanel(JobController& controller, QWidget* parent = nullptr);
    void set_row(const RowId& row);
    QWidget* editor(const std::string& field) const { return fields_->editor(field); }
    QString said() const;

  Q_SIGNALS:
    void hint(const QString& text);

  private:
    const Shape* shape() const;
    void reload();
    void reload_error();

    JobController& controller_;
    RowId row_;
    QLabel *title_, *error_;
    FieldEditors* fields_;
};

}  // namespace anvil::app
