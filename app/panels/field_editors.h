#pragma once

#include <QWidget>
#include <map>

#include "app/job_controller.h"

namespace anvil::app {

/// One line for each field of a kind: its label, and what sets it. What is seldom set is folded away.
class FieldEditors : public QWidget {
    Q_OBJECT
  public:
    explicit FieldEditors(JobController& controller, QWidget* parent = nullptr);
    /// Shows the values of a kind; null: nothing.
    void show_values(const Kind* kind, const Values& values);
    /// What a field is set by, by its name; null where it has none.
    QWidget* editor(const std::string& field) const;
    /// Sets a field to what a file holds.
    void take_file(const Field& field, const QString& file);
    /// Values with one of them changed; what is usual is left out.
    static Values with(Values values, const Field& field, const Value& value);

  Q_SIGNALS:
    void hint(const QString& text);
    void set(const anvil::Field& field, const anvil::Value& value);  ///< another value than the one shown
    void selection_wanted(const anvil::Field& field);                ///< what that has is to be selected anew
    /// It is to run along an edge that is clicked in the view, or else the line of sight.
    void direction_wanted(const anvil::Field& field, bool by_edge);

  private:
    /// What sets a field, and what shows its value in that.
    struct Editor {
        QWidget* widget = nullptr;
        std::function<void(const Value&)> show{};
        QWidget* label = nullptr;
    };
    void build(const Kind* kind);
    Editor editor_of(const Field& field);
    Editor written(const Field& field);
    Editor suggested(const Field& field);
    Editor typed(const Field& field);
    Editor coordinates(const Field& field);
    Editor chosen(const Field& field);
    Editor selected(const Field& field);
    Editor part_chosen(const Field& field);
    Editor from_file(const Field& field);
    const Value& value_of_field(const Field& field) const;
    void commit(const Field& field, const Value& value);
    void show_again();
    void show(bool all);

    JobController& controller_;
    const Kind* kind_ = nullptr;
    Values values_;
    std::map<std::string, Editor> editors_;
    std::map<std::string, Value> shown_;
};

}  // namespace anvil::app
