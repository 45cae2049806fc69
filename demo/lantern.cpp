#include "demo/lantern.h"

#include <numbers>
#include <random>

#include "core/mesh/measures.h"
#include "core/mesh/primitives.h"

namespace anvil::demo {
namespace {

constexpr double pi = std::numbers::pi;
constexpr int around = 72;

std::shared_ptr<const Mesh> share(Mesh mesh) { return std::make_shared<const Mesh>(std::move(mesh)); }

Mesh at(Mesh mesh, const Vec3& by) { return transformed(std::move(mesh), translation(by)); }

/// The housing: a turned body with a shouldered foot, 64 mm wide and 78 mm high.
Mesh housing() {
    const Point2 profile[] = {{0, 0},   {32, 0},  {32, 6},  {30, 8},  {30, 50}, {28, 54},
                              {28, 62}, {30, 64}, {30, 70}, {24, 76}, {10, 78}, {0, 78}};
    return make_revolution(profile, around);
}

/// Two mounting ears in one part; their undersides lie flush with the housing's foot.
Mesh ears() {
    Mesh out;
    for (const double side : {1.0, -1.0}) {
        std::vector<Point2> outline{{24, -11}, {44, -11}};
        for (int k = 1; k < 16; ++k) outline.push_back({44 + 11 * std::sin(pi * k / 16), -11 * std::cos(pi * k / 16)});
        outline.push_back({44, 11});
        outline.push_back({24, 11});
        Mesh ear = make_prism(outline, 0, 6);
        if (side < 0)
            for (Vec3& p : ear.points) p = {-p.x, -p.y, p.z};
        append(out, ear);
    }
    return out;
}

Mesh screw_holes() {
    Mesh out;
    for (const double side : {1.0, -1.0}) append(out, at(make_frustum(2.75, 2.75, -1, 7, 36), {side * 46, 0, 0}));
    return out;
}

Mesh inside() {
    const Point2 profile[] = {{0, 3}, {27, 3}, {27, 49}, {25, 52}, {25, 71}, {21.5, 74}, {0, 74}};
    return make_revolution(profile, around);
}

/// The seat of the lens: a stepped opening in front.
Mesh lens_seat() {
    const Point2 profile[] = {{0, 0}, {11, 0}, {11, 22}, {14, 22}, {14, 40}, {0, 40}};
    Mesh m = make_revolution(profile, around);
    for (Vec3& p : m.points) p = {p.x, -p.z - 4, p.y};  // look along -y
    return m;
}

/// A bore for a cable gland, with a flat for its nut.
Mesh gland_bore() {
    const Point2 profile[] = {{0, 0}, {6.25, 0}, {6.25, 9}, {9, 9}, {9, 16}, {0, 16}};
    Mesh m = make_revolution(profile, 48);
    for (Vec3& p : m.points) p = {-p.x, p.z, p.y};
    return m;
}

Mesh vent_slots() {
    Mesh out;
    for (int k = 0; k < 5; ++k) {
        std::vector<Point2> outline;
        for (int i = 0; i <= 12; ++i)
            outline.push_back({6 + 1.25 * std::sin(pi * i / 12), -1.25 * std::cos(pi * i / 12)});
        for (int i = 0; i <= 12; ++i)
            outline.push_back({-6 - 1.25 * std::sin(pi * i / 12), 1.25 * std::cos(pi * i / 12)});
        Mesh slot = make_prism(outline, 20, 36);
        for (Vec3& p : slot.points) p = {p.z, p.x, p.y};  // stand it on end, pointing along x
        append(out, at(slot, {0, 0, 22.0 + 5.5 * k}));
    }
    return out;
}

/// Splits edges longer than `longest` in their middles until none is left. An edge is split or not for both of its
/// faces alike, so a closed mesh stays closed.
Mesh refined(Mesh mesh, double longest) {
    for (bool any = true; any;) {
        any = false;
        Mesh finer;
        auto add = [&](const Vec3& a, const Vec3& b, const Vec3& c) {
            Triangle t;
            for (std::size_t k = 0; k < 3; ++k) t[k] = finer.points.push_back(k == 0 ? a : k == 1 ? b : c);
            finer.faces.push_back(t);
        };
        for (FaceId f : ids<FaceId>(mesh.faces.size())) {
            Vec3 p[3], middle[3];
            bool split[3];
            int splits = 0;
            for (int k = 0; k < 3; ++k) {
                p[k] = mesh.corner(f, k);
                const Vec3& q = mesh.corner(f, (k + 1) % 3);
                middle[k] = (p[k] + q) * 0.5;
                split[k] = norm(q - p[k]) > longest;
                splits += split[k];
            }
            any = any || splits > 0;
            // Turn the face so that the odd edge out comes first.
            int o = 0;
            for (int k = 0; k < 3; ++k)
                if (split[k] == (splits == 1)) o = k;
            const int u = (o + 1) % 3, v = (o + 2) % 3;
            if (splits == 0) {
                add(p[0], p[1], p[2]);
            } else if (splits == 1) {
                add(p[o], middle[o], p[v]);
                add(middle[o], p[u], p[v]);
            } else if (splits == 2) {
                add(middle[u], p[v], middle[v]);
                add(p[o], p[u], middle[u]);
                add(p[o], middle[u], middle[v]);
            } else {
                add(p[0], middle[0], middle[2]);
                add(middle[0], p[1], middle[1]);
                add(middle[2], middle[1], p[2]);
                add(middle[0], middle[1], middle[2]);
            }
        }
        mesh = welded(finer);
    }
    return mesh;
}

}  // namespace

Job lantern_job() {
    Job job;
    add_part(job, "lantern housing", share(housing()));
    auto step = [&](Operation operation, const char* name, Mesh mesh, Placement placement = {}) {
        const std::string id = add_part(job, name, share(std::move(mesh)));
        edit_part(job, id, [&](Part& part) { part.bench = placement; });
        return add_combining(job, operation, id);
    };
    step(Operation::union_of, "mounting ears", ears());
    step(Operation::difference, "screw holes", screw_holes());
    step(Operation::difference, "hollow inside", inside());
    step(Operation::difference, "lens seat", lens_seat(), {{0, 0, 40}, {}});
    step(Operation::difference, "gland bore", gland_bore(), {{0, 20, 16}, {}});
    step(Operation::difference, "second gland bore", gland_bore(), {{20 * std::sin(pi / 3), 10, 16}, {0, 0, -60}});
    const std::string slots = step(Operation::difference, "vent slots", vent_slots());
    // A rib stays standing across the slots: it is taken from them before they cut.
    (void)move_into(job, step(Operation::difference, "vent rib", make_box({18, -0.8, 18}, {38, 0.8, 48})), slots);
    return job;
}

Mesh scanned_dome() {
    constexpr int sides = 72, arc = 14;
    std::vector<std::pair<double, double>> profile{{38, 0}, {38, 4}, {34, 4}};  // mm: radius and height, from the foot
    for (int k = 0; k <= arc; ++k) {
        const double a = std::numbers::pi / 2 * k / (arc + 1);
        profile.emplace_back(31 * std::cos(a), 9 + 24 * std::sin(a));
    }
    Mesh dome;
    for (const auto& [radius, height] : profile)
        for (int s = 0; s < sides; ++s) {
            const double turn = 2 * std::numbers::pi * s / sides;
            dome.points.push_back({radius * std::cos(turn), radius * std::sin(turn), height});
        }
    const VertexId top = dome.points.push_back({0, 0, 33});
    auto at = [&](std::size_t ring, int s) { return VertexId(ring * sides + static_cast<std::size_t>(s % sides)); };
    for (std::size_t ring = 0; ring < profile.size(); ++ring)
        for (int s = 0; s < sides; ++s) {
            if (ring + 1 == profile.size()) {
                dome.faces.push_back({at(ring, s), at(ring, s + 1), top});
                continue;
            }
            dome.faces.push_back({at(ring, s), at(ring, s + 1), at(ring + 1, s + 1)});
            dome.faces.push_back({at(ring, s), at(ring + 1, s + 1), at(ring + 1, s)});
        }
    return dome;
}

Mesh scanned_bracket() {
    // The bracket as it once was: an angle with a rib, its surface rippled by the scanner.
    const Point2 outline[] = {{0, 0}, {60, 0}, {60, 6}, {14, 6}, {6, 14}, {6, 40}, {0, 40}};
    Mesh mesh = refined(make_prism(outline, 0, 24), 2.2);
    std::mt19937 random(7);
    std::uniform_real_distribution<double> ripple(-0.06, 0.06);
    for (Vec3& p : mesh.points) p = p + Vec3{ripple(random), ripple(random), ripple(random)};

    // What the scan did to it.
    auto near = [&](const Vec3& place, double radius) {
        std::vector<FaceId> out;
        for (FaceId f : ids<FaceId>(mesh.faces.size())) {
            if (norm(face_middle(mesh, f) - place) < radius) out.push_back(f);
        }
        return out;
    };
    const std::vector<FaceId> doubled = near({40, 6, 12}, 3), turned = near({0, 30, 8}, 2.2);
    for (FaceId f : doubled) mesh.faces.push_back(mesh.faces[f]);
    for (FaceId f : turned) std::swap(mesh.faces[f][1], mesh.faces[f][2]);
    std::vector<char> lost(mesh.faces.size(), 0);
    for (const Vec3& hole : {Vec3{58, 3, 24}, {25, 0, 9}, {6, 34, 20}})
        for (FaceId f : near(hole, 4)) lost[f.value()] = 1;
    IdVector<FaceId, Triangle> kept;
    for (FaceId f : ids<FaceId>(mesh.faces.size()))
        if (!lost[f.value()]) kept.push_back(mesh.faces[f]);
    mesh.faces = std::move(kept);

    // A stray fin on an edge of the rib, a splinter that pokes through the foot, and a face without width.
    const Triangle rib = mesh.faces[near({10, 10, 12}, 4).front()];
    const VertexId tip = mesh.points.push_back(mesh.points[rib[0]] + Vec3{7, 7, 2});
    mesh.faces.push_back({rib[0], rib[1], tip});
    append(mesh, at(make_frustum(2.5, 0, 0, 14, 9), {32, 0, 5}));
    const Vec3 low{18, 6.2, 20};
    const VertexId a = mesh.points.push_back(low), b = mesh.points.push_back(low + Vec3{2, 0, 0}),
                   c = mesh.points.push_back(low + Vec3{1, 0, 0});
    mesh.faces.push_back({a, b, c});
    return mesh;
}

}  // namespace anvil::demo
