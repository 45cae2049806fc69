#include "app/panels/unsaved_strip.h"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QPushButton>
#include <utility>

namespace anvil::app {

UnsavedStrip::UnsavedStrip(QWidget* parent) : QWidget(parent) {
    setObjectName("unsavedStrip");
    setAttribute(Qt::WA_StyledBackground);
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(12, 6, 12, 6);
    row->setSpacing(8);
    auto* text = new QLabel(tr("The job has changes that are not saved."));
    text->setWordWrap(true);
    row->addWidget(text, 1);
    auto add = [&](const QString& name, const QString& does) {
        auto* button = new QPushButton(name);
        button->setToolTip(does);
        row->addWidget(button);
        return button;
    };
    save_ = add(tr("Save first"), tr("Save the job, then go on"));
    connect(save_, &QPushButton::clicked, this, [this] { Q_EMIT save_wanted(take()); });
    connect(add(tr("Drop changes"), tr("Go on; the changes are lost")), &QPushButton::clicked, this, [this] {
        if (const auto go = take()) go();
    });
    connect(add(tr("Go back"), tr("Keep working on this job (Esc)")), &QPushButton::clicked, this,
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
