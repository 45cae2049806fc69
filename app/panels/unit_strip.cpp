#include "app/panels/unit_strip.h"

#include "app/panels/parts_of_panels.h"
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

}  // namespace

UnitStrip::UnitStrip(JobController& controller, QWidget* parent)
    : QWidget(parent), controller_(controller), question_(new QLabel), row_(strip_row(*this, question_)) {
    setObjectName("unitStrip");
    hide();
}

void UnitStrip::ask(const QString& files, std::vector<std::string> parts) {
    parts_ = std::move(parts);
    for (QPushButton* old : findChildren<QPushButton*>()) delete old;
    question_->setText(tr("%1 names no unit. Its numbers are meant in:").arg(files));
    for (const ImportUnit unit : import_units) {
        const Vec3 size = size_as(controller_.job(), parts_, unit);
        auto length = [](double mm) {
            const bool whole = mm >= 1000 && mm < 1e7;
            return QString::number(mm, whole ? 'f' : 'g', whole ? 0 : 4);
        };
        auto* button = new QPushButton(QString::fromUtf8("%1\n%2 × %3 × %4 mm")
                                           .arg(name_of(unit), length(size.x), length(size.y), length(size.z)));
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
