#include "app/panels/hand_strip.h"

#include <QButtonGroup>
#include <QCheckBox>
#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QToolButton>
#include <QVBoxLayout>

#include "app/panels/parts_of_panels.h"
#include "app/words.h"
#include "core/job/quantity.h"

namespace anvil::app {

HandStrip::HandStrip(HandMode& hand, QWidget* parent) : QWidget(parent), hand_(hand) {
    setObjectName("handStrip");
    setAttribute(Qt::WA_StyledBackground);
    setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Maximum);  // it never makes the window wider
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(10, 6, 10, 6);
    column->setSpacing(4);
    auto* choose = new QHBoxLayout;
    auto* more = new QHBoxLayout;
    auto* use = new QHBoxLayout;
    for (QHBoxLayout* row : {choose, more, use}) {
        row->setSpacing(3);
        column->addLayout(row);
    }
    auto button = [&](QHBoxLayout* row, const QString& name, const QString& text, const QString& tip, auto run) {
        auto* b = buttons_[name] = new QToolButton;
        b->setProperty("choice", true);
        b->setText(text);
        b->setToolTip(tip);
        row->addWidget(b);
        connect(b, &QToolButton::clicked, this, run);
        return b;
    };

    choose->addWidget(section_title(tr("SELECT")));
    auto* kinds = new QButtonGroup(this);
    const std::tuple<const char*, QString, ElementKind> kind_buttons[] = {
        {"faces", tr("faces"), ElementKind::faces},
        {"edges", tr("edges"), ElementKind::edges},
        {"points", tr("points"), ElementKind::points}};
    for (const auto& [name, text, kind] : kind_buttons) {
        auto* b = button(choose, name, text, tr("Select %1; what is selected goes over").arg(text),
                         [this, kind = kind] { hand_.set_kind(kind); });
        b->setCheckable(true);
        kinds->addButton(b);
    }
    choose->addSpacing(8);
    auto* gestures = new QButtonGroup(this);
    const std::tuple<const char*, QString, QString, Gesture> gesture_buttons[] = {
        {"click", tr("click"), tr("Click one at a time; drag to rotate"), Gesture::click},
        {"box", tr("box"), tr("Drag a box round them; rotate with the middle button"), Gesture::box},
        {"lasso", tr("lasso"), tr("Drag a line round them; rotate with the middle button"), Gesture::lasso},
        {"brush", tr("brush"), tr("Paint over them; rotate with the middle button"), Gesture::brush}};
    for (const auto& [name, text, tip, gesture] : gesture_buttons) {
        auto* b = button(choose, name, text, tip + ". " + tr("Shift adds, Ctrl takes away."),
                         [this, gesture = gesture] { hand_.set_gesture(gesture); });
        b->setCheckable(true);
        gestures->addButton(b);
    }
    visible_ = new QCheckBox(tr("visible only"));
    visible_->setToolTip(tr("Box, lasso and brush leave out what the part itself hides"));
    connect(visible_, &QCheckBox::clicked, &hand_, &HandMode::set_visible_only);
    choose->addWidget(visible_);
    choose->addStretch(1);
    count_ = new QLabel;
    count_->setMinimumWidth(96);
    more->addWidget(count_);
    button(more, "connected", tr("connected"), tr("All that hangs together with what is selected"),
           [this] { hand_.connected(); });
    button(more, "region", tr("region"), tr("All up to the creases"), [this] { hand_.region(); });
    button(more, "chain", tr("line"), tr("All edges that go on from the selected ones along creases"),
           [this] { hand_.chain(); });
    button(more, "grow", tr("grow"), tr("One ring of faces more"), [this] { hand_.grow(); });
    button(more, "shrink", tr("shrink"), tr("One ring less"), [this] { hand_.shrink(); });
    button(more, "invert", tr("invert"), tr("What is not selected now"), [this] { hand_.invert(); });
    button(more, "findings", tr("findings"), tr("Select the places of the ledger's line"),
           [this] { Q_EMIT findings_wanted(); });
    button(more, "none", tr("none"), tr("Select nothing"), [this] { hand_.none(); });

    more->addStretch(1);
    use->addWidget(and_edit_ = section_title(tr("AND EDIT")));
    for (int k = 0; k < hand_tools; ++k) {
        const auto tool = static_cast<HandTool>(k);
        const RepairWords words = words_of(tool);
        tools_[tool] = button(use, QString::fromUtf8(word(tool).data()), words.name, words.does,
                              [this, tool] { hand_.use(tool); });
    }
    fill_ = new QComboBox;
    for (const FillStyle style : {FillStyle::smallest, FillStyle::flat, FillStyle::smooth})
        fill_->addItem(words_of(style).name);
    fill_->setAccessibleName(tr("How borders are filled"));
    connect(fill_, &QComboBox::activated, this, [this](int k) { hand_.set_fill(static_cast<FillStyle>(k)); });
    use->addWidget(fill_);
    cell_ = new QLineEdit;
    cell_->setPlaceholderText(tr("cells: as edges"));
    cell_->setFixedWidth(96);
    cell_->setToolTip(tr("The cells of a rebuilt region; empty: half as long as its edges are"));
    cell_->setAccessibleName(tr("Cells of a rebuilt region"));
    connect(cell_, &QLineEdit::editingFinished, this, &HandStrip::commit_cell);
    use->addWidget(cell_);
    use->addStretch(1);
    button(choose, "take", tr("Use these"), tr("The step is used on what is selected now"), [this] {
        hand_.take();
    })->setProperty("strong", true);
    button(choose, "done", tr("Done"), tr("Back to the whole job (Esc in the view)"), [this] { hand_.stop(); });
    connect(&hand_, &HandMode::changed, this, &HandStrip::refresh);
    refresh();
}

void HandStrip::commit_cell() {
    const QString text = cell_->text().trimmed();
    const auto parsed = text.isEmpty() ? Result<double>(0.0) : parse_quantity(text.toStdString(), Unit::millimetre);
    mark_wrong(*cell_, !parsed || *parsed < 0);
    if (parsed && *parsed >= 0) hand_.set_cell(*parsed);
}

void HandStrip::refresh() {
    setVisible(hand_.is_on());
    const char* kinds[] = {"points", "edges", "faces"};
    button(kinds[static_cast<int>(hand_.kind())])->setChecked(true);
    const char* gestures[] = {"click", "box", "lasso", "brush"};
    button(gestures[static_cast<int>(hand_.gesture())])->setChecked(true);
    visible_->setChecked(hand_.visible_only());
    const std::size_t n = hand_.selection().elements.size();
    button("chain")->setVisible(hand_.kind() == ElementKind::edges);
    button("region")->setVisible(hand_.kind() != ElementKind::edges);
    count_->setText(hand_.kind() == ElementKind::points  ? counted(n, tr("point"), tr("points"))
                    : hand_.kind() == ElementKind::edges ? counted(n, tr("edge"), tr("edges"))
                                                         : counted(n, tr("face"), tr("faces")));
    const bool anew = !hand_.chosen_for().empty();  // for a step that is there
    button("take")->setVisible(anew);
    button("take")->setEnabled(n > 0);
    button("done")->setText(anew ? tr("Cancel") : tr("Done"));
    button("done")->setToolTip(anew ? tr("The step stays as it was (Esc in the view)")
                                    : tr("Back to the whole job (Esc in the view)"));
    for (const auto& [tool, b] : tools_) {
        b->setVisible(!anew && elements_of(tool) == hand_.kind());
        b->setEnabled(n > 0);
    }
    and_edit_->setVisible(!anew);
    fill_->setVisible(!anew && hand_.kind() == ElementKind::edges);
    cell_->setVisible(!anew && hand_.kind() == ElementKind::faces);
    for (const char* name : {"connected", "region", "grow", "shrink", "none"}) button(name)->setEnabled(n > 0);
}

}  // namespace anvil::app
