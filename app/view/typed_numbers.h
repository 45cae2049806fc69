#pragma once

#include <QString>
#include <span>
#include <vector>

#include "core/job/quantity.h"

class QKeyEvent;

namespace anvil::app {

/// Numbers that are typed while something is dragged or drawn in the view; several are parted by commas.
class TypedNumbers {
  public:
    /// Takes a key: digits, signs and brackets, and once there is something units, too; Backspace takes the last one
    /// back. Whether it was one of these.
    bool take(const QKeyEvent& event);
    void clear() { text_.clear(); }
    bool empty() const { return text_.isEmpty(); }
    const QString& text() const { return text_; }
    /// In mm or degrees: the first in the first unit, and so on, all others in the last. Of what cannot be read the
    /// error of `parse_quantity`.
    Result<std::vector<double>> values(std::span<const Unit> units) const;

  private:
    QString text_;
};

}  // namespace anvil::app
