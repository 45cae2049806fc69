#include "app/panels/link_panel.h"

#include <QCheckBox>
#include <QComboBox>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

#include "app/panels/parts_of_panels.h"
#include "app/panels/row_words.h"
#include "app/words.h"
#include "core/job/links.h"

namespace anvil::app {

LinkPanel::LinkPanel(JobController& controller, QWidget* parent) : QWidget(parent), controller_(controller) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 2, 0, 2);
    column->setSpacing(4);
    follows_ = new QWidget;
    auto* box = new QVBoxLayout(follows_);
    box->setContentsMargins(0, 0, 0, 0);
    box->setSpacing(4);
    box->addWidget(title_ = section_title({}));
    for (QLabel** label : {&to_, &error_}) {
        box->addWidget(*label = new QLabel);
        (*label)->setWordWrap(true);
    }
    error_->setObjectName("remark");
    auto* line = new QHBoxLayout;
    stages_ = new QComboBox;
    stages_->setAccessibleName(tr("Follows up to"));
    stages_->setToolTip(tr("Up to which step of that part it follows"));
    stages_->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    stages_->setMinimumContentsLength(8);
    copy_ = new QPushButton;
    line->addWidget(stages_, 1);
    line->addWidget(copy_);
    box->addLayout(line);
    column->addWidget(follows_);
    stays_ = new QCheckBox(tr("Keep it on the bench, too"));
    stays_->setToolTip(tr("The step uses it, and it stays on the bench as a part of its own"));
    column->addWidget(stays_);
    delivered_ = new QCheckBox(tr("Export it, too"));
    delivered_->setToolTip(tr("It is written beside the result, as it lies on the bench"));
    column->addWidget(delivered_);
    connect(stages_, &QComboBox::activated, this, &LinkPanel::follow);
    connect(copy_, &QPushButton::clicked, this, &LinkPanel::copy_or_follow);
    connect(stays_, &QCheckBox::clicked, this, &LinkPanel::set_stays);
    connect(delivered_, &QCheckBox::clicked, this, &LinkPanel::set_delivered);
    connect(&controller_, &JobController::job_changed, this, &LinkPanel::reload);
    connect(&controller_, &JobController::evaluated, this, &LinkPanel::reload_error);
    reload();
}

const Part* LinkPanel::part() const {
    const Row* at = controller_.row(row_);
    return at && !at->is_base() && (!at->step || at->use) ? controller_.job().find_part(at->id.part) : nullptr;
}

const Link* LinkPanel::link() const {
    const Part* of = part();
    if (!of) return nullptr;
    if (const auto* now = std::get_if<Link>(&of->source)) return now;
    const auto* stored = std::get_if<StoredMesh>(&of->source);
    return stored && stored->copy_of ? &*stored->copy_of : nullptr;
}

QString LinkPanel::said() const { return error_->isVisibleTo(this) ? error_->text() : to_->text(); }

void LinkPanel::set_row(const RowId& row) {
    row_ = row;
    reload();
}

void LinkPanel::follow(int stage) {
    if (!part()) return;
    const QVariant step = stages_->itemData(stage);
    std::optional<std::string> as_of;
    if (step.isValid()) as_of = step.toString().toStdString();
    if (link() && link()->as_of == as_of) return;
    Job job = controller_.job();
    if (auto done = follow_as_of(job, row_.part, as_of); !done) {
        Q_EMIT hint(capitalised(QString::fromStdString(done.error().text)) + ".");
        reload();
        return;
    }
    controller_.change(std::move(job), tr("%1: follows up to another step").arg(QString::fromStdString(part()->name)));
}

void LinkPanel::copy_or_follow() {
    const Part* of = part();
    if (!of) return;
    Job job = controller_.job();
    const QString name = QString::fromStdString(of->name);
    if (std::holds_alternative<Link>(of->source)) {
        const auto outcome = controller_.outcome();
        if (!outcome || !outcome->evaluation || !outcome->evaluation->given.contains(of->id)) {
            Q_EMIT hint(tr("There is no body yet that could be copied."));
            return;
        }
        use_copy(job, of->id, outcome->evaluation->given.at(of->id));
        controller_.change(std::move(job), tr("%1: use a copy").arg(name));
        return;
    }
    if (auto done = follow_again(job, of->id); !done) {
        Q_EMIT hint(capitalised(QString::fromStdString(done.error().text)) + ".");
        return;
    }
    controller_.change(std::move(job), tr("%1: follow the original").arg(name));
}

void LinkPanel::set_stays(bool on) {
    const Row* at = controller_.row(row_);
    if (!at || !part()) return;
    Job job = controller_.job();
    const Placement there = placement_from(at->frame * at->placement().transform());
    edit_part(job, at->id.part, [&](Part& p) {
        p.stays = on;
        if (on) p.bench = there;
    });
    if (!on) std::erase(job.results, at->id.part);
    const QString name = QString::fromStdString(part()->name);
    controller_.change(std::move(job), (on ? tr("keep %1 on the bench") : tr("take %1 off the bench")).arg(name));
}

void LinkPanel::set_delivered(bool on) {
    const Row* at = controller_.row(row_);
    if (!at || !part()) return;
    Job job = controller_.job();
    std::erase(job.results, at->list->id);
    if (on) job.results.push_back(at->list->id);
    const QString name = QString::fromStdString(part()->name);
    controller_.change(std::move(job), (on ? tr("export %1, too") : tr("do not export %1")).arg(name));
}

void LinkPanel::reload() {
    const Row* at = controller_.row(row_);
    const Part* of = part();
    setVisible(of != nullptr);
    if (!of) return;
    const Job& job = controller_.job();
    stays_->setVisible(at->step != nullptr || of->stays);
    stays_->setChecked(of->stays);
    delivered_->setVisible(!at->step);
    delivered_->setChecked(std::ranges::find(job.results, at->list->id) != job.results.end());
    const Link* to = link();
    follows_->setVisible(to != nullptr);
    if (!to) return;
    const bool is_link = std::holds_alternative<Link>(of->source);
    title_->setText(is_link ? tr("FOLLOWS") : tr("A COPY OF"));
    const Part* original = job.find_part(to->part);
    QString name = original ? quoted(original->name) : tr("a part that is gone");
    if (original && original->id == job.work()) name = tr("the result (%1)").arg(quoted(original->name));
    if (to->piece) name = tr("%1, piece %2 of %3").arg(name).arg(to->piece->number + 1).arg(to->piece->count);
    to_->setText(name);
    copy_->setText(is_link ? tr("Use a copy") : tr("Follow again"));
    copy_->setToolTip(is_link ? tr("It becomes a part of its own, as it is now") : tr("It follows the original again"));
    stages_->setVisible(is_link);
    if (!is_link) return reload_error();
    stages_->clear();
    stages_->addItem(tr("to the end"));
    stages_->addItem(tr("as it came"), QString());
    for (const Row& row : controller_.rows())
        if (original && row.step && row.list->id == original->id &&
            stages_->findData(QString::fromStdString(row.step->id)) < 0)
            stages_->addItem(tr("as of step %1, %2").arg(QString::fromStdString(row.number), name_of(row, job)),
                             QString::fromStdString(row.step->id));
    int now = 0;
    for (int k = 1; k < stages_->count(); ++k)
        if (to->as_of && stages_->itemData(k).toString().toStdString() == *to->as_of) now = k;
    if (to->as_of && now == 0) {
        stages_->addItem(tr("as of a step that is gone"), QString::fromStdString(*to->as_of));
        now = stages_->count() - 1;
    }
    stages_->setCurrentIndex(now);
    reload_error();
}

void LinkPanel::reload_error() {
    QString why;
    const auto outcome = controller_.outcome();
    if (part() && link() && outcome && outcome->evaluation)
        if (const auto at = outcome->evaluation->broken.find(row_.part); at != outcome->evaluation->broken.end())
            why = capitalised(QString::fromStdString(at->second.sentence())) + ".";
    error_->setText(why);
    error_->setVisible(!why.isEmpty());
}

}  // namespace anvil::app
