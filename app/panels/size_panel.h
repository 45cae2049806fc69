#pragma once

#include <QWidget>
#include <array>

#include "app/job_controller.h"

class QCheckBox;
class QComboBox;
class QLineEdit;

namespace anvil::app {

/// How large the part of a row is, along the axes of its own list: typed, it is scaled to that. Of a mesh also which
/// unit its numbers were meant in. Hidden where there is no body.
class SizePanel : public QWidget {
    Q_OBJECT
  public:
    explicit SizePanel(JobController& controller, QWidget* parent = nullptr);
    void set_row(const RowId& row);
    QLineEdit* size_field(int axis) const { return fields_[static_cast<std::size_t>(axis)]; }
    QCheckBox* evenly() const { return evenly_; }
    QComboBox* units() const { return units_; }

  Q_SIGNALS:
    void hint(const QString& text);

  private:
    const Part* part() const;
    Box box() const;
    void commit(int axis);
    void take_unit(int index);
    void reload();

    JobController& controller_;
    RowId row_;
    std::array<QLineEdit*, 3> fields_{};
    QCheckBox* evenly_;
    QComboBox* units_;
};

}  // namespace anvil::app
