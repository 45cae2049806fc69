#pragma once

#include <QListWidget>
#include <QWidget>

#include "app/job_controller.h"
#include "app/view/viewport.h"
#include "core/inspect/accepted.h"

class QComboBox;
class QLabel;
class QLineEdit;
class QPushButton;

namespace anvil::app {

/// The right panel: the verdict, one line per kind of finding, the places of the chosen kind, remarks on the steps, and
/// the measures as before -> now.
class Ledger : public QWidget {
    Q_OBJECT
  public:
    explicit Ledger(JobController& controller, QWidget* parent = nullptr);
    /// What the ledger speaks of.
    struct Subject {
        std::shared_ptr<const Inspection> inspection;
        QString name;
        bool is_result = true;               ///< the job's result, else a body on its way
        std::string part{};                  ///< id of that into whose list repairs go; empty where they can go nowhere
        std::shared_ptr<const Mesh> body{};  ///< what was inspected
        Transform stands = Transform::Identity();  ///< where that is, for its pins
        std::shared_ptr<const Measures> before;    ///< what measures are told against; may be null
    };
    void show(Subject subject);
    QString verdict() const;
    QString measures() const;
    QListWidget* kinds() const { return kinds_; }
    QListWidget* remarks() const { return remarks_; }
    QPushButton* mend_all_button() const { return mend_all_; }
    QPushButton* mend_one_button() const { return mend_one_; }
    QPushButton* mend_kind_button() const { return mend_kind_; }
    QComboBox* fill_choice() const { return fill_; }
    /// Lets a finding stay, or has it told again where it may stay already.
    QPushButton* accept_one_button() const { return accept_one_; }
    QPushButton* accept_kind_button() const { return accept_kind_; }
    /// Which findings of those listed may stay.
    const Acceptance& acceptance() const { return acceptance_; }
    /// From where on findings of the chosen kind are listed; hidden for kinds without such a size.
    QLineEdit* threshold_field() const { return threshold_; }
    void choose(FindingKind kind);
    /// What it lists, where that stands, and the kind whose line is chosen.
    std::shared_ptr<const Inspection> inspection() const { return subject_.inspection; }
    std::string part() const { return subject_.part; }
    const Transform& stands() const { return subject_.stands; }
    std::optional<FindingKind> chosen_kind() const;
    void step(int by);
    std::vector<Pin> pins() const;

  Q_SIGNALS:
    void pins_changed();
    void place_chosen(const anvil::Vec3& place);
    /// Repairs in a part's list are asked for, at the places that the options name, or everywhere.
    void mend_wanted(const std::string& part, const std::vector<anvil::Repair>& repairs,
                     const anvil::MendOptions& options);
    void row_wanted(const anvil::RowId& row);

  protected:
    void changeEvent(QEvent*) override;

  private:
    void reload();
    Vec3 placed(const Vec3& p) const;
    /// By what findings that may stay are kept: the part, or nothing for the result.
    std::string accepted_under() const;
    QString verdict_of(QString& mark) const;
    void ask_to_mend(bool everywhere);
    void accept(bool everywhere);
    void show_acceptance();
    void reload_measures();
    void reload_remarks();
    void choose_kind(bool go);
    bool add_folded_line();
    void unfold(bool on);
    void show_mark();
    void show_threshold();
    void commit_threshold();
    std::optional<FindingKind> kind_at_hand() const;

    JobController& controller_;
    Subject subject_;
    Acceptance acceptance_;
    QString mark_name_;
    QLabel *mark_, *verdict_, *place_, *measures_title_, *measures_, *meaning_, *remarks_title_;
    QListWidget *kinds_, *remarks_;
    QPushButton *previous_, *next_, *mend_all_, *mend_one_, *mend_kind_, *accept_one_, *accept_kind_;
    QWidget *stepper_, *mender_, *accepter_, *threshold_box_;
    QComboBox* fill_;
    QLabel* threshold_name_;
    QLineEdit* threshold_;
    std::vector<const Finding*> places_;
    int at_ = -1;
    int kept_kind_ = -1;
    bool unfolded_ = false;  // the kinds of which there is none are listed
};

}  // namespace anvil::app
