// The report as JSON and as a page: what it tells, and that the page is well-formed whatever the names are.
#include <nlohmann/json.hpp>

#include "core/base/number_text.h"
#include "core/mesh/placement.h"
#include "core/report/facts.h"
#include "core/report/page.h"
#include "demo/lantern.h"
#include "tests/support/support.h"

using namespace anvil;
using namespace anvil::test;

namespace {

/// Whether each tag that is opened is closed in turn (void elements of HTML left out).
bool is_balanced(const std::string& page) {
    std::vector<std::string> open;
    for (std::size_t i = page.find('<'); i != std::string::npos; i = page.find('<', i + 1)) {
        const std::size_t end = page.find('>', i);
        if (end == std::string::npos) return false;
        std::string tag = page.substr(i + 1, end - i - 1);
        if (tag[0] == '!') continue;
        const bool closing = tag[0] == '/';
        if (closing) tag.erase(0, 1);
        tag = tag.substr(0, tag.find(' '));
        if (tag == "meta" || tag == "img") continue;
        if (!closing) {
            open.push_back(tag);
            if (tag == "style") i = page.find("</style>", i) - 1;
        } else if (open.empty() || open.back() != tag) {
            return false;
        } else {
            open.pop_back();
        }
    }
    return open.empty();
}
std::size_t times(const std::string& text, const std::string& what) {
    std::size_t n = 0;
    for (std::size_t at = text.find(what); at != std::string::npos; at = text.find(what, at + 1)) ++n;
    return n;
}

}  // namespace

TEST_CASE("the page of a mended scan: verdict, measures before and now, a row per kind, a row per repair, places") {
    Progress progress;
    const auto done = mend(demo::scanned_bracket(), whole_plan(), {}, progress);
    REQUIRE(done);
    const std::string page =
        report_page({"scanned <bracket> & \"co\"", done->after, &done->before, done->repairs, done->remains()});
    CHECK(is_balanced(page));
    CHECK(page.find("Print-ready.") != std::string::npos);
    CHECK(page.find("scanned &lt;bracket&gt; &amp; &quot;co&quot;") != std::string::npos);
    CHECK(page.find("<bracket>") == std::string::npos);
    CHECK(times(page, "<th scope=\"row\">") == 6 + finding_kinds + done->repairs.size());
    CHECK(page.find("<td class=\"was\">" + std::to_string(done->before.count(FindingKind::open_edges)) +
                    "</td><td class=\"sound\">0</td>") != std::string::npos);
    for (const Repaired& r : done->repairs)
        if (!r.said.empty()) CHECK(page.find(r.said) != std::string::npos);
    // No fault is left to list a place of; what may be looked at is listed.
    CHECK(page.find("<h3>open edges</h3>") == std::string::npos);
    CHECK(page.find("<h3>narrow gaps</h3>") != std::string::npos);

    const std::string broken = report_page({"scan", done->before});
    CHECK(is_balanced(broken));
    CHECK(broken.find("Not print-ready.") != std::string::npos);
    CHECK(broken.find("before") == std::string::npos);
    CHECK(broken.find("<h3>open edges</h3>") != std::string::npos);
    CHECK(broken.find("more.</p>") != std::string::npos);
}

TEST_CASE("the picture goes into the page as base64") {
    const Inspection i = inspected(make_box({0, 0, 0}, {1, 1, 1}));
    // RFC 4648, section 10: test vectors.
    for (const auto& [bytes, text] : {std::pair{"f", "Zg=="}, {"fo", "Zm8="}, {"foo", "Zm9v"}, {"foobar", "Zm9vYmFy"}})
        CHECK(report_page({.name = "box", .now = i, .picture = bytes})
                  .find("data:image/png;base64," + std::string(text) + "\"") != std::string::npos);
}

TEST_CASE("facts: every kind by its word, thresholds, form, and what repairs did") {
    const Mesh scan = demo::scanned_bracket();
    Progress progress;
    const auto i = inspect(scan, progress, usual_options(scan));
    REQUIRE(i);
    const Json json = facts(*i, "scan.ply");
    CHECK(json["findings"].size() == finding_kinds);
    for (int k = 0; k < finding_kinds; ++k)
        CHECK(json["findings"][std::string(word(static_cast<FindingKind>(k)))] ==
              i->count(static_cast<FindingKind>(k)));
    CHECK(json["form"] == word(i->form));
    CHECK(json["closed"] == false);
    CHECK(json["thin_below"] == i->options.thin_below);
    const Repaired r{.repair = Repair::fins, .changed = 2, .largest_move = 0.5, .places = {{1, 2, 3}}, .said = "done"};
    const Json list = facts(std::span(&r, 1));
    CHECK(list.dump() ==
          R"([{"repair":"fins","changed":2,"largest_move":0.5,"said":"done","places":[[1.0,2.0,3.0]]}])");
}

TEST_CASE("of a body that stands elsewhere places and bounds are told there, and its measures are its own") {
    Mesh plate = make_box({0, 0, 0}, {20, 20, 0.1});
    append(plate, make_box({0, 0, 5}, {1, 1, 6}));
    plate.faces.raw().pop_back();
    const auto found = inspect(plate, *std::make_unique<Progress>(), {.thin_below = 0.2});
    REQUIRE(found);
    const Transform stands = translation({100, 0, 0}) * Placement{{}, {0, 0, 90}}.transform();
    const Json here = facts(*found, "plate"), there = facts(*found, "plate", stands);
    REQUIRE(here["thin_skins"].size() == 1);
    const Vec3 place{here["thin_skins"][0]["place"][0], here["thin_skins"][0]["place"][1],
                     here["thin_skins"][0]["place"][2]};
    const Vec3 moved{there["thin_skins"][0]["place"][0], there["thin_skins"][0]["place"][1],
                     there["thin_skins"][0]["place"][2]};
    CHECK(moved == apply(stands, place));
    CHECK(there["bounds"] == Json::parse("[[80, 0, 0], [100, 20, 6]]"));
    CHECK(there["volume"] == here["volume"]);
    CHECK(facts(*found, "plate", Transform::Identity()) == here);
    // The middle of the open border lies on the plate's far side, seen from where it was.
    const std::string page = report_page({.name = "plate", .now = *found, .stands = stands});
    REQUIRE(found->count(FindingKind::open_edges) > 0);
    const auto border = std::ranges::find(found->findings, FindingKind::open_edges, &Finding::kind);
    const Vec3 at = apply(stands, border->place);
    CHECK(page.find("<li>" + short_text(at.x) + ", " + short_text(at.y) + ", " + short_text(at.z) + "</li>") !=
          std::string::npos);
}
