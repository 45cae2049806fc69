#pragma once

#include <QColor>
#include <QIcon>
#include <QString>

class QApplication;

namespace anvil::app {

/// The colours of the bench. Contrast of every text colour on its ground is 4.5 : 1 or better (WCAG AA).
namespace colour {
inline const QColor paper{"#F5F2EB"}, panel{"#FBFAF6"}, rule{"#D9D3C5"}, ink{"#20303B"}, muted{"#5F6B72"};
inline const QColor petrol{"#0E6B73"}, fuchsia{"#A8326F"}, ochre{"#8A5A08"}, brick{"#B23A26"}, pine{"#2E6E4E"};
inline const QColor pewter{"#93A4AC"};
inline const QColor axis_x{"#B5382A"}, axis_y{"#3C7A3A"}, axis_z{"#2F62A8"};
}  // namespace colour

/// Fonts, palette and style sheet.
void apply_theme(QApplication& application);

/// One of our drawings, by the name of its file in app/icons.
QIcon icon(const QString& name);

}  // namespace anvil::app
