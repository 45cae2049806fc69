#include "app/theme.h"

#include <QApplication>
#include <QFile>
#include <QFontDatabase>
#include <QIconEngine>
#include <QPainter>
#include <QPalette>
#include <QSvgRenderer>

#include "app/user_settings.h"

// The resources lie in a static library, from which nothing else would draw them in. Must be outside of namespaces.
static void draw_in_resources() { Q_INIT_RESOURCE(resources); }

namespace anvil::app {
namespace {

Theme in_force = Theme::light;

constexpr std::pair<const char*, QColor Palette::*> names[] = {
    {"paper", &Palette::paper},         {"panel", &Palette::panel},           {"field", &Palette::field},
    {"rule", &Palette::rule},           {"outline", &Palette::outline},       {"ink", &Palette::ink},
    {"muted", &Palette::muted},         {"faded", &Palette::faded},           {"petrol", &Palette::petrol},
    {"wash", &Palette::wash},           {"hover", &Palette::hover},           {"brick", &Palette::brick},
    {"ochre", &Palette::ochre},         {"on-accent", &Palette::on_accent},   {"strip", &Palette::strip},
    {"strip-ink", &Palette::strip_ink}, {"strip-edge", &Palette::strip_edge}, {"ask", &Palette::ask},
    {"axis-x", &Palette::axis_x},       {"axis-y", &Palette::axis_y},         {"axis-z", &Palette::axis_z}};

/// The colours in which the icons are drawn, and what they stand for.
constexpr std::pair<const char*, QColor Palette::*> icon_colours[] = {
    {"#20303B", &Palette::ink},          {"#0E6B73", &Palette::petrol},    {"#2E6E4E", &Palette::pine},
    {"#8A5A08", &Palette::ochre},        {"#A8326F", &Palette::fuchsia},   {"#B23A26", &Palette::brick},
    {"#8D9498", &Palette::faded},        {"#CFE0DE", &Palette::wash},      {"#F1DCE7", &Palette::blush},
    {"#FBFAF6", &Palette::panel},        {"#DCE2E4", &Palette::fill_grey}, {"#E0ECE5", &Palette::fill_sound},
    {"#F4E9D3", &Palette::fill_caution}, {"#F5E0DB", &Palette::fill_fault}};

QByteArray resource(const QString& file) {
    QFile f(file);
    return f.open(QIODevice::ReadOnly) ? f.readAll() : QByteArray();
}

QString style_sheet(const Palette& palette) {
    QString sheet = QString::fromUtf8(resource(":/style.qss"));
    for (const auto& [name, member] : names) sheet.replace(QString("@{%1}").arg(name), (palette.*member).name());
    return sheet;
}

/// Draws an SVG at any size; out of use in faded lines, without fills.
class DrawingEngine : public QIconEngine {
  public:
    explicit DrawingEngine(QByteArray svg) : svg_(std::move(svg)) {}

    void paint(QPainter* painter, const QRect& rect, QIcon::Mode mode, QIcon::State) override {
        QByteArray svg = svg_;
        for (const auto& [light, member] : icon_colours) {
            const bool fill = member == &Palette::wash || member == &Palette::blush || member == &Palette::fill_grey ||
                              member == &Palette::fill_sound || member == &Palette::fill_caution ||
                              member == &Palette::fill_fault || member == &Palette::panel;
            const QColor out = mode != QIcon::Disabled ? colour().*member : fill ? colour().panel : colour().faded;
            svg.replace(light, out.name().toUtf8());
        }
        QSvgRenderer renderer(svg);
        QRect fitted(QPoint(0, 0), renderer.defaultSize().scaled(rect.size(), Qt::KeepAspectRatio));
        fitted.moveCenter(rect.center());
        renderer.render(painter, fitted);
    }
    QPixmap pixmap(const QSize& size, QIcon::Mode mode, QIcon::State state) override {
        QPixmap pixmap(size);
        pixmap.fill(Qt::transparent);
        QPainter painter(&pixmap);
        paint(&painter, QRect(QPoint(0, 0), size), mode, state);
        return pixmap;
    }
    QIconEngine* clone() const override { return new DrawingEngine(svg_); }

  private:
    QByteArray svg_;
};

Palette light_palette() {
    Palette p;
    p.paper = "#F5F2EB", p.panel = "#FBFAF6", p.field = "#FFFFFF";
    p.rule = "#D9D3C5", p.outline = "#BDB6A5";
    p.ink = "#20303B", p.muted = "#57636A", p.faded = "#8D9498";
    p.petrol = "#0E6B73", p.wash = "#DDE8E6", p.hover = "#EBE7DC";
    p.fuchsia = "#A8326F", p.blush = "#F3DDE8";
    p.ochre = "#8A5A08", p.brick = "#B23A26", p.pine = "#2E6E4E";
    p.on_accent = "#FFFFFF";
    p.strip = "#20303B", p.strip_ink = "#F5F2EB", p.strip_edge = "#7C8A92";
    p.ask = "#F6EBD3";
    p.axis_x = "#B5382A", p.axis_y = "#3C7A3A", p.axis_z = "#2F62A8";
    p.body = "#A3B3BA", p.body_chosen = "#A9B9BF", p.body_idle = "#C9C4B6", p.crease = "#20303B";
    p.bed = "#ECE8DE", p.bed_rule = "#CCC6B5", p.bed_shade = "#384045";
    p.fill_grey = "#DCE2E4", p.fill_sound = "#E0ECE5", p.fill_caution = "#F4E9D3", p.fill_fault = "#F5E0DB";
    return p;
}

Palette dark_palette() {
    Palette p;
    p.paper = "#1D2327", p.panel = "#242B30", p.field = "#171C1F";
    p.rule = "#3A454C", p.outline = "#5A6870";
    p.ink = "#E9E5DB", p.muted = "#A9B3B8", p.faded = "#6E7A81";
    p.petrol = "#5CBAC0", p.wash = "#27434A", p.hover = "#303A40";
    p.fuchsia = "#E88ABC", p.blush = "#4A2A3A";
    p.ochre = "#DDAE55", p.brick = "#F2937E", p.pine = "#82C7A0";
    p.on_accent = "#12181B";
    p.strip = "#101518", p.strip_ink = "#E9E5DB", p.strip_edge = "#5A6870";
    p.ask = "#3D3422";
    p.axis_x = "#EE8A7B", p.axis_y = "#8ECB88", p.axis_z = "#8FB6EC";
    p.body = "#A3B3BA", p.body_chosen = "#BAC9CF", p.body_idle = "#8E8B80", p.crease = "#0F1518";
    p.bed = "#283036", p.bed_rule = "#3B464D", p.bed_shade = "#0C1012";
    p.fill_grey = "#3A444A", p.fill_sound = "#23402F", p.fill_caution = "#43371C", p.fill_fault = "#4A2620";
    return p;
}

}  // namespace

const Palette& palette_of(Theme theme) {
    static const Palette light = light_palette(), dark = dark_palette();
    return theme == Theme::dark ? dark : light;
}
const Palette& colour() { return palette_of(in_force); }
Theme theme() { return in_force; }

Theme saved_theme() { return user_settings().value("look/theme").toString() == "dark" ? Theme::dark : Theme::light; }
void save_theme(Theme theme) { user_settings().setValue("look/theme", theme == Theme::dark ? "dark" : "light"); }

void apply_theme(QApplication& application, Theme theme) {
    draw_in_resources();
    in_force = theme;
    static const bool once = [&] {
        for (const char* file : {":/fonts/Lato-Regular.ttf", ":/fonts/Lato-Bold.ttf"})
            QFontDatabase::addApplicationFont(file);
        QFont font("Lato");
        font.setPixelSize(13);
        application.setFont(font);
        application.setStyle("Fusion");
        return true;
    }();
    Q_UNUSED(once);

    const Palette& c = colour();
    QPalette palette;
    palette.setColor(QPalette::Window, c.paper);
    palette.setColor(QPalette::Base, c.panel);
    palette.setColor(QPalette::AlternateBase, c.paper);
    palette.setColor(QPalette::Button, c.panel);
    for (auto role : {QPalette::WindowText, QPalette::Text, QPalette::ButtonText, QPalette::ToolTipText})
        palette.setColor(role, c.ink);
    palette.setColor(QPalette::ToolTipBase, c.panel);
    palette.setColor(QPalette::PlaceholderText, c.muted);
    palette.setColor(QPalette::Highlight, c.petrol);
    palette.setColor(QPalette::HighlightedText, c.on_accent);
    for (auto role : {QPalette::WindowText, QPalette::Text, QPalette::ButtonText})
        palette.setColor(QPalette::Disabled, role, c.faded);
    application.setPalette(palette);
    application.setStyleSheet(style_sheet(c));
}

QIcon drawing(const QString& name) {
    QByteArray svg = resource(":/drawings/" + name + ".svg");
    if (svg.isEmpty()) svg = resource(":/icons/unknown.svg");
    return QIcon(new DrawingEngine(svg));
}

QIcon icon(const QString& name) { return QIcon(new DrawingEngine(resource(":/icons/" + name + ".svg"))); }

}  // namespace anvil::app
