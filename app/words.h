#pragma once

#include <QCoreApplication>
#include <QString>
#include <string>

#include "core/combine/operation.h"

namespace anvil::app {

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

/// The operation's fixed word, by which its action and its drawing are named.
inline QString word_of(Operation operation) { return QString::fromUtf8(word(operation).data()); }

/// A name that the user gave, within a sentence.
inline QString quoted(const std::string& name) {
    return QString::fromUtf8("\xE2\x80\x9C%1\xE2\x80\x9D").arg(QString::fromStdString(name));
}

}  // namespace anvil::app
