#pragma once

#include <QColor>
#include <QIcon>
#include <QString>

class QApplication;

namespace anvil::app {

enum class Theme { light, dark };

/// The colours of the bench, by what they are for. Text colours have a contrast of 4.5 : 1 or better on each ground
/// that they stand on (WCAG AA; checked in tests/app).
struct Palette {
    QColor paper, panel, field;           // grounds: the bench, panels, where one types
    QColor rule, outline;                 // ruled lines, outlines of buttons
    QColor ink, muted, faded;             // text; second text; what cannot be used now
    QColor petrol, wash, hover;           // accent; ground of what is chosen; of what the pointer is on
    QColor fuchsia, blush;                // what is chosen in the view; its ground
    QColor ochre, brick, pine;            // caution, fault, sound
    QColor on_accent;                     // text on petrol, fuchsia, brick and the axes
    QColor strip, strip_ink, strip_edge;  // the hint line
    QColor ask;                           // ground of a question
    QColor axis_x, axis_y, axis_z;
    QColor body, body_chosen, body_idle, crease;
    QColor bed, bed_rule, bed_shade;
    QColor fill_grey, fill_sound, fill_caution, fill_fault;  // in icons
};

/// Of the theme that is in force.
const Palette& colour();
const Palette& palette_of(Theme theme);
Theme theme();

/// Fonts, palette, icons and style sheet. May be called again to change the theme: widgets get a StyleChange event.
void apply_theme(QApplication& application, Theme theme);
/// The theme that was chosen last, and how to keep a choice.
Theme saved_theme();
void save_theme(Theme theme);

/// One of our drawings, by the name of its file in app/icons, in the colours of the theme.
QIcon icon(const QString& name);
/// Before and after a tool, by the name of its action, as a file in app/drawings.
QIcon drawing(const QString& name);

}  // namespace anvil::app
