#pragma once

#include <QApplication>
#include <QCheckBox>
#include <QComboBox>
#include <QDir>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QMessageBox>
#include <QMimeData>
#include <QProcess>
#include <QProgressBar>
#include <QPushButton>
#include <QStandardPaths>
#include <QTest>
#include <QToolButton>
#include <QWheelEvent>
#include "app/panels/find_box.h"
#include "app/panels/hint_line.h"
#include "app/panels/job_sheet.h"
#include "app/panels/ledger.h"
#include "app/panels/step_panel.h"
#include "app/panels/unit_strip.h"
#include "app/shots.h"
#include "app/theme.h"
#include "app/view/viewport.h"
#include "app/window.h"
#include "core/io/mesh_file.h"
#include "core/job/job_file.h"
#include "demo/lantern.h"
#include "tests/support/support.h"

namespace anvil::test {

using namespace anvil::app;

inline QString q(const std::filesystem::path& p) { return QString::fromStdString(p.string()); }

inline std::vector<Row> combining(const Job& job) {
    std::vector<Row> out = rows_of(job);
    std::erase_if(out, [](const Row& row) { return row.idle || !row.combines(); });
    return out;
}

inline Job saved_job(const std::filesystem::path& file) {
    Progress progress;
    auto job = read_job(file, progress);
    REQUIRE(job);
    return std::move(*job);
}

/// A shown, active window that never asks whether to save.
struct Shown {
    Window window;
    Shown() {
        window.show();
        window.activateWindow();
        (void)QTest::qWaitForWindowActive(&window, 2000);
        settle();
    }
    ~Shown() { window.controller().stop(); }
    void settle() { REQUIRE(wait_until_idle(window, 60)); }
    void demo() {
        window.controller().open(demo::lantern_job(), {});
        window.viewport()->frame_when_ready();
        settle();
    }
    /// Of the part with the mesh.
    std::string part(const std::string& name) {
        for (const auto& p : job().parts)
            if (p->name == name && std::holds_alternative<StoredMesh>(p->source)) return p->id;
        return {};
    }
    Window* operator->() { return &window; }
    const Job& job() { return window.controller().job(); }
    std::string base() { return base_of(job()); }
    std::string name_of_part(const std::string& id) { return job().find_part(id)->name; }
    /// The rows of the steps that combine, from the top down, also within lists of operands.
    std::vector<Row> steps() { return combining(job()); }
    std::vector<std::shared_ptr<const Mesh>> meshes() {
        std::vector<std::shared_ptr<const Mesh>> out;
        for (const auto& p : job().parts)
            if (const auto* stored = std::get_if<StoredMesh>(&p->source)) out.push_back(stored->mesh);
        return out;
    }
    /// What is in the list of the base's part.
    const Steps& mendings() { return job().find_part(base())->steps; }
    Row row_of_part(const std::string& id) {
        return *window.controller().row(nearest_row(window.controller().rows(), {id, {}}));
    }
    void place(const std::string& id, const std::function<void(Placement&)>& edit) {
        const Row row = row_of_part(id);
        Placement placement = row.placement();
        edit(placement);
        Job next = job();
        set_placement(next, row.id, placement);
        window.controller().change(std::move(next), "move");
    }
    /// Switches the k-th step that combines on or off.
    Job switched(std::size_t k) {
        Job next = job();
        edit_step(next, steps()[k].step->id, [](Step& s) { s.on = !s.on; });
        return next;
    }
    /// Puts a sheet through the middle of the base, as a part that splits it, and selects it.
    void split_by_sheet() {
        Job next = job();
        const Box box = bounds(window.controller().outcome()->result.mesh ? *window.controller().outcome()->result.mesh
                                                                          : *meshes().front());
        const std::string sheet =
            add_part(next, "plane", StoredMesh{std::make_shared<const Mesh>(make_plate({0, 0, 0}, 200, 200))},
                     {box.center(), {}});
        add_combining(next, Operation::split, sheet);
        window.controller().change(std::move(next), "split by a plane");
        window.choose_part(sheet);
        settle();
    }
    double volume() { return signed_volume(window.controller().outcome()->evaluation->combined->mesh); }
    Vec3 position(const std::string& id) { return row_of_part(id).placement().position; }
    void drag(const QPoint& from, const QPoint& to, Qt::MouseButton button = Qt::LeftButton) {
        Viewport* v = window.viewport();
        QTest::mouseMove(v, from);
        QTest::mousePress(v, button, {}, from);
        for (int k = 1; k <= 8; ++k) QTest::mouseMove(v, from + (to - from) * k / 8);
        QTest::mouseRelease(v, button, {}, to);
        settle();
    }
    /// From there, at everything.
    void look(double turn, double tilt) {
        Camera c = window.viewport()->camera();
        c.turn = turn;
        c.tilt = tilt;
        window.viewport()->set_camera(c);
        window.viewport()->frame_all();
        settle();
    }
    void key(Qt::Key k) {
        window.viewport()->setFocus();
        QTest::keyClick(window.viewport(), k);
        settle();
    }
};

}  // namespace anvil::test
