// The window. Arguments: a job, or meshes; --demo opens the demonstration.
#include <QApplication>
#include <QCommandLineParser>
#include <algorithm>
#include <clocale>
#include <string_view>

#include "app/panels/first_hints.h"
#include "app/shots.h"
#include "app/theme.h"
#include "app/user_settings.h"
#include "app/window.h"
#include "core/base/memory.h"

int main(int argc, char** argv) {
    anvil::keep_freed_memory();
    QApplication::setApplicationName("clean-anvil");
    // Pictures are always of the usual size.
    if (std::none_of(argv, argv + argc, [](const char* a) { return std::string_view(a) == "--shots"; }))
        anvil::app::apply_text_size(anvil::app::saved_text_size());
    QApplication application(argc, argv);
    std::setlocale(LC_NUMERIC, "C");  // which the application has just set to the user's: numbers have a point
    QApplication::setApplicationDisplayName("Clean Anvil");
    QApplication::setApplicationVersion(ANVIL_VERSION);
    anvil::app::apply_theme(application, anvil::app::Theme::light);

    QCommandLineParser parser;
    parser.setApplicationDescription("Combine, cut, inspect and repair solid triangle meshes.");
    parser.addHelpOption();
    parser.addVersionOption();
    parser.addPositionalArgument("files", "A job (.anvil), or meshes (.3mf, .stl, .obj, .ply, .off).",
                                 "[JOB | MESH...]");
    const QCommandLineOption demo("demo", "Open the demonstration job.");
    const QCommandLineOption shots("shots", "Render the screenshots of the manual into FOLDER, and end.", "FOLDER");
    parser.addOptions({demo, shots});
    parser.process(application);

    if (parser.isSet(shots)) return anvil::app::take_shots(parser.value(shots));
    anvil::app::apply_theme(application, anvil::app::saved_theme());
    anvil::app::Window window;
    window.first_hints()->allow();
    window.show();
    if (parser.isSet(demo)) window.open_demo();
    if (!parser.positionalArguments().isEmpty()) window.open_files(parser.positionalArguments());
    return QApplication::exec();
}
