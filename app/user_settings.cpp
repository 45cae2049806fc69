#include "app/user_settings.h"

#include <QFileInfo>

#include <QRegularExpression>
#include <QStandardPaths>
#include <cmath>

namespace anvil::app {
namespace {

constexpr double megabyte = 1 << 20;
constexpr double least_budget = 16, most_budget = 1 << 20;  // MB

}  // namespace

QSettings user_settings() {
    return {QStandardPaths::writableLocation(QStandardPaths::AppConfigLocation) + "/settings.ini",
            QSettings::IniFormat};
}

std::size_t saved_budget() {
    return memory_from(user_settings().value("memory/kept").toString()).value_or(std::size_t{512} << 20);
}
void save_budget(std::size_t bytes) { user_settings().setValue("memory/kept", memory_text(bytes)); }

QString memory_text(std::size_t bytes) {
    const double mb = static_cast<double>(bytes) / megabyte;
    return mb < 1024 ? QString("%1 MB").arg(std::round(mb)) : QString("%1 GB").arg(std::round(mb / 1024 * 100) / 100);
}

std::optional<std::size_t> memory_from(const QString& text) {
    static const QRegularExpression form("^\\s*(\\d+(?:\\.\\d+)?)\\s*(MB|GB)?\\s*$",
                                         QRegularExpression::CaseInsensitiveOption);
    const auto match = form.match(text);
    if (!match.hasMatch()) return std::nullopt;
    const double mb = match.captured(1).toDouble() * (match.captured(2).toUpper() == "GB" ? 1024 : 1);
    if (mb < least_budget || mb > most_budget) return std::nullopt;
    return static_cast<std::size_t>(mb * megabyte);
}

int saved_text_size() {
    const int percent = user_settings().value("look/text").toInt();
    return percent == 125 || percent == 150 ? percent : 100;
}
void save_text_size(int percent) { user_settings().setValue("look/text", percent); }
void apply_text_size(int percent) {
    if (percent != 100 && !qEnvironmentVariableIsSet("QT_SCALE_FACTOR"))
        qputenv("QT_SCALE_FACTOR", QByteArray::number(percent / 100.0));
}

QStringList recent_files() {
    QStringList out = user_settings().value("recent").toStringList();
    out.removeIf([](const QString& file) { return !QFileInfo::exists(file); });
    return out;
}

void add_recent_file(const QString& file) {
    constexpr int most = 10;
    const QString whole = QFileInfo(file).absoluteFilePath();
    QStringList list = user_settings().value("recent").toStringList();
    list.removeAll(whole);
    list.prepend(whole);
    user_settings().setValue("recent", QVariant(list.mid(0, most)));
}

}  // namespace anvil::app
