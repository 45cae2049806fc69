// Numbers that are typed while something is dragged or drawn, and what is told beside the pointer meanwhile.
#include <QKeyEvent>
#include <QPainter>

#include "app/theme.h"
#include "app/view/horizon_dial.h"
#include "app/view/viewport.h"

namespace anvil::app {

bool Viewport::can_type() const {
    if (drag_ == Drag::handle || drag_ == Drag::level) return true;
    return asking_ && asking_->typed &&
           (drag_ == Drag::line || (drag_ == Drag::none && asking_->stroke && !asking_->drawn.empty()));
}

/// What the numbers mean, and their units.
std::pair<QString, std::vector<Unit>> Viewport::typed_as() const {
    const std::vector<Unit> mm{Unit::millimetre}, degrees{Unit::degree};
    if (drag_ == Drag::level) return {tr("moved by x, y"), mm};
    if (drag_ != Drag::handle) return {asking_->typed_label, asking_->typed_units};
    switch (held_.does) {
        case Handle::Does::move: return {tr("moved along %1 by").arg(QString("xyz").mid(held_.axis, 1)), mm};
        case Handle::Does::rotate: return {tr("rotated about %1 by").arg(QString("xyz").mid(held_.axis, 1)), degrees};
        case Handle::Does::scale:
            return {held_.axis == 3 ? tr("longest side") : tr("size along %1").arg(QString("xyz").mid(held_.axis, 1)),
                    mm};
        case Handle::Does::section: return {tr("moved by"), mm};
        default: break;
    }
    if (held_.measure.across != Vec3{}) return {tr("moved by"), mm};
    const Row* row = held_.does == Handle::Does::cut ? row_with_handles() : movable();
    const Part* part = row ? controller_.job().find_part(row->id.part) : nullptr;
    const auto* shape = part ? std::get_if<Shape>(&part->source) : nullptr;
    const Kind* kind = held_.does == Handle::Does::cut && row ? row->kind : shape ? find_shape(shape->kind) : nullptr;
    const Field* field = kind ? kind->find_field(held_.measure.field) : nullptr;
    if (!field) return {{}, mm};
    if (field->type == Field::Type::direction) return {tr("tilted by"), degrees};
    if (field->type == Field::Type::place) return {tr("moved by"), mm};
    return {QString::fromStdString(field->label), field->type == Field::Type::angle ? degrees : mm};
}

/// Keys while something is dragged or drawn: numbers, Enter to take them, Esc to have it all as it was.
bool Viewport::take_typed(const QKeyEvent& event) {
    if (!can_type()) return false;
    const bool handle = drag_ == Drag::handle || drag_ == Drag::level;
    if (event.key() == Qt::Key_Escape && (handle || !typed_.empty())) {
        clear_typed();
        if (handle) restore_dragged();
        update();
        return true;
    }
    if ((event.key() == Qt::Key_Return || event.key() == Qt::Key_Enter) && !typed_.empty()) {
        if (numbers_.empty())
            tell_typed();
        else if (handle)
            end_handle();
        else
            answer_typed();
        return true;
    }
    if (!typed_.take(event)) return false;
    pulled_.reset();
    tell_typed();
    update();
    return true;
}

/// Takes what is typed so far, or says why it cannot be read; of nothing the pointer leads again.
void Viewport::tell_typed() {
    const auto [label, units] = typed_as();
    numbers_.clear();
    typed_trouble_.clear();
    if (!typed_.empty()) {
        const auto numbers = typed_.values(units);
        if (!numbers) {
            typed_trouble_ = QString::fromStdString(numbers.error().sentence());
            Q_EMIT hint(typed_trouble_);
            return;
        }
        numbers_ = *numbers;
    }
    if (drag_ == Drag::handle) drag_handle(last_, false);
    if (drag_ == Drag::level && !numbers_.empty())
        move_chosen({numbers_[0], numbers_.size() > 1 ? numbers_[1] : 0, 0}, true);
}

void Viewport::clear_typed() {
    typed_.clear();
    numbers_.clear();
    typed_trouble_.clear();
}

/// The answer to what is asked, with the numbers.
void Viewport::answer_typed() {
    const std::vector<double> numbers = numbers_;
    const QPointF from = press_, to = last_;
    clear_typed();
    drag_ = Drag::none;
    button_ = Qt::NoButton;
    outline_ = {};
    update();
    std::exchange(asking_, std::nullopt)->typed(from, to, numbers);
}

/// Ends the dragging of a handle, or of the part itself, with what it has come to.
void Viewport::end_handle() {
    take_pull();
    if (drag_ == Drag::level || held_.does != Handle::Does::section) {
        controller_.set_dragging(false);
        controller_.end_merge();
    }
    clear_typed();
    drag_ = Drag::none;
    button_ = Qt::NoButton;
    update_hint(last_);
    update();
}

/// Has all as it was before the handle was taken.
void Viewport::restore_dragged() {
    pulled_.reset();
    if (drag_ == Drag::handle && held_.does == Handle::Does::section) {
        section_->origin = grabbed_;
        refresh();
    } else {
        controller_.take_back_drag();
    }
    end_handle();
    Q_EMIT hint(tr("As it was."));
}

/// Beside the pointer: what is typed, or what the line that is dragged comes to.
void Viewport::draw_typed(QPainter& painter) const {
    QString text;
    if (!typed_.empty()) {
        const auto [label, units] = typed_as();
        const auto number = static_cast<std::size_t>(typed_.text().count(','));
        const QString unit = units[std::min(number, units.size() - 1)] == Unit::degree ? QString("°") : QString(" mm");
        const bool has_unit = !typed_.text().isEmpty() && typed_.text().back().isLetter();
        text = (label.isEmpty() ? QString() : label + ": ") + typed_.text() + "|" + (has_unit ? QString() : unit);
    } else if (asking_ && asking_->shows &&
               (asking_->line ? drag_ == Drag::line : drag_ == Drag::none && !asking_->drawn.empty())) {
        text = asking_->shows(press_, last_, numbers_).said;
    }
    if (text.isEmpty()) return;
    const QRectF around = painter.fontMetrics().boundingRect(text);
    QRectF tag(last_.x() + 18, last_.y() - 40, around.width() + 18, around.height() + 10);
    tag.moveLeft(std::clamp(tag.left(), 4.0, std::max(4.0, width() - tag.width() - 4)));
    tag.moveTop(std::clamp(tag.top(), 4.0, std::max(4.0, height() - tag.height() - 4)));
    if (tag.intersects(QRectF(dial_->geometry()))) tag.moveRight(std::min(last_.x(), double(dial_->x())) - 8);
    painter.setPen(QPen(typed_trouble_.isEmpty() ? colour().petrol : colour().brick, 1.4));
    painter.setBrush(colour().panel);
    painter.drawRoundedRect(tag, 3, 3);
    painter.setPen(colour().ink);
    painter.drawText(tag, Qt::AlignCenter, text);
    painter.setBrush(Qt::NoBrush);
}

}  // namespace anvil::app
