#include "app/theme.h"

#include <QApplication>
#include <QFile>
#include <QFontDatabase>
#include <QPalette>

// The resources lie in a static library, from which nothing else would draw them in. Must be outside of namespaces.
static void draw_in_resources() { Q_INIT_RESOURCE(resources); }

namespace anvil::app {

void apply_theme(QApplication& application) {
    draw_in_resources();
    for (const char* file : {":/fonts/Lato-Regular.ttf", ":/fonts/Lato-Bold.ttf"})
        QFontDatabase::addApplicationFont(file);
    QFont font("Lato");
    font.setPixelSize(13);
    application.setFont(font);
    application.setStyle("Fusion");

    QPalette palette;
    palette.setColor(QPalette::Window, colour::paper);
    palette.setColor(QPalette::Base, colour::panel);
    palette.setColor(QPalette::AlternateBase, colour::paper);
    palette.setColor(QPalette::Button, colour::panel);
    for (auto role : {QPalette::WindowText, QPalette::Text, QPalette::ButtonText, QPalette::ToolTipText})
        palette.setColor(role, colour::ink);
    palette.setColor(QPalette::ToolTipBase, colour::panel);
    palette.setColor(QPalette::PlaceholderText, colour::muted);
    palette.setColor(QPalette::Highlight, colour::petrol);
    palette.setColor(QPalette::HighlightedText, colour::panel);
    for (auto role : {QPalette::WindowText, QPalette::Text, QPalette::ButtonText})
        palette.setColor(QPalette::Disabled, role, QColor("#8D9498"));
    application.setPalette(palette);

    QFile sheet(":/style.qss");
    if (sheet.open(QIODevice::ReadOnly)) application.setStyleSheet(QString::fromUtf8(sheet.readAll()));
}

QIcon icon(const QString& name) { return QIcon(":/icons/" + name + ".svg"); }

}  // namespace anvil::app
