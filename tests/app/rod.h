#pragma once

#include "core/mesh/measures.h"
#include "tests/app/shown.h"

namespace anvil::test {

using Names = std::vector<std::string>;

/// A rod that a saw cuts through, and a knob where its short end was.
struct Rod : Shown {
    std::string rod, saw, knob, cut, join;
    Rod() {
        Job job;
        auto part = [&](const char* name, Vec3 low, Vec3 high) {
            return add_part(job, name, std::make_shared<const Mesh>(make_box(low, high)));
        };
        rod = part("rod", {0, 0, 0}, {10, 1, 1});
        saw = part("saw", {6, -1, -1}, {7, 2, 2});
        knob = part("knob", {9, 0, 0}, {11, 1, 1});
        cut = add_combining(job, Operation::difference, saw);
        join = add_combining(job, Operation::union_of, knob);
        open(std::move(job));
    }
    void open(Job job) {
        window.controller().open(std::move(job), {});
        settle();
    }
    JobSheetModel* model() { return window.job_sheet()->model(); }
    QString data(int row, int role) { return model()->index(row).data(role).toString(); }
    Names names() {
        Names out;
        for (const Row& row : window.controller().rows())
            out.push_back(std::string(static_cast<std::size_t>(2 * row.depth), ' ') + name_of(job(), row));
        return out;
    }
    void drop(std::initializer_list<int> rows, int gap) {
        QModelIndexList list;
        for (const int row : rows) list << model()->index(row);
        std::unique_ptr<QMimeData> mime(model()->mimeData(list));
        model()->dropMimeData(mime.get(), Qt::MoveAction, gap, 0, {});
        settle();
    }
    void drop_onto(std::initializer_list<int> rows, int onto) {
        QModelIndexList list;
        for (const int row : rows) list << model()->index(row);
        std::unique_ptr<QMimeData> mime(model()->mimeData(list));
        model()->dropMimeData(mime.get(), Qt::MoveAction, -1, -1, model()->index(onto));
        settle();
    }
    void click(int row, Qt::KeyboardModifiers keys = {}) {
        QListView* view = window.job_sheet()->view();
        QTest::mouseClick(view->viewport(), Qt::LeftButton, keys,
                          view->visualRect(model()->index(row)).center() - QPoint(60, 0));
        settle();
    }
};

}  // namespace anvil::test
