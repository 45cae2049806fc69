// Residue of cuts: what is too small or thin to be meant.
#include "core/base/number_text.h"
#include "core/cut/residue.h"
#include "core/job/kinds/kind_values.h"
#include "core/mesh/measures.h"
#include "core/mesh/weld.h"

namespace anvil {
namespace {

Field limit(const char* name, double usual, const char* label, const char* says) {
    return {.name = name,
            .type = Field::Type::length,
            .usual = usual,
            .label = label,
            .says = says,
            .least = 0,
            .most = 1e6};
}

std::string told(const Cleared& done) {
    std::string out;
    auto add = [&](std::size_t count, const char* one, const char* several) {
        if (count > 0) out += (out.empty() ? "" : ", ") + count_text(count, one, several);
    };
    add(done.islands, "island", "islands");
    add(done.slivers, "sliver", "slivers");
    add(done.skins, "thin skin", "thin skins");
    add(done.loose, "loose face", "loose faces");
    if (out.empty())
        out = "There is no residue.";
    else
        out += " went, " + short_text(done.volume) + " mm³.";
    if (done.skins_left > 0)
        out += " " + count_text(done.skins_left, "thin skin turns", "thin skins turn") +
               " back on itself, and was left: cut it by hand.";
    return out;
}

Result<Treated> cleared(const std::shared_ptr<const Mesh>& body, const Values& values, const TreatSettings& settings,
                        Progress& progress) {
    const KindValues m(*find_kind("clear-residue"), values);
    auto done = cleared_of_residue(welded(*body), {m["islands"], m["slivers"], m["skins"], m.is("loose")},
                                   {.precision = settings.precision, .contact = settings.contact}, progress);
    if (!done) return done.error();
    if (done->mesh.faces.empty())
        return Error{ErrorCode::out_of_range,
                     "it would leave nothing of the body: all of it is thinner than the skins that go", ""};
    Treated out{.mesh = body, .said = told(*done)};
    out.places = std::move(done->places);
    if (done->count() > 0) out.mesh = std::make_shared<const Mesh>(std::move(done->mesh));
    return out;
}

const RegisterKind clear_residue_registered({
    .word = "clear-residue",
    .of = KindClass::treat,
    .name = "clear residue",
    .says = "Takes away what cuts have left over: islands, slivers, thin skins and loose faces",
    .fields = {limit("islands", 1, "islands under", "separate bodies, and hollows, smaller than that every way"),
               limit("slivers", 0.1, "slivers under", "separate bodies thinner than that in the mean"),
               limit("skins", 0.05, "skins under", "walls thinner than that are cut out; 0: they stay"),
               {.name = "loose",
                .type = Field::Type::yes_no,
                .usual = true,
                .label = "loose faces",
                .says = "whether faces that end freely on a solid, or beside it, go as well"}},
    .treat = cleared,
});

}  // namespace
}  // namespace anvil
