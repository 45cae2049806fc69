#pragma once

#include <functional>
#include <memory>
#include <span>

#include "core/arrange/face_source.h"
#include "core/base/progress.h"
#include "core/base/result.h"
#include "core/combine/settle_options.h"

namespace anvil {

struct Arrangement;
struct Extraction;

/// A result in its final coordinates, proven.
struct Settled {
    Mesh mesh;
    std::vector<FaceSource> source;  ///< per face of `mesh`; without a face for those of bridges
    double largest_move = 0;         ///< how far rounding moved a point at most, mm
    std::vector<float> thickness{};  ///< per face, as RoundedFaces has it
    int rounds = 0;                  ///< how often rounding made faces cross and they were resolved again
    bool clean = true;               ///< no crossing or degenerate face is left
    std::vector<FaceSource> faulty;  ///< where there are some: what the faces are parts of that were faulty at first
    std::size_t pinched_edges = 0, pinched_points = 0;  ///< where it touched itself
    double contact_step = 0;  ///< mm, by which touching parts were moved apart or bridged; 0 where they were not
    bool bridged = false;     ///< by bridges, else moved apart
    bool touching = false;    ///< there are places where it still touches itself
    bool given_up = false;    ///< the attempt gave it up
    std::shared_ptr<const ProvenFaces> proven{};  ///< if asked for, and worth it

    /// One that was given up since those are faulty.
    static Settled given_up_at(std::vector<FaceSource> faulty) {
        Settled out;
        out.clean = false;
        out.given_up = true;
        out.faulty = std::move(faulty);
        return out;
    }
};

/// What is done where rounded faces cross.
enum class Effort {
    full,  ///< all that is told below, as long as that is likely to help
    last,  ///< and beyond that: there is nothing else to be tried
};

/// How a result is tried to be settled.
struct Attempt {
    Effort effort = Effort::full;
    /// Asked with the faces of operands that faults or contacts are on, and with how many there are, about, before
    /// anything is done about them: whether to leave it at that, since there is a better way.
    std::function<bool(std::span<const FaceSource>, std::size_t)> gives_up{};
    /// Asked with the faces: whether the layers that meet there slid along each other, so that they may be laid
    /// together from farther apart.
    std::function<bool(std::span<const FaceSource>)> slid{};
    /// Rounding turns none of its faces over, as is known already.
    bool none_turned = false;
    /// What was proven of an earlier result, or null; whether to tell what is of this one.
    const ProvenFaces* before = nullptr;
    bool tells_proven = false;

    /// How often layers are laid together at those faces, at most. Where they did not slide, plain rounds and grids
    /// settle more, and leave thin skins alone.
    int flattenings(std::span<const FaceSource> faces) const { return slid && slid(faces) ? 6 : 0; }
};

/// Step 7: rounds the points, makes equal points one, and proves that the rounded faces neither cross nor degenerate;
/// where they do, they are arranged again, exactly, and rounded again. Then resolves where the surface touches itself.
/// Fails only where it was stopped.
Result<Settled> settle(const Arrangement& arrangement, const Extraction& extraction, const SettleOptions& options,
                       const Attempt& attempt, Progress& progress);

}  // namespace anvil
