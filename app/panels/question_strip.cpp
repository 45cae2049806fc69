#include "app/panels/question_strip.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QToolButton>

#include "app/view/renderer.h"
#include "app/words.h"

namespace anvil::app {

constexpr QSize picture_size(232, 132);

QuestionStrip::QuestionStrip(JobController& controller, QWidget* parent)
    : QWidget(parent), controller_(controller), asked_(new QLabel) {
    setObjectName("questionStrip");
    setAttribute(Qt::WA_StyledBackground);
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(12, 8, 12, 8);
    row->setSpacing(8);
    asked_->setWordWrap(true);
    row->addWidget(asked_, 1);
    for (int k = 0; k < 2; ++k) {
        auto* button = buttons_[k] = new QToolButton;
        button->setProperty("choice", true);
        button->setToolButtonStyle(Qt::ToolButtonTextUnderIcon);
        button->setIconSize(picture_size);
        row->addWidget(button);
        connect(button, &QToolButton::clicked, this, [this, k] { answer(k); });
    }
    hide();
}
QuestionStrip::~QuestionStrip() = default;

QString QuestionStrip::asked() const { return asked_->text(); }

void QuestionStrip::refresh(const Camera& camera) {
    const auto outcome = controller_.outcome();
    if (outcome)
        for (const Part& part : controller_.job().parts)
            if (const auto ready = outcome->parts.find(part.id);
                ready != outcome->parts.end() && ready->second.question) {
                put(*ready->second.question, camera);
                return;
            }
    open_.reset();
    hide();
}

void QuestionStrip::put(const OpenQuestion& open, const Camera& camera) {
    const Part* part = controller_.job().find_part(open.part);
    if (!part || !part->find_mending(open.mending)) return;
    if (open_ && open_->from == open.from && open_->mending == open.mending &&
        open_->question.about == open.question.about && isVisible())
        return;
    open_ = open;
    asked_->setText(quoted(part->name) + ": " + QString::fromStdString(open.question.asked) + "\n\n" +
                    tr("The mending waits for your answer."));
    // Near enough to see the place, from where the user looks.
    camera_ = camera;
    camera_.target = apply(part->placement.transform(), open.question.place);
    camera_.distance = 2.1 * std::max(open.question.width, 1e-6);
    for (int k = 0; k < 2; ++k) {
        const Question::Answer& a = open.question.answers[static_cast<std::size_t>(k)];
        buttons_[k]->setText(QString::fromStdString(a.said));
        buttons_[k]->setAccessibleName(QString::fromStdString(a.said));
        buttons_[k]->setIcon({});
        auto display = std::make_shared<std::shared_ptr<const DisplayMesh>>();
        controller_.ask(
            "answer " + QString::number(k),
            [display, mesh = open.from, repairs = part->find_mending(open.mending)->repairs,
             options = a.options](Progress& progress) {
                if (const auto done = mend(*mesh, repairs, options, progress))
                    *display = std::make_shared<const DisplayMesh>(make_display(done->mesh));
            },
            [this, k, display, placement = part->placement] {
                if (*display) picture(k, *display, placement);
            });
    }
    show();
}

void QuestionStrip::picture(int k, const std::shared_ptr<const DisplayMesh>& display, const Placement& placement) {
    if (!renderer_) renderer_ = std::make_unique<Renderer>();
    Scene scene;
    scene.items.push_back({display, placement, SceneItem::Look::body, false});
    scene.bed = false;
    scene.bounds = placed(display->bounds, placement.transform());
    const QImage image = renderer_->render(scene, camera_, picture_size * devicePixelRatioF(), devicePixelRatioF());
    if (!image.isNull()) buttons_[k]->setIcon(QPixmap::fromImage(image));
}

void QuestionStrip::answer(int k) {
    if (!open_) return;
    Job job = controller_.job();
    Part* part = job.find_part(open_->part);
    Mending* mending = part ? part->find_mending(open_->mending) : nullptr;
    if (!mending) return;
    const Question::Answer& a = open_->question.answers[static_cast<std::size_t>(k)];
    mending->answered.push_back(open_->question.about);
    if (open_->question.about == Question::About::touching) job.settings.contact = a.options.contact;
    mending->options = a.options;
    const QString said = QString::fromStdString(a.said);
    open_.reset();
    hide();
    controller_.change(std::move(job), said.at(0).toLower() + said.mid(1));
    Q_EMIT hint(said + ".");
}

}  // namespace anvil::app
