#include "app/panels/find_box.h"

#include <QAction>
#include <QKeyEvent>
#include <QListWidget>

namespace anvil::app {

FindBox::FindBox(QWidget* parent) : QLineEdit(parent) {
    setObjectName("findBox");
    setPlaceholderText(tr("Find a tool  (Ctrl+K)"));
    setAccessibleName(tr("Find a tool"));
    setFixedWidth(150);
    setClearButtonEnabled(true);
    connect(this, &QLineEdit::textChanged, this, &FindBox::refresh);
}

void FindBox::add(QAction* action, const QString& description) { entries_.push_back({action, description}); }

void FindBox::refresh() {
    if (!list_) {
        list_ = new QListWidget(window());
        list_->setObjectName("findList");
        list_->setFocusPolicy(Qt::NoFocus);
        connect(list_, &QListWidget::itemClicked, this, [this](QListWidgetItem* item) { run(list_->row(item)); });
    }
    list_->clear();
    const QStringList words = text().toLower().split(' ', Qt::SkipEmptyParts);
    for (std::size_t i = 0; i < entries_.size(); ++i) {
        const QString hay = (entries_[i].action->text() + " " + entries_[i].description).toLower();
        if (!std::all_of(words.begin(), words.end(), [&](const QString& w) { return hay.contains(w); })) continue;
        const QString key = entries_[i].action->shortcut().toString(QKeySequence::NativeText);
        auto* item = new QListWidgetItem(
            entries_[i].action->icon(),
            entries_[i].action->text() + "  –  " + entries_[i].description + (key.isEmpty() ? "" : "  (" + key + ")"),
            list_);
        item->setData(Qt::UserRole, static_cast<int>(i));
        if (!entries_[i].action->isEnabled()) item->setFlags(item->flags() & ~Qt::ItemIsEnabled);
    }
    if (list_->count() == 0) {
        auto* item = new QListWidgetItem(tr("No tool is called \"%1\".").arg(text().trimmed()), list_);
        item->setFlags(Qt::NoItemFlags);
    }
    const QPoint corner = mapTo(window(), QPoint(width(), height() + 2));
    constexpr int list_width = 430;
    list_->setGeometry(corner.x() - list_width, corner.y(), list_width,
                       std::min(12, std::max(1, list_->count())) * 31 + 6);
    list_->setCurrentRow(0);
    list_->setVisible(hasFocus() && list_->count() > 0);
    list_->raise();
}

void FindBox::run(int row) {
    if (!list_ || row < 0 || row >= list_->count()) return;
    if (!list_->item(row)->data(Qt::UserRole).isValid()) return;  // only says that nothing was found
    QAction* action = entries_[static_cast<std::size_t>(list_->item(row)->data(Qt::UserRole).toInt())].action;
    clear();
    list_->hide();
    clearFocus();
    action->trigger();
}

void FindBox::keyPressEvent(QKeyEvent* event) {
    if (list_ && list_->isVisible()) {
        if (event->key() == Qt::Key_Down || event->key() == Qt::Key_Up) {
            const int by = event->key() == Qt::Key_Down ? 1 : list_->count() - 1;
            list_->setCurrentRow((list_->currentRow() + by) % list_->count());
            return;
        }
        if (event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter) return run(list_->currentRow());
        if (event->key() == Qt::Key_Escape) {
            clear();
            list_->hide();
            clearFocus();
            return;
        }
    }
    QLineEdit::keyPressEvent(event);
}
void FindBox::focusInEvent(QFocusEvent* event) {
    QLineEdit::focusInEvent(event);
    refresh();
}
void FindBox::focusOutEvent(QFocusEvent* event) {
    QLineEdit::focusOutEvent(event);
    if (list_) list_->hide();
    clear();  // called again, it starts anew
}

}  // namespace anvil::app
