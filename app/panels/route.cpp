#include "app/panels/route.h"

#include <QAction>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QMenu>
#include <QMouseEvent>
#include <QToolButton>

#include "app/panels/drawer.h"
#include "app/theme.h"

namespace anvil::app {

Route::Route(QWidget* parent) : QWidget(parent), row_(new QHBoxLayout(this)), drawer_(new Drawer) {
    setObjectName("route");
    setAttribute(Qt::WA_StyledBackground);
    row_->setContentsMargins(8, 4, 12, 4);
    row_->setSpacing(2);
    row_->addStretch(1);
    connect(drawer_, &Drawer::used, this, [this] {
        if (!drawer_->is_pinned()) close();
    });
    connect(drawer_, &Drawer::pinned, this, [this] { place_drawer(); });
}

void Route::add_station(Station station) {
    const int k = static_cast<int>(stations_.size());
    auto* button = new QToolButton;
    button->setObjectName("station");
    button->setText(station.name);
    button->setIcon(icon(station.icon));
    button->setIconSize({24, 24});
    button->setToolButtonStyle(Qt::ToolButtonTextUnderIcon);
    button->setFocusPolicy(Qt::TabFocus);
    button->setCheckable(true);
    button->setShortcut(QKeySequence(QString("Alt+%1").arg(k + 1)));
    button->setToolTip(QString("%1  (%2)").arg(station.says, button->shortcut().toString(QKeySequence::NativeText)));
    button->setAccessibleName(station.name);
    connect(button, &QToolButton::clicked, this, [this, k] { open_ == k ? close() : open(k); });
    row_->insertWidget(k, button);
    buttons_.push_back(button);
    stations_.push_back(std::move(station));
}

void Route::add_at_hand(const QList<QAction*>& tools) {
    auto* rule = new QWidget;
    rule->setObjectName("groupRule");
    rule->setAttribute(Qt::WA_StyledBackground);
    rule->setFixedWidth(1);
    row_->addWidget(rule);
    for (QAction* tool : tools) {
        auto* button = new QToolButton;
        button->setDefaultAction(tool);
        button->setIconSize({20, 20});
        button->setToolButtonStyle(Qt::ToolButtonTextUnderIcon);
        button->setFocusPolicy(Qt::TabFocus);
        // What can be switched by itself has its menu at its side.
        if (tool->menu())
            button->setPopupMode(tool->isCheckable() ? QToolButton::MenuButtonPopup : QToolButton::InstantPopup);
        row_->addWidget(button);
        at_hand_.push_back(button);
    }
}

void Route::add_end(QWidget* widget) {
    row_->addSpacing(6);
    row_->addWidget(end_ = widget);
}

void Route::set_place_of_pinned(QBoxLayout* column, int at) {
    pinned_in_ = column;
    pinned_at_ = at;
}

QToolButton* Route::station_button(const QString& name) const {
    for (QToolButton* button : buttons_)
        if (button->text() == name) return button;
    return nullptr;
}

void Route::open(int station) {
    open_ = station;
    for (std::size_t k = 0; k < buttons_.size(); ++k) buttons_[k]->setChecked(static_cast<int>(k) == open_);
    if (open_ < 0) {
        drawer_->hide();
        return;
    }
    drawer_->show_station(stations_[static_cast<std::size_t>(station)]);
    place_drawer();
    for (Tile* tile : drawer_->tiles())
        if (tile->isEnabled()) {
            tile->setFocus(Qt::OtherFocusReason);
            break;
        }
}
void Route::close() { open(-1); }

/// Over what lies under the row, or, while it is pinned, above it.
void Route::place_drawer() {
    if (open_ < 0 || !parentWidget()) return;
    if (drawer_->is_pinned() && pinned_in_) {
        if (pinned_in_->indexOf(drawer_) < 0) pinned_in_->insertWidget(pinned_at_, drawer_);
    } else {
        if (pinned_in_) pinned_in_->removeWidget(drawer_);
        drawer_->setParent(parentWidget());
        const int width = parentWidget()->width();
        drawer_->setGeometry(0, geometry().bottom() + 1, width, drawer_->height_for(width));
        drawer_->raise();
    }
    drawer_->show();
}

bool Route::take_event(QObject* object, QEvent* event) {
    if (open_ < 0 || drawer_->is_pinned()) return false;
    auto* widget = qobject_cast<QWidget*>(object);
    if (!widget || widget->window() != window()) return false;
    if (event->type() == QEvent::KeyPress && static_cast<QKeyEvent*>(event)->key() == Qt::Key_Escape) {
        close();
        return true;
    }
    if (event->type() == QEvent::MouseButtonPress && widget != drawer_ && !drawer_->isAncestorOf(widget) &&
        std::ranges::find(buttons_, widget) == buttons_.end())
        close();
    return false;
}

QSize Route::minimumSizeHint() const {
    constexpr int button = 42, ends = 40;
    const int buttons = static_cast<int>(buttons_.size() + at_hand_.size()) * button;
    return {buttons + (end_ ? end_->minimumSizeHint().width() : 0) + ends, QWidget::minimumSizeHint().height()};
}

void Route::show_words(bool on) {
    const auto style = on ? Qt::ToolButtonTextUnderIcon : Qt::ToolButtonIconOnly;
    for (auto* list : {&buttons_, &at_hand_})
        for (QToolButton* button : *list)
            if (button->toolButtonStyle() != style) button->setToolButtonStyle(style);
}

/// Words go where there is no room for them; icons stay.
void Route::fit() {
    show_words(true);
    row_->invalidate();
    if (row_->totalMinimumSize().width() > width()) show_words(false);
}

void Route::resizeEvent(QResizeEvent* event) {
    QWidget::resizeEvent(event);
    fit();
    if (!drawer_->is_pinned()) place_drawer();
}

void Route::changeEvent(QEvent* event) {
    QWidget::changeEvent(event);
    if (event->type() == QEvent::FontChange) fit();
}

}  // namespace anvil::app
