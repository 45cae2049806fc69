#include "app/panels/empty_bench.h"

#include <QAction>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

namespace anvil::app {
namespace {

QPushButton* button_of(QAction* action, const QString& text, bool strong = false) {
    auto* button = new QPushButton(text);
    button->setToolTip(action->toolTip());
    button->setProperty("strong", strong);
    QObject::connect(button, &QPushButton::clicked, action, &QAction::trigger);
    return button;
}

QLabel* line(const QString& text, const char* name) {
    auto* label = new QLabel(text);
    label->setObjectName(name);
    label->setAlignment(Qt::AlignHCenter);
    return label;
}

}  // namespace

EmptyBench::EmptyBench(QAction* bring_in, QAction* open_job, QAction* add_shape, const QList<QAction*>& demos,
                       QWidget* parent)
    : QWidget(parent) {
    auto* column = new QVBoxLayout(this);
    column->setSpacing(8);
    auto add_row = [&](const QList<QPushButton*>& buttons) {
        auto* row = new QHBoxLayout;
        row->setSpacing(8);
        row->addStretch();
        for (QPushButton* b : buttons) row->addWidget(b);
        row->addStretch();
        column->addLayout(row);
    };
    column->addStretch();
    column->addWidget(line(tr("The bench is empty"), "emptyTitle"));
    column->addWidget(
        line(tr("Drop meshes anywhere here (3MF, STL, OBJ, PLY, OFF), or a saved job, or begin with a shape.\n"
                "The first part becomes the base; the others wait to be combined with it."),
             "emptyText"));
    column->addSpacing(6);
    add_row({button_of(bring_in, tr("Bring in meshes"), true), button_of(add_shape, tr("Add a shape")),
             button_of(open_job, tr("Open a job"))});
    column->addSpacing(18);
    column->addWidget(line(tr("Or look at an example first."), "emptyText"));
    QList<QPushButton*> examples;
    for (QAction* demo : demos) examples << button_of(demo, demo->text().section(": ", 1));
    add_row(examples);
    column->addStretch();
}

}  // namespace anvil::app
