#pragma once

#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QStyle>
#include <QToolButton>
#include <cmath>

#include "core/job/quantity.h"

namespace anvil::app {

/// Numbers for a narrow field: as they were typed, and of those that were worked out two decimals.
inline QString narrow(double value, Unit unit) {
    const double thousandths = value * 1000;
    const bool typed = std::fabs(thousandths - std::round(thousandths)) < 1e-6 || std::fabs(value) < 0.1;
    return QString::fromStdString(format_quantity(typed ? value : std::round(value * 100) / 100, unit));
}

/// A heading within a panel.
inline QLabel* section_title(const QString& text) {
    auto* label = new QLabel(text);
    label->setObjectName("sectionTitle");
    return label;
}

/// What a panel is about.
inline QLabel* bold_label() {
    auto* label = new QLabel;
    QFont bold = label->font();
    bold.setBold(true);
    label->setFont(bold);
    return label;
}

/// One of several side by side, one of which is down.
inline QToolButton* choice_button(const QString& name, const QString& does = {}) {
    auto* button = new QToolButton;
    button->setProperty("choice", true);
    button->setCheckable(true);
    button->setText(name);
    button->setToolTip(does);
    button->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    return button;
}

/// Lays a strip above the view out as one row that begins with its text.
inline QHBoxLayout* strip_row(QWidget& strip, QLabel* text) {
    strip.setAttribute(Qt::WA_StyledBackground);
    strip.setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Maximum);  // it never makes the window wider
    auto* row = new QHBoxLayout(&strip);
    row->setContentsMargins(12, 6, 12, 6);
    row->setSpacing(8);
    text->setWordWrap(true);
    row->addWidget(text, 1);
    return row;
}

/// Adds an answer to a strip's row.
inline QPushButton* strip_button(QHBoxLayout& row, const QString& name, const QString& does) {
    auto* button = new QPushButton(name);
    button->setToolTip(does);
    row.addWidget(button);
    return button;
}

/// Marks a field whose text cannot be read, or takes the mark off.
inline void mark_wrong(QLineEdit& field, bool wrong) {
    field.setProperty("wrong", wrong);
    field.style()->unpolish(&field);
    field.style()->polish(&field);
}

}  // namespace anvil::app
