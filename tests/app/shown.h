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
        window.open_demo();
        settle();
    }
    std::string part(const std::string& name) const {
        for (const Part& p : const_cast<Shown*>(this)->window.controller().job().parts)
            if (p.name == name) return p.id;
        return {};
    }
    Window* operator->() { return &window; }
    const Job& job() { return window.controller().job(); }
    double volume() { return signed_volume(window.controller().outcome()->evaluation->combined->mesh); }
    Vec3 position(const std::string& id) { return job().find_part(id)->placement.position; }
    void drag(const QPoint& from, const QPoint& to, Qt::MouseButton button = Qt::LeftButton) {
        Viewport* v = window.viewport();
        QTest::mouseMove(v, from);
        QTest::mousePress(v, button, {}, from);
        for (int k = 1; k <= 8; ++k) QTest::mouseMove(v, from + (to - from) * k / 8);
        QTest::mouseRelease(v, button, {}, to);
        settle();
    }
    void key(Qt::Key k) {
        window.viewport()->setFocus();
        QTest::keyClick(window.viewport(), k);
        settle();
    }
};

}  // namespace anvil::test
