#pragma once

#include <QString>

namespace anvil::app {

/// "1 shell", "2 shells".
inline QString counted(std::size_t n, const QString& one, const QString& many) {
    return QString("%1 %2").arg(n).arg(n == 1 ? one : many);
}

}  // namespace anvil::app
