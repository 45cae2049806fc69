#pragma once

#include <QListWidget>
#include <QWidget>

#include "app/job_controller.h"
#include "app/view/viewport.h"

class QLabel;
class QPushButton;

namespace anvil::app {

/// Sentences for each kind of finding.
struct FindingWords {
    QString one, many, meaning;
};
FindingWords words_of(FindingKind kind);

/// The right panel: the verdict, one line per kind of finding, the places of the chosen kind, and the measures as
/// before -> now.
class Ledger : public QWidget {
    Q_OBJECT
  public:
    explicit Ledger(JobController& controller, QWidget* parent = nullptr);
    /// Which mesh the ledger speaks of: the result, or a waiting part (then the inspection is of that part).
    void show_inspection(std::shared_ptr<const Inspection> inspection, const QString& subject);
    QString verdict() const;
    QListWidget* kinds() const { return kinds_; }
    void step(int by);
    std::vector<Pin> pins() const;

  Q_SIGNALS:
    void pins_changed();
    void place_chosen(const anvil::Vec3& place);

  private:
    void reload();
    void reload_measures();
    void choose_kind();

    JobController& controller_;
    std::shared_ptr<const Inspection> inspection_;
    QString subject_;
    QLabel *mark_, *verdict_, *place_, *measures_, *meaning_;
    QListWidget* kinds_;
    QPushButton *previous_, *next_;
    QWidget* stepper_;
    std::vector<const Finding*> places_;
    int at_ = -1;
};

}  // namespace anvil::app
