#include "app/panels/side_panel.h"

#include <QEvent>
#include <QHBoxLayout>

namespace anvil::app {
namespace {

/// As high as there is room, and no lower than its content can be: a layout would ask for the height that is liked
/// best.
class Holder : public QWidget {
  public:
    explicit Holder(QWidget* content) : content_(content) {
        content_->setParent(this);
        content_->installEventFilter(this);
    }
    QSize minimumSizeHint() const override { return {0, content_->minimumSizeHint().height()}; }
    QSize sizeHint() const override { return minimumSizeHint(); }

  protected:
    void resizeEvent(QResizeEvent*) override { content_->setGeometry(rect()); }
    bool eventFilter(QObject* object, QEvent* event) override {
        if (event->type() == QEvent::LayoutRequest) updateGeometry();
        return QWidget::eventFilter(object, event);
    }

  private:
    QWidget* content_;
};

}  // namespace

SidePanel::SidePanel(QWidget* content, int width, Side side, const QString& name, QWidget* parent)
    : QWidget(parent), area_(new QScrollArea), bar_(new QToolButton), width_(width), side_(side), name_(name) {
    area_->setFrameShape(QFrame::NoFrame);
    area_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    area_->setWidgetResizable(true);
    area_->setFocusPolicy(Qt::NoFocus);
    area_->setWidget(new Holder(content));
    area_->setFixedWidth(width_);
    bar_->setObjectName("foldBar");
    bar_->setFixedWidth(bar_width);
    bar_->setSizePolicy(QSizePolicy::Fixed, QSizePolicy::Expanding);
    bar_->setFocusPolicy(Qt::TabFocus);
    connect(bar_, &QToolButton::clicked, this, [this] { fold(!is_folded()); });
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(0);
    if (side_ == Side::left) row->addWidget(area_);
    row->addWidget(bar_);
    if (side_ == Side::right) row->addWidget(area_);
    setSizePolicy(QSizePolicy::Fixed, QSizePolicy::Expanding);
    fold(false);
}

void SidePanel::fold(bool on) {
    area_->setVisible(!on);
    bar_->setArrowType(on == (side_ == Side::left) ? Qt::RightArrow : Qt::LeftArrow);
    const QString does = on ? tr("Unfold the %1").arg(name_) : tr("Fold the %1 to its edge").arg(name_);
    bar_->setToolTip(does);
    bar_->setAccessibleName(does);
}

}  // namespace anvil::app
