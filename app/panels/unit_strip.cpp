#include "app/panels/unit_strip.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

#include "app/words.h"

namespace anvil::app {
namespace {

QString name_of(ImportUnit unit) {
    switch (unit) {
        case ImportUnit::millimetre: return UnitStrip::tr("Millimetres");
        case ImportUnit::centimetre: return UnitStrip::tr("Centimetres");
        case ImportUnit::metre: return UnitStrip::tr("Metres");
        case ImportUnit::inch: return UnitStrip::tr("Inches");
        case ImportUnit::foot: return UnitStrip::tr("Feet");
    }
    return {};
}

/// "711 × 51 × 254 mm"; of what is longer than a metre in that.
QString size_text(const Vec3& mm) {
    const bool large = std::max({mm.x, mm.y, mm.z}) >= 1000;
    auto side = [&](double v) { return QString::number(large ? v / 1000 : v, 'g', large ? 3 : 4); };
    return QString::fromUtf8("%1 × %2 × %3 %4").arg(side(mm.x), side(mm.y), side(mm.z), large ? "m" : "mm");
}

}  // namespace

UnitStrip::UnitStrip(JobController& controller, QWidget* parent)
    : QWidget(parent), controller_(controller), question_(new QLabel), row_(new QHBoxLayout) {
    setObjectName("unitStrip");
    setAttribute(Qt::WA_StyledBackground);
    setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Maximum);  // it never makes the window wider
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(12, 6, 12, 8);
    column->setSpacing(5);
    question_->setWordWrap(true);
    column->addWidget(question_);
    row_->setSpacing(6);
    column->addLayout(row_);
    hide();
}

void UnitStrip::ask(const QString& files, std::vector<std::string> parts) {
    parts_ = std::move(parts);
    for (QPushButton* old : findChildren<QPushButton*>()) delete old;
    question_->setText(tr("%1 names no unit. Its numbers are meant in:").arg(files));
    for (const ImportUnit unit : import_units) {
        auto* button = new QPushButton(name_of(unit) + "\n" + size_text(size_as(controller_.job(), parts_, unit)));
        button->setAccessibleName(name_of(unit));
        connect(button, &QPushButton::clicked, this, [this, unit] { answer(unit); });
        row_->addWidget(button);
    }
    show();
}

void UnitStrip::dismiss() {
    parts_.clear();
    hide();
}

void UnitStrip::answer(ImportUnit unit) {
    Job job = controller_.job();
    read_as(job, parts_, unit);
    dismiss();
    controller_.change(std::move(job), tr("read as %1").arg(name_of(unit).toLower()));
    Q_EMIT answered();
    Q_EMIT hint(tr("%1 from now on, for this job.").arg(name_of(unit)));
}

}  // namespace anvil::app
