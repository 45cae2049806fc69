// Anchors: what is held on to in a body is found again when what stands above it changes, or told to be lost; never
// anything else is taken for it.
#include "core/job/anchors.h"

#include <random>

#include "core/io/mesh_file.h"
#include "core/job/job_text.h"
#include "core/mesh/edge_table.h"
#include "core/mesh/refine.h"
#include "core/mesh/regions.h"
#include "core/spatial/nearest.h"
#include "tests/job/jobs.h"

using namespace anvil;
using namespace anvil::test;

namespace {

/// A kind of the tests' own, which tells what it holds and leaves the body as it is.
Kind holding_kind() {
    Kind out{.word = "test-hold", .of = KindClass::treat};
    Field held{.name = "held",
               .type = Field::Type::held,
               .usual = std::vector<Anchor>(),
               .label = "held",
               .says = "what is held"};
    held.is_wanted = true;
    out.fields = {held};
    out.treat = [](const std::shared_ptr<const Mesh>& body, const Values&, const TreatSettings& settings,
                   Progress&) -> Result<Treated> {
        return Treated{.mesh = body, .said = std::to_string(settings.held.at("held").elements.size()) + " held"};
    };
    return out;
}
const RegisterKind holds(holding_kind());

/// The result of a job with its tags.
struct Tagged {
    Mesh mesh;  // welded
    std::shared_ptr<const Tags> tags;
    std::shared_ptr<const Combined> combined;
    std::vector<std::string> parts;  // per operand
};
Tagged result_of(const Job& job) {
    KeptResults kept;
    Progress progress;
    auto done = ListEvaluator(kept).run(job, {}, {}, ResultAt::its_place, progress);
    INFO((done ? "" : done.error().sentence()));
    REQUIRE(done);
    return {welded(done->result.combined->mesh), tags_of(*done->lineages.at(job.work())), done->result.combined,
            done->result.operand_parts};
}

/// Where a face of a result comes from, told by the arrangement and not by tags: the part, and the region of its mesh
/// as that was at first.
class Origins {
  public:
    explicit Origins(const Job& first) {
        for (const auto& part : first.parts)
            if (const auto* stored = std::get_if<StoredMesh>(&part->source)) {
                Source& s = sources_[part->id];
                s.mesh = stored->mesh;
                regions_between_creases(welded(*stored->mesh), 28).number(s.region);
                s.nearest = std::make_unique<NearestFace>(*s.mesh);
            }
    }
    using Origin = std::pair<std::string, std::uint32_t>;
    Origin of(const Job& now, const Tagged& result, FaceId f) const {
        const FaceSource& s = result.combined->source[f.value()];
        if (!s.face.valid()) return {"", 0};
        const std::string& part = result.parts[s.operand];
        const Source& source = sources_.at(part);
        const auto& mesh = std::get<StoredMesh>(now.find_part(part)->source).mesh;
        if (mesh == source.mesh) return {part, source.region[s.face.value()]};
        const Vec3 middle = (mesh->corner(s.face, 0) + mesh->corner(s.face, 1) + mesh->corner(s.face, 2)) * (1.0 / 3);
        return {part, source.region[source.nearest->nearest(middle).face.value()]};
    }

  private:
    struct Source {
        std::shared_ptr<const Mesh> mesh;
        std::vector<std::uint32_t> region;
        std::unique_ptr<NearestFace> nearest;
    };
    std::map<std::string, Source> sources_;
};

/// The origins on both sides of an edge, or of a face.
using Between = std::set<Origins::Origin>;
std::map<Element, Between> origins_of_edges(const Origins& origins, const Job& job, const Tagged& r) {
    std::map<Element, Between> out;
    for (const FaceId f : ids<FaceId>(r.mesh.faces.size()))
        for (int k = 0; k < 3; ++k) {
            const VertexId a = r.mesh.faces[f][static_cast<std::size_t>(k)],
                           b = r.mesh.faces[f][static_cast<std::size_t>((k + 1) % 3)];
            if (a != b) out[edge_element(a, b)].insert(origins.of(job, r, f));
        }
    return out;
}
std::map<Element, Between> origins_of_faces(const Origins& origins, const Job& job, const Tagged& r) {
    std::map<Element, Between> out;
    for (const FaceId f : ids<FaceId>(r.mesh.faces.size()))
        out[face_element(r.mesh.faces[f])] = {origins.of(job, r, f)};
    return out;
}

/// Elements of the same origins as one of them that hang together with it, by a walk of the tests' own.
Selection walk(const std::map<Element, Between>& origins, const Element& from, ElementKind kind) {
    Selection out{kind, {}};
    std::multimap<VertexId, Element> at;
    const Between& same = origins.at(from);
    std::multimap<Element, Element> across;  // faces by their edges
    for (const auto& [e, o] : origins)
        if (o == same) {
            if (kind == ElementKind::edges)
                for (int k = 0; k < 2; ++k) at.emplace(e[static_cast<std::size_t>(k)], e);
            else
                for (int k = 0; k < 3; ++k)
                    across.emplace(
                        edge_element(e[static_cast<std::size_t>(k)], e[static_cast<std::size_t>((k + 1) % 3)]), e);
        }
    std::set<Element> seen{from};
    std::vector<Element> open{from};
    while (!open.empty()) {
        const Element e = open.back();
        open.pop_back();
        auto visit = [&](auto range) {
            for (auto i = range.first; i != range.second; ++i)
                if (seen.insert(i->second).second) open.push_back(i->second);
        };
        if (kind == ElementKind::edges)
            for (int k = 0; k < 2; ++k) visit(at.equal_range(e[static_cast<std::size_t>(k)]));
        else
            for (int k = 0; k < 3; ++k)
                visit(across.equal_range(
                    edge_element(e[static_cast<std::size_t>(k)], e[static_cast<std::size_t>((k + 1) % 3)])));
    }
    const std::vector<Element> all(seen.begin(), seen.end());
    out.add(all);
    return out;
}

std::vector<Vec3> middles(const Mesh& mesh, const Selection& s) {
    std::vector<Vec3> out;
    for (const Element& e : s.elements) {
        Vec3 sum;
        for (int k = 0; k < points_of(s.kind); ++k) sum = sum + mesh.points[e[static_cast<std::size_t>(k)]];
        out.push_back(sum * (1.0 / points_of(s.kind)));
    }
    return out;
}
/// The middle of the distances from some places to the middles of others.
double apart(const std::vector<Vec3>& a, const std::vector<Vec3>& b) {
    double sum = 0;
    for (const Vec3& p : a) {
        double best = HUGE_VAL;
        for (const Vec3& q : b) best = std::min(best, norm(p - q));
        sum += best;
    }
    return sum / static_cast<double>(a.size());
}

/// A block with a bore through it, and a knob on top.
struct Bored {
    Job job;
    std::string block = add(job, "block", make_box({0, 0, 0}, {20, 20, 10})),
                bore = add(job, "bore", make_prism(std::vector<Point2>{{-2, -2}, {2, -2}, {2, 2}, {-2, 2}}, -5, 15)),
                knob = add(job, "knob", make_box({0, 0, 0}, {3, 3, 3})),
                cut = add_combining(job, Operation::difference, bore),
                join = add_combining(job, Operation::union_of, knob);
    Bored() {
        move_to(job, cut, {6, 6, 0});
        move_to(job, join, {14, 14, 9});
    }
    /// The edges at which the bore's front side meets the top.
    static Selection rim(const Mesh& mesh, double y, double x0, double x1) {
        Selection out{ElementKind::edges, {}};
        for (const Element& e : all_elements(mesh, ElementKind::edges)) {
            const Vec3 &a = mesh.points[e[0]], &b = mesh.points[e[1]];
            auto on = [&](const Vec3& p) {
                return p.z == 10 && std::fabs(p.y - y) < 1e-9 && p.x > x0 - 1e-9 && p.x < x1 + 1e-9;
            };
            if (on(a) && on(b)) out.add(std::span(&e, 1));
        }
        return out;
    }
};

}  // namespace

TEST_CASE("faces carry who made them: a part's regions, by the step that uses it, or the step that made them anew") {
    Bored b;
    const Tagged r = result_of(b.job);
    std::set<std::pair<std::string, std::string>> makers;
    for (const FaceId f : ids<FaceId>(r.mesh.faces.size())) makers.insert({r.tags->tag(f).use, r.tags->tag(f).maker});
    CHECK(makers == std::set<std::pair<std::string, std::string>>{{"", b.block}, {b.cut, b.bore}, {b.join, b.knob}});
    std::set<Tag> used;
    for (const std::uint32_t n : r.tags->of) used.insert(r.tags->table[n]);
    CHECK(used.size() == 6 + 4 + 5);  // sides of the block, of the bore within it, and of the knob above it
    // Fills are of the repair's own make; what was there stays what it was; a mirror changes no name.
    Mesh open = make_box({0, 0, 0}, {4, 4, 4});
    open.faces.raw().resize(10);
    Job job;
    const std::string tray = add(job, "tray", open), mend = add_mending(job, tray, whole_plan());
    add_treatment(job, {tray}, "mirror", {{"at", 3.0}});
    const Tagged mended = result_of(job);
    std::map<std::string, int> faces;
    for (const FaceId f : ids<FaceId>(mended.mesh.faces.size())) ++faces[mended.tags->tag(f).maker];
    CHECK(faces == std::map<std::string, int>{{tray, 10}, {mend, 2}});
}

TEST_CASE("an edge between two bodies is held while one of them moves, is mirrored, or comes and goes") {
    Bored b;
    const Tagged r = result_of(b.job);
    const Selection rim = Bored::rim(r.mesh, 4, 4, 8);
    REQUIRE(rim.elements.size() >= 1);
    const auto anchors = anchors_of(rim, r.mesh, *r.tags);
    REQUIRE(anchors.size() == 1);
    CHECK(anchors[0].whole);
    CHECK(anchors[0].tags.size() == 2);
    auto found = [&](const Job& job) {
        const Tagged now = result_of(job);
        return std::pair(held_by(anchors, now.mesh, *now.tags), now);
    };
    auto is_at = [&](const Job& job, double y, double x0, double x1) {
        const auto [held, now] = found(job);
        INFO((held ? "" : held.error().text));
        REQUIRE(held);
        CHECK(*held == Bored::rim(now.mesh, y, x0, x1));
    };
    is_at(b.job, 4, 4, 8);
    Job next = b.job;
    move_to(next, b.cut, {9, 11, 0});
    is_at(next, 9, 7, 11);
    next = b.job;
    add_treatment(next, {b.bore}, "mirror", {{"across", std::string("y")}});
    is_at(next, 8, 4, 8);  // its front is at the back now
    // The knob cuts the edge in two: both are between the same faces.
    next = b.job;
    move_to(next, b.join, {5, 3, 9});
    {
        const auto [held, now] = found(next);
        REQUIRE(held);
        for (const Vec3& p : middles(now.mesh, *held)) CHECK(std::fabs(p.y - 4) < 1e-9);
    }
    next = b.job;
    set_on(next, b.cut, false);
    CHECK(found(next).first.error().code == ErrorCode::lost);
    set_on(next, b.cut, true);
    is_at(next, 4, 4, 8);
    // The block is replaced by one of more faces: it lies where it lay.
    set_mesh(next, b.block, refined(make_box({0, 0, 0}, {20, 20, 10}), 3, 100000));
    is_at(next, 4, 4, 8);
    move_to(next, b.cut, {9, 11, 0});
    CHECK(found(next).first.error().code == ErrorCode::lost);  // and both at once is too much
    move_to(next, b.cut, {60, 6, 0});
    CHECK(found(next).first.error().code == ErrorCode::lost);
}

TEST_CASE("of two places alike the one is held that lies where it was; where that is not to tell, it is lost") {
    // A slab, cut through by a bar across two walls of a trough: the same two faces meet twice.
    Job job;
    Mesh trough = make_box({0, 0, 0}, {20, 2, 10});
    append(trough, make_box({0, 10, 0}, {20, 12, 10}));
    const std::string walls = add(job, "walls", trough), bar = add(job, "bar", make_box({0, -5, 0}, {4, 20, 4}));
    const std::string cut = add_combining(job, Operation::difference, bar);
    move_to(job, cut, {8, 0, 3});
    (void)walls;
    const Tagged r = result_of(job);
    // The upper front edge of the hole in the first wall: between the bar's top and the wall's front.
    Selection edge{ElementKind::edges, {}};
    for (const Element& e : all_elements(r.mesh, ElementKind::edges)) {
        auto on = [](const Vec3& p) { return p.y == 0 && p.z == 7 && p.x >= 8 && p.x <= 12; };
        if (on(r.mesh.points[e[0]]) && on(r.mesh.points[e[1]])) edge.add(std::span(&e, 1));
    }
    REQUIRE(!edge.empty());
    const auto anchors = anchors_of(edge, r.mesh, *r.tags);
    REQUIRE(anchors.size() == 1);
    move_to(job, cut, {8.5, 0, 3});
    const Tagged moved = result_of(job);
    const auto held = held_by(anchors, moved.mesh, *moved.tags);
    REQUIRE(held);
    for (const Vec3& p : middles(moved.mesh, *held)) CHECK((p.y == 0 && p.z == 7));
}

TEST_CASE("single faces and edges are held by where they lie, also when they were divided since") {
    Job job;
    const std::string block = add(job, "block", make_box({0, 0, 0}, {4, 4, 4}));
    Tagged r = result_of(job);
    const Element face = face_element(r.mesh.faces[FaceId(0)]);
    Selection one{ElementKind::faces, {}};
    one.add(std::span(&face, 1));
    const auto anchors = anchors_of(one, r.mesh, *r.tags);
    REQUIRE(anchors.size() == 1);
    CHECK(!anchors[0].whole);
    CHECK(held_by(anchors, r.mesh, *r.tags)->elements == one.elements);
    set_mesh(job, block, refined(make_box({0, 0, 0}, {4, 4, 4}), 1.5, 10000));
    r = result_of(job);
    const auto divided = held_by(anchors, r.mesh, *r.tags);
    REQUIRE(divided);
    CHECK(divided->elements.size() > 1);
    set_mesh(job, block, make_box({1, 0, 0}, {5, 4, 4}));
    r = result_of(job);
    const auto away = held_by(anchors, r.mesh, *r.tags);
    REQUIRE(!away);
    CHECK(away.error().text.find("not there any more") != std::string::npos);
}

TEST_CASE("a step that holds on to something is given it, is left out where it is lost, and keeps it in the file") {
    Bored b;
    const Tagged r = result_of(b.job);
    const auto anchors = anchors_of(Bored::rim(r.mesh, 4, 4, 8), r.mesh, *r.tags);
    const std::string step = add_treatment(b.job, {b.job.work()}, "test-hold", {{"held", anchors}});
    Evaluator evaluator;
    auto is_held = [&](double y, double x0, double x1) {
        const std::size_t count = Bored::rim(result_of(b.job).mesh, y, x0, x1).elements.size();
        return evaluated(evaluator, b.job).rows.at(step).treated->said == std::to_string(count) + " held";
    };
    CHECK(is_held(4, 4, 8));
    move_to(b.job, b.cut, {9, 11, 0});
    CHECK(is_held(9, 7, 11));
    set_on(b.job, b.cut, false);
    const Evaluation without = evaluated(evaluator, b.job);
    REQUIRE(without.rows.at(step).error);
    CHECK(without.rows.at(step).error->code == ErrorCode::lost);
    CHECK(without.first_error->sentence().starts_with("step 3 (test hold): what it holds on to is not there any more"));
    CHECK(volume(without) == Approx(20 * 20 * 10 + 3 * 3 * 2));
    const std::string text = job_text(b.job);
    const auto back = job_from_text(text, [](const std::string&) -> Result<std::shared_ptr<const Mesh>> {
        return std::make_shared<const Mesh>(make_box({0, 0, 0}, {1, 1, 1}));
    });
    INFO((back ? "" : back.error().sentence()));
    REQUIRE(back);
    CHECK(std::get<std::vector<Anchor>>(find_step(*back, step).step->values.at("held")) == anchors);
    CHECK(job_text(*back) == text);
}

namespace {

/// What random cases came to.
struct Tally {
    int found = 0, lost = 0, same = 0;
};

/// Whether a face is no higher than the last of the six digits that the real meshes have: which way it looks, and so
/// which region it is in, is chance once its edges are halved.
bool is_needle(const Mesh& mesh, const Element& face) {
    const Vec3 &a = mesh.points[face[0]], &b = mesh.points[face[1]], &c = mesh.points[face[2]];
    return norm(cross(b - a, c - a)) < 1e-5 * std::max({norm(b - a), norm(c - b), norm(a - c)});
}

/// Two real bodies, one cut by the other, something held, and something changed.
void hold_at_random(std::uint32_t seed, const std::vector<std::shared_ptr<const Mesh>>& bodies,
                    std::map<int, Tally>& tallies) {
    INFO("seed " << seed);
    std::mt19937 random(seed);
    auto chance = [&](std::size_t n) { return random() % n; };
    auto share = [&] { return static_cast<double>(random() % 2001) / 1000 - 1; };
    Job job;
    std::vector<std::string> parts;
    for (const char* name : {"base", "cutter", "other"}) {
        const Mesh& mesh = *bodies[chance(bodies.size())];
        const Box box = bounds(mesh);
        const double size = name == std::string("base") ? 20 : 14;
        parts.push_back(
            add(job, name, transformed(mesh, scaling(size / box.diagonal()) * translation(box.center() * -1))));
    }
    const Operation operations[] = {Operation::difference, Operation::union_of, Operation::intersection};
    const std::string cut = add_combining(job, operations[chance(3)], parts[1]),
                      other = add_combining(job, operations[chance(2)], parts[2]);
    move_to(job, cut, {4 * share(), 4 * share(), 4 * share()});
    move_to(job, other, {8 * share(), 8 * share(), 8 * share()});
    set_on(job, other, chance(2) == 0);
    const Origins origins(job);
    const Tagged r = result_of(job);
    if (r.mesh.faces.empty()) return;

    // An edge between two origins, all that hangs together with it; or a face and its region; or some faces of one.
    const ElementKind kind = chance(3) ? ElementKind::edges : ElementKind::faces;
    const bool edges = kind == ElementKind::edges;
    const auto all = edges ? origins_of_edges(origins, job, r) : origins_of_faces(origins, job, r);
    std::vector<Element> possible;
    for (const auto& [e, o] : all)
        if (!edges || o.size() == 2) possible.push_back(e);
    if (possible.empty()) return;
    const Element from = possible[chance(possible.size())];
    const Between wanted = all.at(from);
    const Selection chosen = walk(all, from, kind);
    const auto anchors = anchors_of(chosen, r.mesh, *r.tags);

    Job next = job;
    const int change = static_cast<int>(chance(7));
    const Placement before = find_step(job, cut).step->operand->placement;
    switch (change) {
        case 0: break;
        case 1: move_to(next, cut, before.position + Vec3{share(), share(), share()} * 0.1); break;
        case 2: move_to(next, cut, before.position + Vec3{3 * share(), 3 * share(), 3 * share()}); break;
        case 3: set_on(next, other, !find_step(job, other).step->on); break;
        case 4: set_mesh(next, parts[0], refined(*mesh_of(job, parts[0]), 2, 40000)); break;
        case 5: add_treatment(next, {parts[1]}, "mirror"); break;
        case 6: move_to(next, cut, {100, 0, 0}); break;
    }
    const Tagged now = result_of(next);
    const auto held = held_by(anchors, now.mesh, *now.tags);
    Tally& tally = tallies[change];
    INFO("change " << change << (edges ? ", edges" : ", faces"));
    if (!held) {
        CHECK(held.error().code == ErrorCode::lost);
        CHECK(change != 0);
        ++tally.lost;
        return;
    }
    ++tally.found;
    REQUIRE(!held->empty());
    // What is held lies on or between what it lay on or between.
    const auto all_now = edges ? origins_of_edges(origins, next, now) : origins_of_faces(origins, next, now);
    auto told = [](const Between& between) {
        std::string out;
        for (const auto& [part, region] : between) out += part + ":" + std::to_string(region) + " ";
        return out;
    };
    const bool halved = change == 4;
    for (const Element& e : held->elements)
        if (edges || !halved || !is_needle(now.mesh, e)) REQUIRE(told(all_now.at(e)) == told(wanted));
    if (change == 0) REQUIRE(*held == chosen);
    if (middles(now.mesh, *held) == middles(r.mesh, chosen)) ++tally.same;
    // Of several that could be meant it is the one nearest to where it was.
    const std::vector<Vec3> was = middles(r.mesh, chosen);
    const double own = apart(was, middles(now.mesh, *held));
    std::set<Element> rest;
    for (const auto& [e, o] : all_now)
        if (o == wanted && !held->contains(e)) rest.insert(e);
    while (!rest.empty() && was.size() < 400) {
        const Selection another = walk(all_now, *rest.begin(), kind);
        for (const Element& e : another.elements) rest.erase(e);
        CHECK(own <= apart(was, middles(now.mesh, another)) + 0.5);
    }
}

void hold_at_random(std::uint32_t first, int cases) {
    std::vector<std::shared_ptr<const Mesh>> bodies;
    for (const auto& file : real_meshes()) {
        auto mesh = read_mesh(file);
        if (!mesh || mesh->faces.size() < 20 || mesh->faces.size() > 3000) continue;
        const Mesh body = welded(*mesh);
        if (inspected(body).print_ready) bodies.push_back(std::make_shared<const Mesh>(body));
    }
    REQUIRE(bodies.size() > 10);
    std::map<int, Tally> tallies;
    for (int k = 0; k < cases; ++k) hold_at_random(first + static_cast<std::uint32_t>(k), bodies, tallies);
    std::string table;
    for (const auto& [change, t] : tallies)
        table += "\nchange " + std::to_string(change) + ": " + std::to_string(t.found) + " found, " +
                 std::to_string(t.lost) + " lost, " + std::to_string(t.same) + " in the same places";
    INFO(bodies.size() << " bodies" << table);
    if (cases > 100) WARN(bodies.size() << " bodies" << table);
    CHECK(tallies[0].lost == 0);
    if (cases > 1) CHECK(tallies[1].found > 0);
    if (cases > 100) CHECK(tallies[1].found > 2 * tallies[1].lost);  // of a few, chance decides
}

}  // namespace

TEST_CASE("random anchors on real bodies are found where they were, or lost") {
    const std::uint32_t seed = seed_of_run();
    INFO("first seed " << seed);
    hold_at_random(seed, 60);
}

TEST_CASE("faces held on a body of needles are found when its edges are halved") { hold_at_random(3783068575, 1); }

TEST_CASE("a thousand random anchors on real bodies", "[.long]") { hold_at_random(1, 1000); }
