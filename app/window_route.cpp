// The route: which tools lie in which station's drawer, what each does in half a sentence, and the words to find them
// by.
#include <QAction>

#include "app/panels/find_box.h"
#include "app/panels/route.h"
#include "app/window.h"
#include "app/words.h"

namespace anvil::app {

/// What the tiles say.
void Window::tell_tools() {
    const std::pair<const char*, QString> briefs[] = {{"bring-in", tr("3MF, STL, OBJ, PLY, OFF")},
                                                      {"open", tr("a saved one, with its steps")},
                                                      {"recent", tr("what was opened or saved last")},
                                                      {"demo", tr("a job to try things on")},
                                                      {"demo-scan", tr("a mesh with many faults")},
                                                      {"union", tr("both in one piece")},
                                                      {"difference", tr("take the part away")},
                                                      {"intersection", tr("keep what both share")},
                                                      {"reverse-difference", tr("take the body from the part")},
                                                      {"split", tr("cut in two, keep both")},
                                                      {"pieces", tr("every region a piece")},
                                                      {"inlay", tr("a pocket, and the plug")},
                                                      {"scribe", tr("draw the crossing lines")},
                                                      {"trim-outside", tr("keep the sheet outside")},
                                                      {"trim-inside", tr("keep the sheet inside")},
                                                      {"gather", tr("side by side, as they are")},
                                                      {"bundle", tr("it cuts the part above first")},
                                                      {"unbundle", tr("it cuts the body by itself")},
                                                      {"cut-plane", tr("drag a line, click a face")},
                                                      {"drill", tr("holes square to a face")},
                                                      {"cut-layers", tr("slices of equal height")},
                                                      {"cut-rectangle", tr("drag it, then type its size")},
                                                      {"cut-circle", tr("from its middle outwards")},
                                                      {"cut-polygon", tr("regular, over flats")},
                                                      {"cut-drawing", tr("corners, or freehand")},
                                                      {"cut-line", tr("splits along it")},
                                                      {"cut-edges", tr("a ring of edges, carried on")},
                                                      {"mirror-feature", tr("a hole or peg once more")},
                                                      {"notch", tr("a groove or rib along edges")},
                                                      {"broach", tr("push faces through the body")},
                                                      {"symmetry", tr("one half, and its image")},
                                                      {"treat-clear-residue", tr("crumbs and skins of cuts")},
                                                      {"treat-merge-flat", tr("fewer faces, the same shape")},
                                                      {"mend", tr("the whole plan of repairs")},
                                                      {"by-hand", tr("select and edit faces, edges, points")},
                                                      {"mend-weld", tr("points at one place")},
                                                      {"mend-degenerate", tr("slivers, edges of no length")},
                                                      {"mend-duplicates", tr("the same face twice")},
                                                      {"mend-fins", tr("faces that hang loose")},
                                                      {"mend-t-junctions", tr("points on open edges")},
                                                      {"mend-borders", tr("stitch open edges")},
                                                      {"mend-orient", tr("faces that look inward")},
                                                      {"mend-bridges", tr("a strip between two rims")},
                                                      {"mend-holes", tr("close open rims")},
                                                      {"mend-shells", tr("small loose bits")},
                                                      {"mend-thicken", tr("a sheet becomes a solid")},
                                                      {"mend-crossings", tr("faces through faces")},
                                                      {"duplicate", tr("again, with what belongs to it")},
                                                      {"link", tr("another that follows the part")},
                                                      {"link-stage", tr("the body here, to use again")},
                                                      {"freeze", tr("the body here as a fixed mesh")},
                                                      {"pieces-apart", tr("each separate body a part")},
                                                      {"take-out", tr("back to the bench")},
                                                      {"group", tr("one switch for several rows")},
                                                      {"ungroup", tr("each row by itself again")},
                                                      {"align", tr("several rows, or equal gaps")},
                                                      {"drop", tr("lowest point on the bed")},
                                                      {"centre", tr("over the middle of the base")},
                                                      {"lay-flat", tr("rotate a face onto the bed")},
                                                      {"stand-on", tr("put it on a face that you click")},
                                                      {"flush", tr("face to face, at a distance")},
                                                      {"pivot", tr("what it rotates and scales about")},
                                                      {"pivot-middle", tr("back to the middle")},
                                                      {"export", tr("checked, read back, written")},
                                                      {"report", tr("findings as a page or JSON")},
                                                      {"save", tr("parts, steps and places")},
                                                      {"save-as", tr("under another name")}};
    for (const auto& [name, brief] : briefs) actions_.at(name)->setStatusTip(brief);
    for (const auto& [name, action] : actions_) {
        action->setProperty("drawing", name);
        if (!action->shortcut().isEmpty())
            action->setProperty("key", action->shortcut().toString(QKeySequence::NativeText));
    }
    for (const Operation operation : all_operations)
        actions_.at(word_of(operation))->setProperty("key", QKeySequence(words_of(operation).key).toString());
    // The name matters more than the key, which the tip has.
    for (const char* name : {"link-stage", "ungroup"}) actions_.at(name)->setProperty("key", QString());
    actions_.at("mend")->setProperty("key", "M");
    actions_.at("by-hand")->setProperty("key", "H");
}

void Window::make_route() {
    auto list = [this](std::initializer_list<const char*> names) {
        QList<QAction*> out;
        for (const char* n : names) out << actions_.at(n);
        return out;
    };
    auto starting_with = [this](const QString& prefix, const std::vector<std::string>& words) {
        QList<QAction*> out;
        for (const std::string& word : words)
            if (const auto at = actions_.find(prefix + QString::fromStdString(word)); at != actions_.end())
                out << at->second;
        return out;
    };
    std::vector<std::string> shapes, copies, repairs, treatments;
    for (const Kind* kind : all_copies()) copies.push_back(kind->word);
    for (const Kind* kind : all_shapes()) shapes.push_back(kind->word);
    for (const Repair repair : whole_plan()) repairs.emplace_back(word(repair));
    for (const Kind* kind : all_kinds())
        if (kind->word != "clear-residue") treatments.push_back(kind->word);
    tell_tools();
    auto needs_part = [this] {
        return controller_.job().parts.empty() ? tr("Bring in a mesh or add a shape first.") : QString();
    };
    route_ = new Route;
    route_->add_station(
        {tr("Bring in"), "bring-in", tr("Meshes, jobs, examples; what is there, once more"),
         list({"bring-in", "open", "recent", "link", "link-stage", "pieces-apart", "freeze", "demo", "demo-scan"})});
    route_->add_station({tr("Shapes"), "shapes", tr("Bodies made from numbers, and where parts stand"),
                         starting_with("shape-", shapes) + list({"duplicate", "align", "drop", "centre", "lay-flat",
                                                                 "stand-on", "flush", "pivot", "pivot-middle"})});
    route_->add_station(
        {tr("Combine"), "combine", tr("What a part does to the body"),
         list({"union", "difference", "intersection", "split", "pieces", "inlay", "reverse-difference", "scribe",
               "trim-outside", "trim-inside", "gather", "bundle", "unbundle", "group", "ungroup", "take-out"}) +
             starting_with("copies-", copies),
         [this, needs_part] {
             if (const QString note = needs_part(); !note.isEmpty()) return note;
             return actions_.at("union")->isEnabled()
                        ? QString()
                        : tr("Select the part that is to act on the body: in the view, or its row.");
         }});
    route_->add_station({tr("Cut"), "cut", tr("Cut the body"),
                         list({"cut-plane", "cut-layers", "drill", "cut-rectangle", "cut-circle", "cut-polygon",
                               "cut-drawing", "cut-line", "cut-edges", "notch", "broach", "symmetry", "mirror-feature",
                               "treat-clear-residue", "split", "scribe", "trim-outside", "trim-inside"}),
                         needs_part});
    route_->add_station({tr("Mend"), "mend", tr("Repair what is selected"),
                         list({"mend", "by-hand"}) + starting_with("mend-", repairs), needs_part});
    route_->add_station(
        {tr("Finish"), "finish", tr("Change the body by itself"), starting_with("treat-", treatments), needs_part});
    route_->add_station({tr("Deliver"), "deliver", tr("Export the result, save the job"),
                         list({"export", "report", "save", "save-as"}), needs_part});
    route_->add_at_hand(list({"whole", "see-through", "section", "surface", "measure"}));
    route_->add_at_hand(list({"undo", "redo"}));
    find_box_ = new FindBox;
    route_->add_end(find_box_);
}

/// Every tool by its name, and by the words that people use for it.
void Window::fill_find_box() {
    const std::pair<const char*, QString> found[] = {
        {"bring-in", tr("import, open or load meshes")},
        {"open", tr("load a saved job")},
        {"recent", tr("last files, history of jobs")},
        {"save", tr("keep the job")},
        {"save-as", tr("keep a copy under a new name")},
        {"union", tr("join, add together")},
        {"difference", tr("cut, take away, drill")},
        {"intersection", tr("keep what both share")},
        {"split", tr("cut in two, keep both sides")},
        {"pieces", tr("every region by itself")},
        {"inlay", tr("pocket and plug, seat a plate")},
        {"reverse-difference", tr("subtract the body from the part")},
        {"scribe", tr("imprint, draw crossing lines")},
        {"trim-outside", tr("cut an open surface, keep what is outside")},
        {"trim-inside", tr("cut an open surface, keep what is inside")},
        {"cut-layers", tr("slice, slices, stack, laser layers, equal height")},
        {"drill", tr("bore, hole, screw, countersink, counterbore, insert, clearance, metric")},
        {"cut-rectangle", tr("pocket, slot, window, box cut, rectangular")},
        {"cut-circle", tr("round cut, disc, boss, pocket")},
        {"cut-polygon", tr("hexagon, nut pocket, triangle")},
        {"cut-drawing", tr("sketch, freehand, polyline, lasso, SVG, profile, extrude cut")},
        {"notch", tr("V-cut, groove, chamfer, rabbet, rib, bead, seam, along edges")},
        {"broach", tr("push through, punch, pocket from faces, boss, extrude faces, hole from outline")},
        {"symmetry", tr("symmetrize, mirror half, two halves, weld at the middle")},
        {"cut-edges", tr("extrude edges, rim, loop, plug a hole, close, contour of the body")},
        {"mirror-feature", tr("copy a hole, a peg, a boss to the other side, symmetric feature, reflect")},
        {"cut-line", tr("knife, split along a line, curve, jigsaw")},
        {"cut-plane", tr("split by a plane, cut flat, cut in half, halves, pegs, joints, fit the bed")},
        {"gather", tr("put together without a boolean")},
        {"switch", tr("mute a step for now")},
        {"mend", tr("repair everything, make it watertight")},
        {"mend-weld", tr("merge vertices by distance")},
        {"mend-degenerate", tr("remove zero-length edges, slivers")},
        {"mend-duplicates", tr("remove duplicate faces")},
        {"mend-fins", tr("fix non-manifold edges, stray faces")},
        {"mend-t-junctions", tr("cracks along borders")},
        {"mend-borders", tr("stitch, close cracks")},
        {"mend-orient", tr("fix normals, inside out")},
        {"mend-holes", tr("close open edges")},
        {"mend-shells", tr("remove small loose bits")},
        {"mend-thicken", tr("give a surface a thickness")},
        {"mend-crossings", tr("self-intersections, inside faces")},
        {"by-hand", tr("select faces, edit the mesh, merge, delete")},
        {"report", tr("save findings as HTML or JSON")},
        {"surface-plain", tr("shaded")},
        {"surface-lines", tr("wire, edges, mesh")},
        {"surface-shells", tr("random colours, loose bodies")},
        {"surface-regions", tr("random colours, flat areas")},
        {"surface-findings", tr("hide the sound part, show errors")},
        {"remove", tr("delete a part and its step")},
        {"bundle", tr("group steps: cut the cutter first")},
        {"unbundle", tr("ungroup a step")},
        {"stop-earlier", tr("look at the model as of an earlier step")},
        {"stop-later", tr("take one step more")},
        {"duplicate", tr("copy, repeat, clone, once more")},
        {"link", tr("instance, linked copy, reference, follow")},
        {"link-stage", tr("body before the cut, earlier state, reuse")},
        {"freeze", tr("bake, collapse, apply, convert to mesh")},
        {"pieces-apart", tr("separate loose parts, shells, explode")},
        {"take-out", tr("remove from the step, back to the bench")},
        {"group", tr("folder, several rows together")},
        {"ungroup", tr("take a group apart")},
        {"align", tr("line up, distribute, equal spacing, justify")},
        {"drop", tr("to the floor, on the bed, z = 0")},
        {"centre", tr("center, align to the middle")},
        {"lay-flat", tr("orient, face down, lay flat")},
        {"stand-on", tr("place on a face, snap to a face")},
        {"flush", tr("flush, face to face, mate, touch, offset from a face, gap")},
        {"pivot", tr("centre of rotation, origin, rotate about a point, scale about a point")},
        {"pivot-middle", tr("reset the pivot, centre of rotation")},
        {"undo", tr("take the last change back")},
        {"redo", tr("do it again")},
        {"whole", tr("frame everything, zoom to all, whole")},
        {"see-through", tr("look inside the body")},
        {"measure", tr("distance, length, angle, diameter, radius, calliper")},
        {"measure-clear", tr("remove dimensions")},
        {"section", tr("cross-section, clip, cut away, look inside")},
        {"section-x", tr("cross-section, clip along x")},
        {"section-y", tr("cross-section, clip along y")},
        {"section-z", tr("cross-section, clip along z, layer")},
        {"section-view", tr("cross-section, clip square to the view")},
        {"section-flip", tr("the other half of the section")},
        {"next-place", tr("step through findings")},
        {"export", tr("write the result for printing")},
        {"dark", tr("dark theme, light theme, colours")},
        {"text-100", tr("font size, usual, interface scale")},
        {"text-125", tr("font size, larger, interface scale")},
        {"text-150", tr("font size, largest, interface scale")},
        {"demo", tr("an example job")},
        {"demo-scan", tr("an example with every kind of defect")}};
    for (const auto& [name, words] : found) find_box_->add(actions_.at(name), words);
    const std::map<QString, QString> of_kinds{
        {"treat-clear-residue",
         tr("clean up after cuts, remove small pieces, slivers, thin skins, loose faces, debris, crumbs")},
        {"treat-merge-flat", tr("dissolve, coplanar faces, planar, clean flat areas, fewer faces")},
        {"shape-box", tr("cube, cuboid, block, rounded")},
        {"shape-cylinder", tr("drill, bore, hole, rod, peg, disc")},
        {"shape-cone", tr("frustum, countersink, taper")},
        {"shape-sphere", tr("ball, dome")},
        {"shape-torus", tr("ring, donut, O-ring groove")},
        {"shape-tube", tr("pipe, bushing, sleeve, washer")},
        {"shape-prism", tr("hexagon, nut pocket, polygon")},
        {"shape-star", tr("star, spline, knob")},
        {"shape-wedge", tr("ramp, slope, triangle, gusset")},
        {"shape-half-space", tr("plane, cut off, trim flat, infinite, endless")},
        {"shape-thread", tr("screw, bolt, nut, tap, die, metric")},
        {"shape-profile", tr("extrude, sketch, polygon, section, points, SVG, drawing, logo")},
        {"shape-text", tr("letters, engrave, label, emboss, serial number, write")},
        {"copies-rows", tr("array, pattern, grid, repeat, linear")},
        {"copies-round", tr("array, circular pattern, bolt circle, repeat")},
        {"copies-mirrored", tr("symmetry, second one, other side")},
        {"copies-along", tr("path, curve, rim, follow, around the edge")},
        {"copies-scattered", tr("random, spread over the surface")}};
    auto add_kinds = [&](const QString& prefix, const std::vector<const Kind*>& kinds) {
        for (const Kind* kind : kinds) {
            const auto action = actions_.find(prefix + QString::fromStdString(kind->word));
            if (action == actions_.end()) continue;
            // One that no words were found for is found by what it says.
            const auto words = of_kinds.find(action->first);
            find_box_->add(action->second,
                           words != of_kinds.end() ? words->second : QString::fromStdString(kind->says).toLower());
        }
    };
    add_kinds("treat-", all_kinds());
    add_kinds("copies-", all_copies());
    add_kinds("shape-", all_shapes());
}

}  // namespace anvil::app
