#pragma once

#include <QListView>

#include "app/job_controller.h"

namespace anvil::app {

class JobSheetModel;

/// Pixels: of a row, and of what is left under the last one for the stop line's tab.
inline constexpr int row_height = 34, room_under_rows = 12;

/// The rows of the job sheet with the stop line between them: steps below it wait, so that the model can be looked at
/// as of any step. The line hangs under the last row that counts; it is dragged, or moved by Ctrl+Up and Ctrl+Down.
class SheetView : public QListView {
    Q_OBJECT
  public:
    SheetView(JobController& controller, JobSheetModel& model, QWidget* parent = nullptr);

    /// Where the line is, in the viewport; empty while there is no step.
    QRect stop_line() const;
    /// Moves the line by so many steps.
    void move_stop(int by);
    /// From the top down.
    std::vector<RowId> chosen_rows() const;
    /// Puts the chosen steps into the list of the one above, or takes them out of the list they stand in (Ctrl+Right,
    /// Ctrl+Left).
    void bundle(bool into);

  Q_SIGNALS:
    void hint(const QString& text);

  protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent*) override;
    void mouseMoveEvent(QMouseEvent*) override;
    void mouseReleaseEvent(QMouseEvent*) override;
    void keyPressEvent(QKeyEvent*) override;
    void resizeEvent(QResizeEvent*) override;

  private:
    QRect stop_tab() const;
    std::size_t steps() const;
    std::size_t shown_stop() const;
    void set_stop(std::size_t count);
    JobController& controller_;
    JobSheetModel& model_;
    bool pulling_ = false;
};

}  // namespace anvil::app
