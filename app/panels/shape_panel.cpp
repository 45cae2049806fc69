#include "app/panels/shape_panel.h"

#include <QLabel>
#include <QVBoxLayout>

#include "app/panels/parts_of_panels.h"
#include "app/words.h"

namespace anvil::app {

ShapePanel::ShapePanel(JobController& controller, QWidget* parent) : QWidget(parent), controller_(controller) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 2, 0, 2);
    column->setSpacing(6);
    title_ = section_title({});
    column->addWidget(title_);
    error_ = new QLabel;
    error_->setWordWrap(true);
    error_->setObjectName("remark");
    column->addWidget(error_);
    fields_ = new FieldEditors(controller_);
    column->addWidget(fields_);
    connect(fields_, &FieldEditors::hint, this, &ShapePanel::hint);
    connect(fields_, &FieldEditors::set, this, [this](const Field& field, const Value& value) {
        if (!shape()) return;
        Job job = controller_.job();
        edit_part(job, row_.part, [&](Part& part) {
            auto& values = std::get<Shape>(part.source).values;
            values = FieldEditors::with(std::move(values), field, value);
        });
        const QString name = QString::fromStdString(job.find_part(row_.part)->name);
        controller_.change(std::move(job), tr("%1: %2").arg(name, QString::fromStdString(field.label)),
                           field.is_long ? QString::fromStdString(row_.part + ":" + field.name) : QString());
    });
    connect(&controller_, &JobController::job_changed, this, &ShapePanel::reload);
    connect(&controller_, &JobController::evaluated, this, &ShapePanel::reload_error);
    reload();
}

const Shape* ShapePanel::shape() const {
    const Part* part = controller_.job().find_part(row_.part);
    return part ? std::get_if<Shape>(&part->source) : nullptr;
}

QString ShapePanel::said() const { return error_->isVisibleTo(this) ? error_->text() : QString(); }

void ShapePanel::set_row(const RowId& row) {
    row_ = row;
    reload();
}

void ShapePanel::reload() {
    const Shape* of = shape();
    setVisible(of != nullptr);
    if (!of) return;
    const Kind* kind = find_shape(of->kind);
    title_->setText(kind ? tr("%1: MEASURES").arg(QString::fromStdString(kind->name).toUpper())
                         : tr("SHAPE \"%1\"").arg(QString::fromStdString(of->kind)));
    fields_->show_values(kind, of->values);
    reload_error();
}

/// Why there is no such body.
void ShapePanel::reload_error() {
    const auto outcome = controller_.outcome();
    QString why;
    if (shape() && outcome && outcome->evaluation)
        if (const auto at = outcome->evaluation->broken.find(row_.part); at != outcome->evaluation->broken.end())
            why = QString::fromStdString(at->second.sentence());
    if (!why.isEmpty()) why = capitalised(why) + ".";
    error_->setText(why);
    error_->setVisible(!why.isEmpty());
}

}  // namespace anvil::app
