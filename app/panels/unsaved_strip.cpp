#include "app/panels/unsaved_strip.h"

#include <QKeyEvent>
#include <utility>

#include "app/panels/parts_of_panels.h"

namespace anvil::app {

UnsavedStrip::UnsavedStrip(QWidget* parent) : QWidget(parent) {
    setObjectName("unsavedStrip");
    auto* text = new QLabel(tr("The job has changes that are not saved."));
    QHBoxLayout& row = *strip_row(*this, text);
    save_ = strip_button(row, tr("Save first"), tr("Save the job, then go on"));
    connect(save_, &QPushButton::clicked, this, [this] { Q_EMIT save_wanted(take()); });
    connect(strip_button(row, tr("Drop changes"), tr("Go on; the changes are lost")), &QPushButton::clicked, this,
            [this] {
                if (const auto go = take()) go();
            });
    connect(strip_button(row, tr("Go back"), tr("Keep working on this job (Esc)")), &QPushButton::clicked, this,
            &UnsavedStrip::dismiss);
    hide();
}

void UnsavedStrip::ask(std::function<void()> go) {
    go_ = std::move(go);
    show();
    save_->setFocus();
}

void UnsavedStrip::dismiss() {
    go_ = nullptr;
    hide();
}

std::function<void()> UnsavedStrip::take() {
    auto go = std::exchange(go_, nullptr);
    hide();
    return go;
}

void UnsavedStrip::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Escape)
        dismiss();
    else
        QWidget::keyPressEvent(event);
}

}  // namespace anvil::app
