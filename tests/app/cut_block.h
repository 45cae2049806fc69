#pragma once

#include "app/panels/field_panel.h"
#include "app/panels/hand_strip.h"
#include "app/view/hand_mode.h"
#include "tests/app/shown.h"

namespace anvil::test {

/// A block of 40 x 30 x 20 on the bed, seen from the front.
struct CutBlock {
    TempFolder folder;
    Shown w;
    explicit CutBlock(Mesh mesh = make_box({-20, -15, 0}, {20, 15, 20})) {
        REQUIRE(write_mesh(mesh, folder / "block.ply"));
        w->open_files({q(folder / "block.ply")});
        w.settle();
        w.look(0, 0);
        w->choose({});
        w.settle();
    }
    Viewport* view() { return w->viewport(); }
    QString hint() { return w->hint_line()->text(); }
    QPoint at(const Vec3& place) { return view()->pixel_of(place).toPoint(); }
    void start(const char* tool) {
        w->action(tool)->trigger();
        w.settle();
    }
    void click(const Vec3& place) {
        QTest::mouseClick(view(), Qt::LeftButton, {}, at(place));
        w.settle();
    }
    const Row* cut() {
        for (const Row& row : w->controller().rows())
            if (row.cuts()) last_ = row;
        return last_ ? &*last_ : nullptr;
    }
    std::size_t cuts() {
        return static_cast<std::size_t>(
            std::ranges::count_if(w->controller().rows(), [](const Row& row) { return row.cuts(); }));
    }
    /// What is selected is taken.
    void use() {
        for (auto* button : w->hand_strip()->findChildren<QAbstractButton*>())
            if (button->text() == "Use these") button->click();
        w.settle();
    }
    void press(const char* field, const char* button) {
        for (auto* b : w->field_panel()->editor(field)->findChildren<QAbstractButton*>())
            if (b->text() == button) b->click();
        w.settle();
    }
    template <class T>
    T value(const char* field) {
        const Row* row = cut();
        REQUIRE(row);
        return value_of<T>(*row->kind, row->step->values, field);
    }
    /// Of the first cut.
    template <class T>
    T value_of_first(const char* field) {
        for (const Row& row : w->controller().rows())
            if (row.cuts()) return value_of<T>(*row.kind, row.step->values, field);
        return {};
    }
    std::size_t pieces() { return w->controller().outcome()->evaluation->combined->pieces(); }
    void type(QLineEdit* edit, const char* text) {
        edit->setFocus();
        edit->selectAll();
        QTest::keyClicks(edit, text);
        QTest::keyClick(edit, Qt::Key_Return);
        w.settle();
    }
    QLineEdit* line(const char* field, int k = 0) {
        QWidget* editor = w->field_panel()->editor(field);
        REQUIRE(editor);
        if (auto* edit = qobject_cast<QLineEdit*>(editor)) return edit;
        return editor->findChildren<QLineEdit*>().at(k);
    }

  private:
    std::optional<Row> last_;
};

}  // namespace anvil::test
