#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/mend/mend.h"

namespace anvil {

/// A decision that mending leaves to the user, with the ways to go on.
struct Question {
    /// What it is about; the words are fixed, jobs keep them.
    enum class About { sheet, long_holes, touching };
    struct Answer {
        std::string said;     ///< "Leave it a sheet"
        MendOptions options;  ///< what to mend with then; a thickness may be changed
    };
    About about{};
    std::string asked;            ///< in one sentence
    Vec3 place;                   ///< where to look
    double width = 0;             ///< mm, of what is worth seeing there
    Vec3 seen_from{};             ///< the direction from which an opening is seen; zero where any does
    std::vector<Answer> answers;  ///< the first one is what holds until it is answered
};
std::string_view word(Question::About about);
std::optional<Question::About> about_from(std::string_view word);

/// The repair that waits for the answer, and with it all that come after it in the plan.
Repair first_waiting(Question::About about);

/// The first decision that comes up when a mesh is mended with these options, and has not been `answered`; nothing
/// where none is left. `done`: what that mending gave.
std::optional<Question> next_question(const Mesh& mesh, const Mended& done, const MendOptions& options,
                                      std::span<const Question::About> answered);

/// mm: three lines of a usual nozzle, or a 50th of smaller parts; what sheets are thickened to unless a number is
/// given.
double usual_thickness(const Mesh& mesh);

/// The options that "mend all" starts with: holes longer than twice the part's diagonal, as a whole side of a
/// cube is, are left until they are asked for.
MendOptions cautious_options(const Mesh& mesh);

}  // namespace anvil
