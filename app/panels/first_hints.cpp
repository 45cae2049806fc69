#include "app/panels/first_hints.h"

#include <QCoreApplication>

#include "app/panels/parts_of_panels.h"
#include "app/user_settings.h"

namespace anvil::app {
namespace {

const char* const hints[] = {
    QT_TRANSLATE_NOOP("hints",
                      "Drag in the view to rotate, right-drag to pan, turn the wheel to zoom. V fits everything."),
    QT_TRANSLATE_NOOP("hints",
                      "Each row on the left is a step: click \"lens seat\" and drag its handles. The result follows."),
    QT_TRANSLATE_NOOP("hints",
                      "Shapes keep their numbers: select \"roof\" and type another height. Ctrl+Z takes it back."),
    QT_TRANSLATE_NOOP(
        "hints",
        "The switch at the right of a row turns the step off; pull STOP up to see the model as of an earlier step."),
    QT_TRANSLATE_NOOP(
        "hints",
        "Tools lie in the stations on top. Ctrl+K finds one by what it does: \"drill\", \"label\", \"cut in half\".")};
constexpr int hint_count = static_cast<int>(std::size(hints));

}  // namespace

FirstHints::FirstHints(QWidget* parent) : QWidget(parent) {
    setObjectName("firstHints");
    text_ = new QLabel;
    QHBoxLayout& row = *strip_row(*this, text_);
    next_ = strip_button(row, tr("Next"), tr("The next hint"));
    away_ = strip_button(row, tr("No more hints"), tr("Put the hints away; they do not come again"));
    connect(next_, &QPushButton::clicked, this, [this] {
        if (number_ + 1 < hint_count)
            show_hint(number_ + 1);
        else
            put_away();
    });
    connect(away_, &QPushButton::clicked, this, &FirstHints::put_away);
    hide();
}

void FirstHints::allow() { allowed_ = !user_settings().value("hints_seen", false).toBool(); }

void FirstHints::offer() {
    if (allowed_) show_hint(0);
}

QString FirstHints::said() const { return isVisible() ? text_->text() : QString(); }

void FirstHints::show_hint(int number) {
    number_ = number;
    text_->setText(
        tr("%1 of %2: %3").arg(number + 1).arg(hint_count).arg(QCoreApplication::translate("hints", hints[number])));
    next_->setText(number + 1 < hint_count ? tr("Next") : tr("Done"));
    show();
}

void FirstHints::put_away() {
    allowed_ = false;
    user_settings().setValue("hints_seen", true);
    hide();
}

}  // namespace anvil::app
