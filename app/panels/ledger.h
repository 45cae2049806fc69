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

/// The right panel: the verdict, one line per kind of finding, the places of the chosen kind, remarks on the steps, and
/// the measures as before -> now.
class Ledger : public QWidget {
    Q_OBJECT
  public:
    explicit Ledger(JobController& controller, QWidget* parent = nullptr);
    /// The mesh that the ledger speaks of. `of_result`: it is the job's result, and its measures are told against those
    /// of the base; else it is a part as it stands.
    void show_inspection(std::shared_ptr<const Inspection> inspection, const QString& subject, bool of_result);
    QString verdict() const;
    QString measures() const;
    QListWidget* kinds() const { return kinds_; }
    QListWidget* remarks() const { return remarks_; }
    void step(int by);
    std::vector<Pin> pins() const;

  Q_SIGNALS:
    void pins_changed();
    void place_chosen(const anvil::Vec3& place);
    void part_wanted(const std::string& part);

  protected:
    void changeEvent(QEvent*) override;

  private:
    void reload();
    void reload_measures();
    void reload_remarks();
    void choose_kind();
    void show_mark();

    JobController& controller_;
    std::shared_ptr<const Inspection> inspection_;
    QString subject_;
    bool of_result_ = true;
    QString mark_name_;
    QLabel *mark_, *verdict_, *place_, *measures_title_, *measures_, *meaning_, *remarks_title_;
    QListWidget *kinds_, *remarks_;
    QPushButton *previous_, *next_;
    QWidget* stepper_;
    std::vector<const Finding*> places_;
    int at_ = -1;
};

}  // namespace anvil::app
