#include "app/panels/measures_table.h"

#include <QCoreApplication>
#include <QLocale>

#include "app/theme.h"

namespace anvil::app {
namespace {

QString number(double v, int decimals) {
    return QLocale(QLocale::English).toString(v, 'f', decimals).replace(",", QString::fromUtf8("\xE2\x80\x89"));
}
QString size_text(const Box& box) {
    const Vec3 s = box.size();
    return QString("%1 × %2 × %3 mm").arg(number(s.x, 1), number(s.y, 1), number(s.z, 1));
}

QString words(const char* text) { return QCoreApplication::translate("measures", text); }

}  // namespace

QString area_text(double mm2) {
    return std::fabs(mm2) >= 1000 ? number(mm2 / 100, 1) + " cm²" : number(mm2, 2) + " mm²";
}

QString volume_text(double mm3) {
    return std::fabs(mm3) >= 1000 ? number(mm3 / 1000, 2) + " cm³" : number(mm3, 2) + " mm³";
}

QString measures_table(const Inspection& inspection, const Measures* before) {
    const Measures& now = inspection.measures;
    auto row = [&](const QString& name, const QString& was, const QString& is) {
        const bool same = was == is || was.isEmpty();
        const QString muted = colour().muted.name();
        const QString values = same ? is : QString("<span style='color:%1'>%2 →</span> <b>%3</b>").arg(muted, was, is);
        return QString("<tr><td style='color:%1; padding-right:8px'>%2</td><td align='right'>%3</td></tr>")
            .arg(muted, name, values);
    };
    auto was = [&](const QString& text) { return before ? text : QString(); };
    auto whole = [&](std::size_t n) { return number(static_cast<double>(n), 0); };
    static const Measures none;
    const Measures& b = before ? *before : none;
    return "<table width='100%' cellspacing='0' cellpadding='2'>" +
           row(words("size"), {}, now.triangles ? size_text(now.bounds) : words("none")) +
           row(words("volume"),
               !inspection.closed ? QString()
               : b.closed         ? was(volume_text(b.volume))
                                  : was(words("open")),
               inspection.closed ? volume_text(now.volume) : words("none: it is open")) +
           row(words("area"), was(area_text(b.area)), area_text(now.area)) +
           row(words("faces"), was(whole(b.triangles)), whole(now.triangles)) +
           row(words("points"), was(whole(b.vertices)), whole(now.vertices)) +
           row(words("shells"), was(whole(b.shells)), whole(now.shells)) + "</table>";
}

}  // namespace anvil::app
