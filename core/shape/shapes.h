#pragma once

#include "core/shape/outline.h"
#include "core/shape/solid.h"

namespace anvil {

/// Shapes by their measures, in mm. Each function refuses measures that give no solid with a sentence that names them
/// (out_of_range), and more faces than a shape may have.

/// Sides: 0 to 5 look along -x, +x, -y, +y, -z, +z; 6 to 17 are the rounded edges along x, y and z, four each; 18 to 25
/// the corners.
struct BoxMeasures {
    Vec3 size{20, 20, 20};
    double edge_radius = 0;  ///< of all edges, at most half the shortest side; 0: sharp
    Facets facets{};
};
Result<Solid> box_shape(const BoxMeasures& measures);

/// One side: 0. Octants of rows that are as long as they are from the pole, so that no faces crowd at the poles.
struct SphereMeasures {
    double diameter = 20;
    Facets facets{};
};
Result<Solid> sphere_shape(const SphereMeasures& measures);

/// Sides: 0 below, 1 round it, 2 on top.
struct CylinderMeasures {
    double diameter = 10, height = 20;
    Facets facets{};
};
Result<Solid> cylinder_shape(const CylinderMeasures& measures);

/// A cone, or cut off below its tip. Sides as of a cylinder.
struct ConeMeasures {
    double bottom = 20, top = 0;  ///< diameters; one of them may be 0
    double height = 20;
    Facets facets{};
};
Result<Solid> cone_shape(const ConeMeasures& measures);

/// Sides: 0 below, 1 outside, 2 on top, 3 inside.
struct TubeMeasures {
    double outer = 20, inner = 16;  ///< diameters
    double height = 20;
    Facets facets{};
};
Result<Solid> tube_shape(const TubeMeasures& measures);

/// One side: 0.
struct TorusMeasures {
    double ring = 30, tube = 8;  ///< diameters, of the circle that the tube's middle runs along, and of the tube
    Facets facets{};
};
Result<Solid> torus_shape(const TorusMeasures& measures);

/// A square slab on z = 0 that stands for a half space, z >= 0, where that is shown. Sides: 0 the plane, 1 all others.
Result<Solid> half_space_slab(double side);
/// As much of the half space z >= 0 as holds all that is nearer to the origin than `reach`: a tetrahedron, whose plane
/// is one face and runs on far beyond. Sides as above.
Solid half_space_within(double reach);

/// Regular, one side looking along -y. Sides: 0 below, 1 on top, 2 and on round it.
struct PrismMeasures {
    int sides = 6;
    double across = 20;         ///< from flat to flat (of an odd number: twice from the axis to a flat)
    bool over_corners = false;  ///< or of the circle through the corners
    double height = 20;
};
Result<Solid> prism_shape(const PrismMeasures& measures);

/// A star with a tip along +y. Sides as of a prism.
struct StarMeasures {
    int points = 5;
    double outer = 20, inner = 8;  ///< diameters through the tips, and through the corners between them
    double height = 10;
};
Result<Solid> star_shape(const StarMeasures& measures);

/// A ramp that rises along x. Sides: 0 below, 1 at its back, 2 on top, 3 the slope, 4 and 5 along -y and +y.
struct WedgeMeasures {
    Vec3 size{20, 20, 20};
    double top = 0;  ///< how long it is on top, along x
};
Result<Solid> wedge_shape(const WedgeMeasures& measures);

/// What a drawing fills, in the plane z = 0 as it lies there, pushed along z. Where it touches itself in a point,
/// edges of the solid have four faces. Sides: 0 below, 1 on top, 2 round it.
struct ProfileMeasures {
    Drawing drawing;
    double height = 10;
    double scale = 1;  ///< of the drawing
};
Result<Solid> profile_shape(const ProfileMeasures& measures);

/// Lines of text, letters by their capitals' height, the first line's letters standing on y = 0, read along x and
/// pushed along z. Round a cylinder: the text stands upright along z on the outside of it, its middle looking along
/// -y, and is pushed away from the axis. Right-to-left and composed scripts as they are written. Fails: out_of_range
/// where the font is not installed or lacks a letter, where nothing of it has an outline, or where it is longer than
/// the way round. Sides: 0 below, 1 on top, 2 round it.
struct TextMeasures {
    std::string text;    ///< UTF-8; a line feed begins another line
    std::string font{};  ///< a family that is installed; empty: the one that comes with the program
    bool bold = false;
    double size = 10;    ///< mm that capitals are high
    double height = 2;   ///< mm that it is pushed
    double spacing = 0;  ///< mm between letters, more than the font gives
    double lines = 1;    ///< from line to line, as a factor of what the font gives
    enum class Align { left, centre, right } align = Align::left;
    double around = 0;  ///< mm, the diameter of a cylinder that it is curved round; 0: straight
    double chord = 0.02;
};
Result<Solid> text_shape(const TextMeasures& measures);

/// A screw thread along z with the basic profile of ISO 68-1: flanks at 60 degrees, an eighth of the pitch flat at the
/// major diameter, a quarter at the minor one. Sides: 0 below, 1 the thread, 2 on top, 3 outside of a sleeve.
struct ThreadMeasures {
    double diameter = 10, pitch = 1.5;  ///< major
    double length = 20;
    double clearance = 0.1;  ///< by which the flanks and diameters stand back from the profile, so that it turns
    bool internal = false;   ///< of a nut
    bool left = false;
    /// External, a rod; internal, a sleeve. As cutter the other way round: what is taken away to leave the thread.
    bool cutter = false;
    double around = 16;     ///< outer diameter of a sleeve
    bool chamfered = true;  ///< lead-in chamfers of 45 degrees at both ends
    Facets facets{};
};
Result<Solid> thread_shape(const ThreadMeasures& measures);

/// Diameters of the basic profile, by ISO 724: what a thread has without clearance.
struct ThreadDiameters {
    double major, pitch, minor;
};
ThreadDiameters basic_diameters(double diameter, double pitch);

}  // namespace anvil
