#pragma once

#include "core/job/anchors.h"
#include "core/mesh/chain.h"
#include "core/mesh/weld.h"
#include "core/shape/shapes.h"
#include "tests/job/jobs.h"

namespace anvil::test {

inline Mesh round_bar(double diameter, double height, int around) {
    auto made = cylinder_shape({.diameter = diameter, .height = height, .facets = {.around = around}});
    REQUIRE(made);
    return std::move(made->mesh);
}

/// Each face in n x n.
inline Mesh in_smaller_faces(const Mesh& mesh, int n) {
    Mesh out;
    for (const FaceId f : ids<FaceId>(mesh.faces.size())) {
        auto at = [&](int i, int j) {
            // Of whole numbers, so that the points of neighbours are the same.
            const Vec3 p = mesh.corner(f, 0) * (n - i - j) + mesh.corner(f, 1) * i + mesh.corner(f, 2) * j;
            return p * (1.0 / n);
        };
        auto add = [&](const Vec3& a, const Vec3& b, const Vec3& c) {
            const auto first = static_cast<std::uint32_t>(out.points.size());
            for (const Vec3& p : {a, b, c}) out.points.push_back(p);
            out.faces.push_back({VertexId(first), VertexId(first + 1), VertexId(first + 2)});
        };
        for (int i = 0; i < n; ++i)
            for (int j = 0; i + j < n; ++j) {
                add(at(i, j), at(i + 1, j), at(i, j + 1));
                if (i + j + 1 < n) add(at(i + 1, j), at(i + 1, j + 1), at(i, j + 1));
            }
    }
    return welded(out);
}

/// A body with one cut, and more.
struct Cutting {
    Job job;
    std::string body, step;
    Evaluator evaluator;
    explicit Cutting(Mesh mesh) { body = add(job, "body", std::move(mesh)); }
    Cutting& cut(const char* kind, Values values) {
        step = add_treatment(job, {job.work()}, kind, std::move(values));
        return *this;
    }
    Cutting& set(const char* field, Value value) {
        edit_step(job, step, [&](Step& s) { s.values[field] = std::move(value); });
        return *this;
    }
    Evaluation done() { return test::evaluated(evaluator, job); }
    Evaluation sound() {
        Evaluation e = done();
        INFO((e.first_error ? e.first_error->sentence() : ""));
        REQUIRE(!e.first_error);
        for (std::size_t k = 0; k < e.combined->pieces(); ++k) CHECK(inspected(e.combined->piece(k)).print_ready);
        return e;
    }
    std::string trouble() {
        const Evaluation e = done();
        CHECK(volume(e) == signed_volume(*mesh_of(job, body)));  // nothing is lost
        return e.first_error ? e.first_error->text : "";
    }
};

/// A body, and a step that holds on to some of it.
struct Holding {
    Job job;
    std::string step;
    Evaluator evaluator;
    Mesh mesh;
    double whole;
    explicit Holding(Mesh body) : mesh(welded(body)), whole(signed_volume(body)) { add(job, "body", std::move(body)); }

    std::vector<Anchor> hold(ElementKind kind, const std::function<bool(const Element&)>& chosen) {
        Selection selection{kind, all_elements(mesh, kind)};
        std::erase_if(selection.elements, [&](const Element& e) { return !chosen(e); });
        std::ranges::sort(selection.elements);
        const Evaluation e = test::evaluated(evaluator, job);
        return anchors_of(selection, mesh, *tags_of(*e.lineages.at(job.work())));
    }
    const Vec3& at(VertexId v) const { return mesh.points[v]; }
    /// The edges all of whose ends are there, and at which the surface turns.
    std::vector<Anchor> edges(const std::function<bool(const Vec3&)>& there) {
        const Selection creases = creases_of(mesh, 10);
        return hold(ElementKind::edges,
                    [&](const Element& e) { return there(at(e[0])) && there(at(e[1])) && creases.contains(e); });
    }
    std::vector<Anchor> faces(const std::function<bool(const Vec3&)>& there) {
        return hold(ElementKind::faces,
                    [&](const Element& e) { return there(at(e[0])) && there(at(e[1])) && there(at(e[2])); });
    }
    Holding& cut(const char* kind, Values values) {
        step = add_treatment(job, {job.work()}, kind, std::move(values));
        return *this;
    }
    Holding& set(const char* field, Value value) {
        edit_step(job, step, [&](Step& s) { s.values[field] = std::move(value); });
        return *this;
    }
    Evaluation sound() {
        Evaluation e = test::evaluated(evaluator, job);
        INFO((e.first_error ? e.first_error->sentence() : ""));
        REQUIRE(!e.first_error);
        for (std::size_t k = 0; k < e.combined->pieces(); ++k) CHECK(inspected(e.combined->piece(k)).print_ready);
        return e;
    }
    double taken() { return whole - volume(sound()); }
    std::string trouble() {
        const Evaluation e = test::evaluated(evaluator, job);
        CHECK(volume(e) == whole);
        return e.first_error ? e.first_error->text : "";
    }
};

}  // namespace anvil::test
