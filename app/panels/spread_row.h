#pragma once

#include <QSlider>

#include "app/job_controller.h"

namespace anvil::app {

/// A slider that shows the pieces of the result apart; seen only where there are several.
class SpreadRow : public QWidget {
    Q_OBJECT
  public:
    explicit SpreadRow(JobController& controller, QWidget* parent = nullptr);
    QSlider* slider() const { return slider_; }

  Q_SIGNALS:
    void wanted(double share);

  private:
    QSlider* slider_;
};

}  // namespace anvil::app
