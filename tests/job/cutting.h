#pragma once

#include "tests/job/jobs.h"

namespace anvil::test {

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

}  // namespace anvil::test
