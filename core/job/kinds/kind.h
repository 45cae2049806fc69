#pragma once

#include <functional>
#include <limits>
#include <memory>
#include <optional>
#include <span>

#include "core/base/progress.h"
#include "core/base/result.h"
#include "core/combine/operation.h"
#include "core/combine/settle_options.h"
#include "core/cut/cutter.h"
#include "core/job/kinds/value.h"
#include "core/mend/questions.h"
#include "core/mesh/transform.h"

namespace anvil {

/// Something about a step that can be set.
struct Field {
    enum class Type {
        length,     ///< double, mm
        volume,     ///< double, mm3
        angle,      ///< double, degrees
        factor,     ///< double, without a unit
        count,      ///< std::int64_t
        yes_no,     ///< bool
        choice,     ///< std::string, one of `choices`
        choices,    ///< std::vector<std::string>, some of `choices`, each once
        words,      ///< std::vector<std::string>, any
        text,       ///< std::string, any
        place,      ///< Vec3: mm, in the coordinates of the list
        direction,  ///< Vec3: of any length but 0
        part,       ///< std::string: id of a part; empty: none
        held,       ///< std::vector<Anchor>: elements of the body, found again when what is above changes
        elements,   ///< std::vector<Vec3>: points; the two ends of edges, the three corners of faces, one after the
                    ///< other
    };
    std::string name;  ///< in files and on the command line
    Type type{};
    Value usual;
    std::string label{};  ///< "at most"
    std::string says{};   ///< what it does, in half a sentence
    double least = -std::numeric_limits<double>::infinity(), most = std::numeric_limits<double>::infinity();
    std::vector<std::string> choices{};
    bool is_wanted = false;               ///< without it there is nothing to do
    ElementKind of = ElementKind::faces;  ///< of `elements`
    std::string files{};                  ///< of `text`: it is read from a file of such names, "*.txt *.csv"
    /// Shown only where that field, a choice, has that value, or one of several, "front|back", and is shown itself; of
    /// what is held: "held" or "none". Empty: always.
    std::string only_if{}, only_for{};
    std::string also_if{}, also_for{};  ///< and only where this holds, too
    bool is_long = false;               ///< of `text`: it may have several lines
    /// Of `text`: what there is to choose from; anything else can be typed.
    std::vector<std::string> (*suggestions)() = nullptr;
    bool is_folded = false;       ///< seldom set: shown where somebody asks for it
    bool goes_with_size = false;  ///< of a new shape: set by the size of the body that it is for
    bool as_box = false;          ///< `elements` are told by two corners of the box round them
};

enum class KindClass {
    cut,      ///< makes operands of its own, which act on the body as those of combining steps do
    combine,  ///< an operand acts on the body, in the arrangement
    treat,    ///< changes the body by itself
    group,    ///< holds steps
    shape,    ///< no step, but what a part is made from
    copies,   ///< no step, but how an operand is taken many times
};

/// What copies are made of.
struct Copied {
    const Mesh* body = nullptr;  ///< that it acts on, where the kind needs that; welded where elements of it are held
    Vec3 foot;                   ///< where the operand's own origin lies
    std::map<std::string, Selection, std::less<>> held{};  ///< by field: the elements of the body that are held
};

/// What a treatment is given beside its body and its values.
struct TreatSettings {
    Precision precision = Precision::double_precision;
    ContactRule contact = ContactRule::separate;
    std::map<std::string, Selection, std::less<>> held{};  ///< by field: the elements that are held, of the welded body
    /// By field: the body of the part that it names, where that stands on the bench.
    std::map<std::string, std::shared_ptr<const Mesh>, std::less<>> parts{};
};

/// What a cut is made for, in the coordinates of the list.
struct CutFor {
    Box box;                                               ///< what it acts on lies in
    const Mesh* body = nullptr;                            ///< that, where the kind needs it; welded
    std::map<std::string, Selection, std::less<>> held{};  ///< by field: the elements of the body that are held
};

/// A treated body, and what there is to say about it.
struct Treated {
    std::shared_ptr<const Mesh> mesh;
    std::shared_ptr<const Mended> mended{};  ///< what repairs did, where it is by them
    std::optional<HandDone> by_hand{};       ///< or what became of an edit by hand
    std::string said{};                      ///< in one sentence
    std::vector<Vec3> places{};              ///< that this is about, marked in the view
    double largest_move = 0;                 ///< mm
    std::optional<Question> question{};      ///< a decision that it waits for
    double seconds = 0;                      ///< that it took; the evaluator sets it
    bool stays_sound = false;                ///< the body was print-ready and still is; the evaluator sets it
    bool same_faces = false;                 ///< each face is the one of that number before, wherever it is now
};

/// Where a measure of a shape, or of a cut, can be taken hold of, in its own coordinates.
struct MeasureHandle {
    std::string field;
    Vec3 at, along;  ///< the direction in which the measure grows, or in which a place is moved, or the axis about
                     ///< which a direction is turned; of length 1
    double per = 1;  ///< mm that it grows by for each mm that the handle goes
    Vec3 across{};   ///< of what is moved in a plane: another direction in that, of length 1; else none
    int number = 0;  ///< of several that a field has
};

/// A sort of step, of shape or of copies. Each stands in a file of its own under core/job/kinds, which registers it;
/// readers, writers, keys, panels and the command line go by its fields.
struct Kind {
    std::string word;  ///< in files and on the command line; no two of steps share one, and no two of shapes
    KindClass of = KindClass::treat;
    std::string name{};   ///< for people: "keep the largest shell"; the word where it is empty
    std::string says{};   ///< what it does, in half a sentence
    std::string panel{};  ///< of its settings, where the window has one that is made for it; empty: one built of fields
    int order = 0;        ///< of a shape or copies among the others, where they are offered
    int revision = 1;     ///< goes up when the same values give something else: what was kept is worked out anew
    std::vector<Field> fields{};
    Operation operation = Operation::union_of;  ///< of a combining kind
    /// Of a treatment: what it leaves of a sound body has to be sound, or it is not taken.
    bool stays_sound = true;
    /// Of a treatment. Fails: cancelled, out_of_memory; else the body goes on as it was, and the row says why.
    std::function<Result<Treated>(const std::shared_ptr<const Mesh>& body, const Values& values,
                                  const TreatSettings& settings, Progress& progress)>
        treat{};
    /// Of copies: from where the operand stands to where each copy does. Fails: out_of_range, where the values do not
    /// go together; cancelled.
    std::function<Result<std::vector<Transform>>(const Values& values, const Copied& of, Progress& progress)> places{};
    bool needs_body = false;  ///< of copies: they go by the body that is acted on
    /// Of a shape. Fails: out_of_range, where the values do not go together.
    std::function<Result<Solid>(const Values& values)> make{};
    /// Of a shape that ends nowhere: as much of it as holds all that is nearer to its own origin than `reach`, mm, and
    /// more. `make` is then what stands for it in the view.
    std::function<Solid(double reach)> make_endless{};
    /// Of a cut. Fails: out_of_range, where the values do not go together or there is nothing to cut; lost; cancelled.
    std::function<Result<Cut>(const Values& values, const CutFor& of, Progress& progress)> cut{};
    /// Of a cut: whether it goes by the body, and not only by the box round that. None: where it holds on to elements.
    std::function<bool(const Values& values)> cuts_by_body{};
    /// Of a shape or a step: handles for its main measures.
    std::function<std::vector<MeasureHandle>(const Values& values)> handles{};
    /// Of a cut: its values with a handle moved by that, in mm, where the field holds several places.
    std::function<Values(Values values, const MeasureHandle& handle, const Vec3& by)> dragged{};

    const Field* find_field(std::string_view name) const;
    /// The field that names elements by their points; null where there is none.
    const Field* elements_field() const;
    /// The field that holds on to elements, of those that mean something with these values; one that it cannot do
    /// without before others. Null where there is none.
    const Field* held_field(const Values& values = {}) const;
    /// Whether something has to be selected for it first.
    bool wants_selection(const Values& values = {}) const;
};

/// Of steps. Null where there is none of that word.
const Kind* find_kind(std::string_view word);
/// Of shapes.
const Kind* find_shape(std::string_view word);
/// Of ways to copy.
const Kind* find_copies(std::string_view word);
/// All of steps, by their words.
std::vector<const Kind*> all_kinds();
/// All of shapes, in the order in which they are offered.
std::vector<const Kind*> all_shapes();
std::vector<const Kind*> all_copies();

/// A kind is registered by an object of this type at namespace scope in its file.
struct RegisterKind {
    explicit RegisterKind(Kind kind);
};

/// Why values are none of the kind's, in a sentence that names the field: not one of it, of another type, out of its
/// range, or a word that is no choice.
Result<void> check_values(const Kind& kind, const Values& values);

/// Whether a field means anything with those values.
bool is_shown(const Kind& kind, const Values& values, const Field& field);

/// The value of a field, or its usual one. Preconditions: the values are checked; the field is there and of that type.
template <class T>
const T& value_of(const Kind& kind, const Values& values, std::string_view field) {
    const auto at = values.find(field);
    return std::get<T>(at == values.end() ? kind.find_field(field)->usual : at->second);
}

}  // namespace anvil
