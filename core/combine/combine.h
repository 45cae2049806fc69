#pragma once

#include <memory>
#include <string>

#include "core/arrange/face_source.h"
#include "core/arrange/taken.h"
#include "core/base/result.h"
#include "core/combine/operation.h"
#include "core/combine/report.h"
#include "core/combine/settle_options.h"

namespace anvil {

/// A hole that was closed in an operand before anything was computed.
struct ClosedHole {
    std::uint32_t operand;
    std::vector<Vec3> rim;
};

/// What a combining operation gives, and what there is to say about it.
struct Combined {
    Mesh mesh;
    std::vector<FaceSource> source;  ///< per face: operand and face that it is a part of
    /// Where each piece's faces begin, and behind the last one the number of all faces. Pieces share no points; a wall
    /// between two is in both.
    std::vector<std::size_t> piece_start{0, 0};
    bool surface = false;  ///< an open surface, as trims leave it: it encloses nothing
    bool empty = false;
    std::string reason;                                 ///< why it is empty
    std::vector<std::string> messages;                  ///< what was assumed or found out
    double largest_move = 0;                            ///< mm, by rounding to the precision asked for
    std::size_t pinched_edges = 0, pinched_points = 0;  ///< where pieces touched themselves
    double contact_step = 0;  ///< mm, by which touching parts were moved apart or bridged at most
    bool set_back = false;    ///< some were moved apart, be it since no bridge would hold
    std::size_t crossing_pairs = 0, coplanar_pairs = 0;
    std::vector<CrossingCurve> curves;  ///< where the operands' surfaces meet on the result
    std::vector<FlushArea> flush;       ///< where operands lie flush on each other, on the result or not
    std::vector<ClosedHole> closed_holes;
    std::vector<std::shared_ptr<const ProvenFaces>> proven;  ///< per piece, if asked for; some may be null
    double seconds = 0;

    std::size_t pieces() const { return piece_start.size() - 1; }
    /// One piece by itself; k counts from 0. The only piece is the whole mesh.
    Mesh piece(std::size_t k) const;
    /// Gives each face the material of the face that it is a part of. `given`: the operands as they were given, by the
    /// numbers in `source`.
    void take_materials(std::span<const Mesh* const> given);
    /// Adds the faces of a mesh, as they are, as a piece of its own.
    void add_piece(Mesh part, std::vector<FaceSource> part_source);
};

/// Makes all operands ready and arranges them. What had to be assumed about an operand is in its `notes`.
/// `base`: how the first one is taken, see `starts_as_surface`; `others`: how the rest is.
/// Preconditions: coordinates are finite.
/// Fails: too_few_operands for none; open_operand with the operand's number; cancelled.
Result<Arrangement> prepare(std::span<const Mesh* const> operands, Progress& progress, Taken base = Taken::repaired,
                            Taken others = Taken::repaired);

/// Puts an operand beside a result without computing: `Operation::gather`.
void gather_into(Combined& combined, const Mesh& operand, std::uint32_t number);

/// Steps 6 and 7 on an arrangement that exists: what the live job calls when an operation, an order or a switch is
/// changed. Gathering is left to the caller (`gather_into`), since it needs no arrangement. Fails: as
/// `settle_pieces`.
Result<Combined> combine(const Arrangement& arrangement, std::span<const CombineStep> steps, Progress& progress,
                         const SettleOptions& options = {});

/// One operation over all operands, left to right. Each piece of the result is closed, free of crossings and proven so
/// after rounding to doubles; gathering proves nothing. Union and intersection do not depend on the order of the
/// operands but for the numbering of points and faces. `taken`: how operands are that are no solids yet. Fails as
/// `prepare` does.
Result<Combined> combine(Operation operation, std::span<const Mesh* const> operands, Progress& progress,
                         const SettleOptions& options = {}, Taken taken = Taken::repaired);

}  // namespace anvil
