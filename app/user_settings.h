#pragma once

#include <QSettings>
#include <optional>

namespace anvil::app {

/// What the user has set for the program, whatever the job.
QSettings user_settings();

/// Bytes that results may take which are kept for the next change.
std::size_t saved_budget();
void save_budget(std::size_t bytes);

/// "512 MB", "2 GB".
QString memory_text(std::size_t bytes);
/// What was typed: a number with MB or GB, MB without; nothing where it is none, or not between 16 MB and 1024 GB.
std::optional<std::size_t> memory_from(const QString& text);

/// Jobs and meshes that were opened or saved last, the newest first; those that are there still.
QStringList recent_files();
void add_recent_file(const QString& file);

/// How large everything is drawn, in percent of the usual: 100, 125 or 150.
int saved_text_size();
void save_text_size(int percent);
/// Has everything drawn so large. Before there is an application; what the environment says goes first.
void apply_text_size(int percent);

}  // namespace anvil::app
