#pragma once

#include <QString>

#include "core/inspect/inspect.h"

namespace anvil::app {

/// Sentences for each kind of finding.
struct FindingWords {
    QString one, many, meaning;
};
FindingWords words_of(FindingKind kind);

/// What there is to say about one place: sizes, and from where on they are listed.
QString about(const Inspection& inspection, const Finding& at);

/// A size from where on a kind is listed. Shells go by the side of a cube of their volume.
struct Threshold {
    FindingKind kind;
    const char* name;
    double InspectOptions::*field;
    QString label;
    bool is_length = true, is_cube = false;
};
/// Null for kinds that go by no size.
const Threshold* threshold_of(std::optional<FindingKind> kind);
/// As it stands in the options, to be typed: "0.2 mm".
QString threshold_text(const Threshold& threshold, const InspectOptions& options);

}  // namespace anvil::app
