#pragma once

#include <QCoreApplication>
#include <QString>
#include <string>

#include "core/combine/operation.h"
#include "core/job/kinds/kind.h"
#include "core/mend/hand_edit.h"

namespace anvil::app {

/// With a capital, as a sentence or a label begins.
inline QString capitalised(const QString& text) { return text.isEmpty() ? text : text.at(0).toUpper() + text.mid(1); }
inline QString capitalised(const std::string& text) { return capitalised(QString::fromStdString(text)); }
/// Without one, within a sentence.
inline QString uncapitalised(const QString& text) { return text.isEmpty() ? text : text.at(0).toLower() + text.mid(1); }

/// "1 shell", "2 shells".
inline QString counted(std::size_t n, const QString& one, const QString& many) {
    return QString("%1 %2").arg(n).arg(n == 1 ? one : many);
}

/// An operation for people: its name, what it does, and its key in the view.
struct OperationWords {
    QString name, does;
    Qt::Key key;
};
inline OperationWords words_of(Operation operation) {
    auto tr = [](const char* text) { return QCoreApplication::translate("operations", text); };
    switch (operation) {
        case Operation::union_of: return {tr("union"), tr("Join the part to the body"), Qt::Key_U};
        case Operation::difference: return {tr("difference"), tr("Take the part away from the body"), Qt::Key_D};
        case Operation::reverse_difference:
            return {tr("reverse"), tr("Take the body away from the part: what is left of the part stays"), Qt::Key_R};
        case Operation::intersection:
            return {tr("intersection"), tr("Keep what the body and the part share"), Qt::Key_I};
        case Operation::split:
            return {tr("split"), tr("Cut the body along the part; both sides stay, as closed pieces"), Qt::Key_S};
        case Operation::pieces:
            return {tr("pieces"), tr("Body less part, what they share, and part less body: each a closed piece"),
                    Qt::Key_P};
        case Operation::inlay:
            return {tr("inlay"), tr("A pocket in the body, and the part seated in it as a piece of its own"),
                    Qt::Key_L};
        case Operation::scribe:
            return {tr("scribe"), tr("Draw the crossing lines into the body's faces; remove nothing"), Qt::Key_C};
        case Operation::trim_outside:
            return {tr("trim outside"),
                    tr("Keep the surface outside of the part; cap nothing. For sheets and open shells"), Qt::Key_T};
        case Operation::trim_inside:
            return {tr("trim inside"), tr("Keep the surface within the part; cap nothing. For sheets and open shells"),
                    Qt::Key_N};
        case Operation::gather: return {tr("gather"), tr("Put the part beside the body without computing"), Qt::Key_G};
    }
    return {};
}

/// A repair for people: its name in a list of repairs, and what it does.
struct RepairWords {
    QString name, does;
};
inline RepairWords words_of(Repair repair) {
    auto tr = [](const char* text) { return QCoreApplication::translate("repairs", text); };
    switch (repair) {
        case Repair::weld:
            return {tr("weld near points"), tr("Points no farther apart than the distance below become one")};
        case Repair::degenerate:
            return {tr("drop faces without area"),
                    tr("Edges of no length and faces without area go, without opening the surface")};
        case Repair::duplicates:
            return {tr("drop doubled faces"), tr("Of faces on the same corners one stays; faces back to back go")};
        case Repair::fins: return {tr("cut off fins"), tr("Faces that hang on the surface by one side only go")};
        case Repair::t_junctions:
            return {tr("split T-junctions"), tr("Borders are split where points of others lie on them")};
        case Repair::borders: return {tr("join borders"), tr("Borders that lie on each other become one edge")};
        case Repair::orient: return {tr("turn faces outward"), tr("Neighbours run alike, and shells look outward")};
        case Repair::bridges:
            return {tr("bridge borders"), tr("Borders nowhere farther apart than this are joined by a strip of faces")};
        case Repair::holes: return {tr("fill holes"), tr("With the smallest surface; loose sheets beside a solid go")};
        case Repair::shells: return {tr("drop tiny shells"), tr("Closed shells of less volume than below go")};
        case Repair::thicken:
            return {tr("thicken sheets"),
                    tr("A surface that encloses nothing becomes a solid, by the thickness below")};
        case Repair::crossings:
            return {tr("resolve crossings"),
                    tr("Crossing faces, faces inside, and bodies that touch, by the exact arrangement")};
    }
    return {};
}

/// A tool for work by hand, for people.
inline RepairWords words_of(HandTool tool) {
    auto tr = [](const char* text) { return QCoreApplication::translate("hand", text); };
    auto named = [&](const char* name) {
        return RepairWords{tr(name), QString::fromStdString(find_kind(word(tool))->says)};
    };
    switch (tool) {
        case HandTool::merge_points: return named("merge points");
        case HandTool::join_points: return named("join by an edge");
        case HandTool::delete_faces: return named("delete faces");
        case HandTool::flip_faces: return named("flip faces");
        case HandTool::fill_border: return named("fill border");
        case HandTool::bridge_borders: return named("bridge");
        case HandTool::split_edge: return named("split");
        case HandTool::collapse_edge: return named("collapse");
        case HandTool::rotate_edge: return named("rotate");
        case HandTool::rebuild_region: return named("rebuild");
    }
    return {};
}

/// How holes are closed, for people.
inline RepairWords words_of(FillStyle style) {
    auto tr = [](const char* text) { return QCoreApplication::translate("repairs", text); };
    switch (style) {
        case FillStyle::smallest: return {tr("smallest"), tr("Close holes by the smallest surface over the rim")};
        case FillStyle::flat: return {tr("flat"), tr("Close holes as they lie in their plane, round islands in them")};
        case FillStyle::smooth: return {tr("smooth"), tr("Let the surface round a hole go on over it")};
    }
    return {};
}

inline RepairWords words_of(SheetRule rule) {
    auto tr = [](const char* text) { return QCoreApplication::translate("repairs", text); };
    switch (rule) {
        case SheetRule::leave: return {tr("leave open"), tr("A surface that encloses nothing stays one")};
        case SheetRule::thicken: return {tr("thicken"), tr("It becomes a solid of the thickness above")};
        case SheetRule::close: return {tr("close"), tr("Every hole of it is filled, however large")};
    }
    return {};
}

/// The operation's fixed word, by which its action and its drawing are named.
inline QString word_of(Operation operation) { return QString::fromUtf8(word(operation).data()); }

/// A name that the user gave, within a sentence.
inline QString quoted(const std::string& name) {
    return QString::fromUtf8("\xE2\x80\x9C%1\xE2\x80\x9D").arg(QString::fromStdString(name));
}

}  // namespace anvil::app
