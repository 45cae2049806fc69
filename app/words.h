#pragma once

#include <QString>
#include <string>

namespace anvil::app {

/// "1 shell", "2 shells".
inline QString counted(std::size_t n, const QString& one, const QString& many) {
    return QString("%1 %2").arg(n).arg(n == 1 ? one : many);
}

/// A name that the user gave, within a sentence.
inline QString quoted(const std::string& name) {
    return QString::fromUtf8("\xE2\x80\x9C%1\xE2\x80\x9D").arg(QString::fromStdString(name));
}

}  // namespace anvil::app
