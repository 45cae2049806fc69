#pragma once

#include <QLabel>
#include <QLineEdit>
#include <QStyle>

namespace anvil::app {

/// A heading within a panel.
inline QLabel* section_title(const QString& text) {
    auto* label = new QLabel(text);
    label->setObjectName("sectionTitle");
    return label;
}

/// Marks a field whose text cannot be read, or takes the mark off.
inline void mark_wrong(QLineEdit& field, bool wrong) {
    field.setProperty("wrong", wrong);
    field.style()->unpolish(&field);
    field.style()->polish(&field);
}

}  // namespace anvil::app
