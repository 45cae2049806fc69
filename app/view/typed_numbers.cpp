#include "app/view/typed_numbers.h"

#include <QKeyEvent>

namespace anvil::app {

bool TypedNumbers::take(const QKeyEvent& event) {
    if (event.modifiers() & ~(Qt::KeypadModifier | Qt::ShiftModifier)) return false;
    if (event.key() == Qt::Key_Backspace) {
        if (text_.isEmpty()) return false;
        text_.chop(1);
        return true;
    }
    const QString typed = event.text();
    if (typed.size() != 1) return false;
    const QChar c = typed[0].toLower();
    const bool begins = (c >= '0' && c <= '9') || c == '.' || c == '-' || c == '(';
    const bool goes_on = (c >= 'a' && c <= 'z') || QString("+*/), ").contains(c);
    if (!begins && (text_.isEmpty() || !goes_on)) return false;
    text_ += c;
    return true;
}

Result<std::vector<double>> TypedNumbers::values(std::span<const Unit> units) const {
    std::vector<double> out;
    QStringList parts = text_.split(',');
    if (parts.size() > 1 && parts.back().trimmed().isEmpty()) parts.pop_back();  // the next one is still to come
    for (const QString& part : parts) {
        const Unit unit = units[std::min(out.size(), units.size() - 1)];
        const auto value = parse_quantity(part.trimmed().toStdString(), unit);
        if (!value) return value.error();
        out.push_back(*value);
    }
    return out;
}

}  // namespace anvil::app
