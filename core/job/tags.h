#pragma once

#include <memory>
#include <span>

#include "core/combine/combine.h"
#include "core/job/kinds/value.h"

namespace anvil {

/// The tags of a mesh's faces.
struct Tags {
    std::vector<Tag> table;                ///< each once; also those of faces that were cut away
    IdVector<FaceId, std::uint32_t> of{};  ///< per face: a number in `table`
    const Tag& tag(FaceId f) const { return table[of[f]]; }
};

/// A mesh as it came: a tag for each region between its creases, by the key of what that is made of. A region that
/// changes has another tag; one that stays keeps it, whatever becomes of the others.
Tags tags_of_mesh(const std::string& part, const Mesh& mesh);
/// A shape as it came: a tag for each side, whatever its measures are.
Tags tags_of_shape(const std::string& part, const IdVector<FaceId, std::uint32_t>& sides);
/// After a treatment by a step: faces whose corners lie where they lay keep their tags, all others are its own.
Tags tags_after(const Tags& before, const Mesh& old, const Mesh& mesh, const std::string& step);

/// How a body came about, from which its tags are told when something asks for them. Not thread-safe.
struct Lineage {
    /// An operand, and the id of the step that brought it in; empty for the body itself.
    struct Operand {
        std::string use;
        std::shared_ptr<Lineage> of;
    };
    std::string maker{};                 ///< of a mesh the part's id, of a treatment the step's
    std::shared_ptr<const Mesh> mesh{};  ///< as it came, or after the treatment
    std::shared_ptr<const IdVector<FaceId, std::uint32_t>> sides{};  ///< of a shape as it came: on which each face lies
    bool copies = false;                         ///< the body before, many times, one behind the other
    std::shared_ptr<const Mesh> old{};           ///< before the treatment
    bool same_faces = false;                     ///< after the treatment each face has the number that it had
    std::shared_ptr<const Combined> combined{};  ///< of a run of combining steps
    std::vector<Operand> of{};                   ///< what it was made of: per operand number, or the body before
    std::shared_ptr<const Tags> known{};
};
/// Per face of the body that came about so.
std::shared_ptr<const Tags> tags_of(Lineage& lineage);

}  // namespace anvil
