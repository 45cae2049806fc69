#include "app/panels/question_strip.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QToolButton>
#include <QVBoxLayout>
#include <numbers>

#include "app/panels/measures_table.h"
#include "app/panels/parts_of_panels.h"
#include "app/theme.h"
#include "app/view/picture_maker.h"
#include "app/words.h"
#include "core/job/kinds/mend_values.h"
#include "core/job/quantity.h"

namespace anvil::app {

constexpr QSize picture_size(200, 112);

/// What an answer leads to.
struct QuestionStrip::Seen {
    std::shared_ptr<const DisplayMesh> display;
    double volume = 0;  // mm³; 0 where it stays open
};

QuestionStrip::QuestionStrip(JobController& controller, QWidget* parent)
    : QWidget(parent), controller_(controller), asked_(new QLabel), thickness_(new QLineEdit) {
    setObjectName("questionStrip");
    setAttribute(Qt::WA_StyledBackground);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(12, 8, 12, 8);
    column->setSpacing(6);
    asked_->setWordWrap(true);
    column->addWidget(asked_);
    auto* row = new QHBoxLayout;
    row->setSpacing(8);
    column->addLayout(row);
    for (std::size_t k = 0; k < boxes_.size(); ++k) {
        Box& box = boxes_[k];
        box.all = new QWidget;
        auto* below = new QVBoxLayout(box.all);
        below->setContentsMargins(0, 0, 0, 0);
        below->setSpacing(2);
        box.button = new QToolButton;
        box.button->setProperty("choice", true);
        box.button->setToolButtonStyle(Qt::ToolButtonTextUnderIcon);
        box.button->setIconSize(picture_size);
        below->addWidget(box.button);
        box.makes = new QLabel;
        box.makes->setObjectName("emptyText");
        auto* line = new QHBoxLayout;
        line->setSpacing(4);
        if (k == 1) {  // the only answer with a number
            thickness_->setFixedWidth(66);
            thickness_->setAccessibleName(tr("Thickness of the sheet"));
            thickness_->setToolTip(tr("A length, half of it to each side of the sheet"));
            line->addWidget(thickness_);
        }
        line->addWidget(box.makes, 1);
        below->addLayout(line);
        row->addWidget(box.all);
        connect(box.button, &QToolButton::clicked, this, [this, k] { answer(static_cast<int>(k)); });
    }
    row->addStretch(1);
    connect(thickness_, &QLineEdit::editingFinished, this, &QuestionStrip::take_thickness);
    hide();
}
QuestionStrip::~QuestionStrip() = default;

QString QuestionStrip::volume_label(int k) const { return boxes_[static_cast<std::size_t>(k)].makes->text(); }
QString QuestionStrip::asked() const { return asked_->text(); }

void QuestionStrip::refresh(const Camera& camera) {
    if (const auto open = controller_.open_question()) {
        put(*open, camera);
        return;
    }
    open_.reset();
    hide();
}

void QuestionStrip::put(const OpenQuestion& open, const Camera& camera) {
    const Part* part = controller_.job().find_part(open.row.part);
    if (!part) return;
    if (open_ && open_->from == open.from && open_->row == open.row && open_->question.about == open.question.about &&
        isVisible())
        return;
    open_ = open;
    asked_->setText(quoted(part->name) + ": " + QString::fromStdString(open.question.asked) + " " +
                    tr("The mending waits for your answer."));
    // Near enough to see the place, from where the user looks.
    camera_ = camera;
    camera_.target = apply(open.stands, open.question.place);
    camera_.distance = 2.1 * std::max(open.question.width, 1e-6);
    const Transform& placing = open.stands;
    if (const Vec3 from = apply(placing, open.question.seen_from) - apply(placing, Vec3{}); norm(from) > 0) {
        // Somewhat aside, so that the depth is seen, too.
        const Vec3 to = normalized(camera.direction() * 0.9 - normalized(from));
        camera_.tilt = std::clamp(-std::asin(std::clamp(to.z, -1.0, 1.0)) * 180 / std::numbers::pi, -80.0, 80.0);
        if (std::hypot(to.x, to.y) > 1e-6) camera_.turn = std::atan2(-to.x, to.y) * 180 / std::numbers::pi;
    }
    thickness_->setVisible(open.question.about == Question::About::sheet);
    for (std::size_t k = 0; k < boxes_.size(); ++k) {
        boxes_[k].all->setVisible(k < open.question.answers.size());
        if (k >= open.question.answers.size()) continue;
        const Question::Answer& a = open.question.answers[k];
        boxes_[k].button->setText(QString::fromStdString(a.said));
        boxes_[k].button->setAccessibleName(QString::fromStdString(a.said));
        if (thickness_->isVisibleTo(this) && a.options.sheets == SheetRule::thicken)
            thickness_->setText(QString::fromStdString(format_quantity(a.options.thickness, Unit::millimetre)));
        work_out(static_cast<int>(k));
    }
    mark_wrong(*thickness_, false);
    show();
}

/// What an answer leads to, as a picture and a volume.
void QuestionStrip::work_out(int k) {
    const Row* row = controller_.row(open_->row);
    if (!row || row->step->kind != "mend") return;
    const Box& box = boxes_[static_cast<std::size_t>(k)];
    box.button->setIcon({});
    box.makes->clear();
    auto seen = std::make_shared<Seen>();
    controller_.ask(
        "answer " + QString::number(k),
        [seen, mesh = open_->from, repairs = mend_settings(row->step->values).repairs,
         options = open_->question.answers[static_cast<std::size_t>(k)].options](Progress& progress) {
            if (const auto done = mend(*mesh, repairs, options, progress))
                *seen = {std::make_shared<const DisplayMesh>(make_display(done->mesh)),
                         done->after.closed ? done->after.measures.volume : 0};
        },
        [this, k, seen, stands = open_->stands] {
            if (seen->display) picture(k, *seen, stands);
        });
}

void QuestionStrip::picture(int k, const Seen& seen, const Transform& stands) {
    Scene scene;
    scene.items.push_back({seen.display, stands, SceneItem::Look::body, false});
    scene.bed = false;
    scene.bounds = placed(seen.display->bounds, stands);
    Box& box = boxes_[static_cast<std::size_t>(k)];
    if (!box.pictures) {
        box.pictures = new PictureMaker(this);
        connect(box.pictures, &PictureMaker::made, box.button,
                [box] { box.button->setIcon(QPixmap::fromImage(box.pictures->picture().image)); });
    }
    const double ratio = devicePixelRatioF();
    box.pictures->ask({.scene = scene, .eye = {camera_, picture_size * ratio, ratio, &palette_of(theme())}});
    box.makes->setText(seen.volume > 0 ? volume_text(seen.volume) : tr("open"));
}

void QuestionStrip::take_thickness() {
    if (!open_) return;
    const auto typed = parse_quantity(thickness_->text().toStdString(), Unit::millimetre);
    const bool good = typed && *typed > 0;
    mark_wrong(*thickness_, !good);
    if (!good) {
        Q_EMIT hint(typed ? tr("A thickness above 0 mm is wanted here.")
                          : QString::fromStdString(typed.error().sentence()));
        return;
    }
    for (std::size_t k = 0; k < open_->question.answers.size(); ++k) {
        MendOptions& options = open_->question.answers[k].options;
        if (options.sheets != SheetRule::thicken || options.thickness == *typed) continue;
        options.thickness = *typed;
        work_out(static_cast<int>(k));
    }
}

void QuestionStrip::answer(int k) {
    if (!open_) return;
    const Row* row = controller_.row(open_->row);
    if (!row || row->step->kind != "mend") return;
    Job job = controller_.job();
    const Question::Answer& a = open_->question.answers[static_cast<std::size_t>(k)];
    MendSettings set = mend_settings(row->step->values);
    set.answered.emplace_back(word(open_->question.about));
    set.options = a.options;
    if (open_->question.about == Question::About::touching) job.settings.contact = a.options.contact;
    edit_step(job, row->step->id, [&](Step& step) { step.values = values_of(set); });
    const QString said = QString::fromStdString(a.said);
    open_.reset();
    hide();
    controller_.change(std::move(job), said.at(0).toLower() + said.mid(1));
    Q_EMIT hint(said + ".");
}

}  // namespace anvil::app
