#pragma once

#include <QString>

namespace anvil::app {

/// Drives a real window through the main views with the demo's data and writes a PNG of each. Returns an exit status.
int take_shots(const QString& folder);

/// Processes events until the window's work is done; false where that takes longer than `seconds`.
class Window;
bool wait_until_idle(Window& window, int seconds = 120);

}  // namespace anvil::app
