#pragma once

#include <QWidget>
#include <functional>

class QLabel;
class QLineEdit;

namespace anvil::app {

/// A strip above the view for what was just put onto a face: how far off it stands.
class FlushStrip : public QWidget {
    Q_OBJECT
  public:
    explicit FlushStrip(QWidget* parent = nullptr);
    /// `put`: puts it there again, so many mm off the face; below 0 into it.
    void ask(const QString& part, std::function<void(double)> put);
    void dismiss();
    /// As the field says.
    void put();
    QLineEdit* field() const { return field_; }

  Q_SIGNALS:
    void hint(const QString& text);

  private:
    QLabel* text_;
    QLineEdit* field_;
    std::function<void(double)> put_;
};

}  // namespace anvil::app
