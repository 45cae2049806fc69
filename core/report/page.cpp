#include "core/report/page.h"

#include <algorithm>

#include "core/base/number_text.h"
#include "core/report/facts.h"

namespace anvil {
namespace {

std::string escaped(std::string_view text) {
    std::string out;
    for (const char c : text) switch (c) {
            case '&': out += "&amp;"; break;
            case '<': out += "&lt;"; break;
            case '>': out += "&gt;"; break;
            case '"': out += "&quot;"; break;
            default: out += c;
        }
    return out;
}

std::string base64(std::string_view bytes) {
    constexpr char digits[] = "ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/";
    std::string out;
    for (std::size_t i = 0; i < bytes.size(); i += 3) {
        std::uint32_t group = 0;
        for (std::size_t k = 0; k < 3; ++k)
            group = group << 8 | (i + k < bytes.size() ? static_cast<unsigned char>(bytes[i + k]) : 0u);
        for (std::size_t k = 0; k < 4; ++k) out += i + k > bytes.size() ? '=' : digits[group >> (18 - 6 * k) & 63];
    }
    return out;
}

std::string number(double v) {
    char text[32];
    std::snprintf(text, sizeof text, "%.9g", v);
    return text;
}
std::string place_text(const Vec3& p) { return short_text(p.x) + ", " + short_text(p.y) + ", " + short_text(p.z); }

std::string cell(const std::string& content, const char* of_class = "") {
    return *of_class ? "<td class=\"" + std::string(of_class) + "\">" + content + "</td>" : "<td>" + content + "</td>";
}
/// One row of name, before (where there is one) and now.
std::string row(const std::string& name, const std::string& before, const std::string& now, bool has_before,
                const char* of_class = "") {
    return "<tr><th scope=\"row\">" + escaped(name) + "</th>" + (has_before ? cell(before, "was") : "") +
           cell(now, of_class) + "</tr>\n";
}
std::string heading(bool has_before, const char* first) {
    return "<tr><th>" + std::string(first) + "</th>" + (has_before ? "<th>before</th>" : "") + "<th>now</th></tr>\n";
}

std::string measures_table(const PageSubject& s) {
    const Measures now = measures_at(s.now, s.stands);
    const Measures was = s.before ? measures_at(*s.before, s.stands) : Measures{};
    auto size = [](const Box& b) {
        const Vec3 d = b.empty() ? Vec3{} : b.size();
        return short_text(d.x) + " × " + short_text(d.y) + " × " + short_text(d.z) + " mm";
    };
    auto volume = [](const Inspection& i) {
        return i.closed ? number(i.measures.volume) + " mm³" : "none: it is open";
    };
    const bool b = s.before != nullptr;
    return "<table>\n" + heading(b, "measure") + row("size", size(was.bounds), size(now.bounds), b) +
           row("volume", b ? volume(*s.before) : "", volume(s.now), b) +
           row("area", number(was.area) + " mm²", number(now.area) + " mm²", b) +
           row("faces", std::to_string(was.triangles), std::to_string(now.triangles), b) +
           row("points", std::to_string(was.vertices), std::to_string(now.vertices), b) +
           row("shells", std::to_string(was.shells), std::to_string(now.shells), b) + "</table>\n";
}

std::string findings_table(const PageSubject& s) {
    std::string out = "<table>\n" + heading(s.before != nullptr, "finding");
    for (int k = 0; k < finding_kinds; ++k) {
        const auto kind = static_cast<FindingKind>(k);
        const std::size_t n = s.now.count(kind);
        const char* of_class = n == 0                                ? "sound"
                               : severity(kind) == Severity::fault   ? "fault"
                               : severity(kind) == Severity::caution ? "caution"
                                                                     : "note";
        const std::size_t accepted = s.acceptance.count(kind);
        out += row(std::string(plain_name(kind, 2)) + (n > 0 ? threshold_text(s.now, kind) : ""),
                   s.before ? std::to_string(s.before->count(kind)) : "",
                   std::to_string(n) + (accepted > 0 ? " (" + std::to_string(accepted) + " accepted)" : ""),
                   s.before != nullptr, of_class);
    }
    return out + "</table>\n";
}

std::string places_list(const PageSubject& s) {
    constexpr std::size_t most = 20;
    std::string out;
    for (int k = 0; k < finding_kinds; ++k) {
        const auto kind = static_cast<FindingKind>(k);
        const std::size_t n = s.now.count(kind);
        if (n == 0) continue;
        out += "<h3>" + escaped(plain_name(kind, 2)) + "</h3>\n<ol>\n";
        std::size_t told = 0;
        for (const Finding& f : s.now.findings)
            if (f.kind == kind && told++ < most)
                out += "<li>" + place_text(apply(s.stands, f.place)) + (s.acceptance.holds(f) ? ", accepted" : "") +
                       "</li>\n";
        out += "</ol>\n";
        if (n > most) out += "<p>and " + std::to_string(n - most) + " more.</p>\n";
    }
    return out.empty() ? "" : "<h2>Places, in mm</h2>\n" + out;
}

std::string repairs_table(const PageSubject& s) {
    if (s.repairs.empty()) return "";
    std::string out =
        "<h2>Repairs</h2>\n<table>\n<tr><th>repair</th><th>changed</th><th>moved, mm</th><th>what it did</th></tr>\n";
    for (const Repaired& r : s.repairs)
        out += "<tr><th scope=\"row\">" + escaped(word(r.repair)) + "</th>" + cell(std::to_string(r.changed)) +
               cell(short_text(r.largest_move)) +
               cell(escaped(r.said.empty() ? "nothing to do" : r.said), r.refused ? "fault" : "text") + "</tr>\n";
    return out + "</table>\n" + (s.remains.empty() ? "" : "<p>" + escaped(s.remains) + "</p>\n");
}

constexpr char style[] = R"(<style>
body { font: 15px/1.5 Lato, "DejaVu Sans", sans-serif; color: #20303B; background: #F5F2EB; max-width: 54em; margin: 2em auto; padding: 0 1em; }
h1, h2, h3 { font-weight: 600; } h1 { border-bottom: 2px solid #20303B; }
table { border-collapse: collapse; background: #FBFAF6; margin: 1em 0; }
th, td { border: 1px solid #D9D3C5; padding: 3px 10px; text-align: right; font-weight: normal; }
th[scope="row"], td.text { text-align: left; } tr:first-child th { color: #5F6B72; }
.was { color: #5F6B72; } .fault { color: #B23A26; font-weight: bold; } .caution { color: #A86E0C; font-weight: bold; } .sound { color: #2E6E4E; }
img { max-width: 100%; border: 1px solid #D9D3C5; }
</style>)";

}  // namespace

std::string report_page(const PageSubject& s) {
    const std::string name = escaped(s.name);
    std::string out = "<!DOCTYPE html>\n<html lang=\"en\">\n<head>\n<meta charset=\"utf-8\">\n<title>" + name +
                      "</title>\n" + style + "\n</head>\n<body>\n<h1>" + name + "</h1>\n";
    out += std::string("<p class=\"") + (s.now.print_ready ? "sound" : "fault") + "\">" +
           (s.now.print_ready ? "Print-ready." : "Not print-ready.") + "</p>\n<p>" + escaped(form_sentence(s.now)) +
           "</p>\n";
    if (!s.picture.empty())
        out += "<img alt=\"" + name + "\" src=\"data:image/png;base64," + base64(s.picture) + "\">\n";
    out += "<h2>Measures</h2>\n" + measures_table(s) + "<h2>Findings</h2>\n" + findings_table(s) + repairs_table(s) +
           places_list(s);
    return out + "</body>\n</html>\n";
}

}  // namespace anvil
