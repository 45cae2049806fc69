#pragma once

#include <QLineEdit>

class QAction;
class QListWidget;

namespace anvil::app {

/// Finds tools by name and by plain description, and runs the chosen one.
class FindBox : public QLineEdit {
    Q_OBJECT
  public:
    explicit FindBox(QWidget* parent = nullptr);
    /// `description`: other words for it, for finding only and as the line's second half.
    void add(QAction* action, const QString& description);

  protected:
    void keyPressEvent(QKeyEvent*) override;
    void focusInEvent(QFocusEvent*) override;
    void focusOutEvent(QFocusEvent*) override;

  private:
    void refresh();
    void run(int row);
    struct Entry {
        QAction* action;
        QString description;
    };
    std::vector<Entry> entries_;
    QListWidget* list_ = nullptr;
};

}  // namespace anvil::app
