#pragma once

#include <QWidget>

#include "app/job_controller.h"

class QCheckBox;
class QComboBox;
class QLabel;
class QPushButton;

namespace anvil::app {

/// What the part of a row follows and how far, and whether it lies on the bench and is delivered. Hidden for the base.
class LinkPanel : public QWidget {
    Q_OBJECT
  public:
    explicit LinkPanel(JobController& controller, QWidget* parent = nullptr);
    void set_row(const RowId& row);
    QString said() const;
    QComboBox* stages() const { return stages_; }
    QPushButton* copy_button() const { return copy_; }
    QCheckBox* stays_box() const { return stays_; }
    QCheckBox* delivered_box() const { return delivered_; }

  Q_SIGNALS:
    void hint(const QString& text);

  private:
    const Part* part() const;
    /// What it is linked to, or was before it was made a copy.
    const Link* link() const;
    void follow(int stage);
    void copy_or_follow();
    void set_stays(bool on);
    void set_delivered(bool on);
    void reload();
    void reload_error();

    JobController& controller_;
    RowId row_;
    QWidget* follows_;
    QLabel *title_, *to_, *error_;
    QComboBox* stages_;
    QPushButton* copy_;
    QCheckBox *stays_, *delivered_;
};

}  // namespace anvil::app
