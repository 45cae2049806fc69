#include "core/mend/questions.h"

#include <algorithm>

#include "core/base/number_text.h"
#include "core/mesh/measures.h"

namespace anvil {
namespace {

constexpr std::string_view words[] = {"sheet", "long-holes", "touching"};

std::optional<Question> ask_about_sheet(const Mesh& mesh, const Mended& done, const MendOptions& options) {
    if (!done.sheet || options.sheets != SheetRule::leave) return std::nullopt;
    const Box box = bounds(mesh);
    MendOptions thick = options, closed = options;
    thick.sheets = SheetRule::thicken;
    if (!(thick.thickness > 0)) thick.thickness = usual_thickness(mesh);
    closed.sheets = SheetRule::close;
    Question out{Question::About::sheet,
                 done.after.form == Form::mixed
                     ? "Sheets in it enclose nothing, and cannot be printed as they are."
                     : "It is a sheet that encloses nothing, and cannot be printed as it is.",
                 box.center(),
                 box.diagonal(),
                 {},
                 {{"Leave it open", options}, {"Give it a thickness", thick}}};
    if (done.is_flat()) return out;
    out.answers.push_back({"Close it", closed});
    // What is missing of a closed surface faces against all that is there.
    Vec3 there;
    for (const Triangle& t : done.mesh.faces) {
        const Vec3& a = done.mesh.points[t[0]];
        there = there + cross(done.mesh.points[t[1]] - a, done.mesh.points[t[2]] - a);
    }
    if (norm(there) > 0) out.seen_from = normalized(there) * -1.0;
    return out;
}

std::optional<Question> ask_about_long_holes(const Mended& done, const MendOptions& options) {
    if (done.sheet) return std::nullopt;  // its border is no hole
    const Finding* longest = nullptr;
    double length = 0;
    std::size_t count = 0;
    for (const Finding& f : done.after.findings) {
        if (f.kind != FindingKind::holes) continue;
        const double own = measure_rim(done.after.mesh, f.vertices).length;
        if (!(own > options.longest_hole)) continue;
        ++count;
        if (own > length) length = own, longest = &f;
    }
    if (!longest) return std::nullopt;
    Box box;
    for (const VertexId v : longest->vertices) box.add(done.after.mesh.points[v]);
    MendOptions all = options;
    all.longest_hole = std::numeric_limits<double>::infinity();
    const std::string what =
        count == 1 ? "A hole of " + short_text(length) + " mm round its rim is"
                   : count_text(count, "hole", "holes") + " of up to " + short_text(length) + " mm round the rim are";
    return Question{
        Question::About::long_holes,
        what + " large for this part.",
        longest->place,
        box.diagonal(),
        {},
        {{count == 1 ? "Leave it open" : "Leave them open", options}, {count == 1 ? "Fill it" : "Fill them", all}}};
}

std::optional<Question> ask_about_touching(const Mended& done, const MendOptions& options) {
    const auto at = std::ranges::find(done.before.findings, FindingKind::touching_bodies, &Finding::kind);
    if (at == done.before.findings.end() || !done.after.closed) return std::nullopt;
    Box box;
    for (const VertexId v : at->vertices) box.add(done.before.mesh.points[v]);
    const double width = std::max(box.diagonal(), done.before.measures.bounds.diagonal() / 8);
    MendOptions other = options;
    other.contact = options.contact == ContactRule::separate ? ContactRule::join : ContactRule::separate;
    auto said = [](const MendOptions& o) {
        return o.contact == ContactRule::separate ? "Set them back from each other" : "Bridge them";
    };
    return Question{Question::About::touching,
                    "Two bodies only touch here, which no printer can make.",
                    at->place,
                    width,
                    {},
                    {{said(options), options}, {said(other), other}}};
}

}  // namespace

std::string_view word(Question::About about) { return words[static_cast<int>(about)]; }
std::optional<Question::About> about_from(std::string_view w) {
    for (int k = 0; k < static_cast<int>(std::size(words)); ++k)
        if (words[k] == w) return static_cast<Question::About>(k);
    return std::nullopt;
}

Repair first_waiting(Question::About about) {
    return about == Question::About::touching ? Repair::crossings : Repair::holes;
}

std::optional<Question> next_question(const Mesh& mesh, const Mended& done, const MendOptions& options,
                                      std::span<const Question::About> answered) {
    auto open = [&](Question::About about) { return std::ranges::find(answered, about) == answered.end(); };
    std::optional<Question> question;
    if (open(Question::About::sheet)) question = ask_about_sheet(mesh, done, options);
    if (!question && open(Question::About::long_holes)) question = ask_about_long_holes(done, options);
    if (!question && open(Question::About::touching)) question = ask_about_touching(done, options);
    return question;
}

double usual_thickness(const Mesh& mesh) {
    // Three lines of a usual nozzle (common practice), or a 50th of smaller parts; in round numbers.
    const double wanted = std::min(1.2, bounds(mesh).diagonal() / 50);
    if (!(wanted > 0)) return 0;
    const double unit = std::pow(10, std::floor(std::log10(wanted)));
    return std::max(1.0, std::floor(wanted / unit * 5) / 5) * unit;
}

MendOptions cautious_options(const Mesh& mesh) {
    // Up to the next number of two digits, which is read at a glance.
    const double length = 2 * bounds(mesh).diagonal();
    if (!(length > 0)) return {};
    const double unit = std::pow(10, std::floor(std::log10(length)) - 1);
    return {.longest_hole = std::ceil(length / unit) * unit};
}

}  // namespace anvil
