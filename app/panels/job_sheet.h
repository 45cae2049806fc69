#pragma once

#include <QAbstractListModel>
#include <QWidget>

#include "app/panels/sheet_view.h"

namespace anvil::app {

/// The rows of the job sheet: the base, then the steps in order, then parts that wait on the bench; under each what
/// stands in its own list.
class JobSheetModel : public QAbstractListModel {
    Q_OBJECT
  public:
    enum Role {
        KindRole = Qt::UserRole,
        OperationRole,
        OnRole,
        ChangeRole,
        BelowStopRole,
        FaultRole,
        NoteRole,
        PartRole,
        DepthRole,
        NumberRole,
        VerdictRole,
        MarkRole
    };
    enum Kind { base_row, step_row, idle_row, treatment_row };

    explicit JobSheetModel(JobController& controller, QObject* parent = nullptr);
    int rowCount(const QModelIndex& parent = {}) const override;
    QVariant data(const QModelIndex& index, int role) const override;
    bool setData(const QModelIndex& index, const QVariant& value, int role) override;
    Qt::ItemFlags flags(const QModelIndex& index) const override;
    Qt::DropActions supportedDropActions() const override { return Qt::MoveAction; }
    QStringList mimeTypes() const override { return {"application/x-anvil-row"}; }
    QMimeData* mimeData(const QModelIndexList& indexes) const override;
    bool dropMimeData(const QMimeData* data, Qt::DropAction action, int row, int column,
                      const QModelIndex& parent) override;

    /// -1 where there is none.
    int row_of(const RowId& id) const;
    RowId id_at(int row) const;
    /// The last row that belongs to the first `steps` rows of steps, or to the base where that is 0.
    int last_row_of(std::size_t steps) const;
    /// Puts steps into the list of the step above them, or takes them out of the list that they stand in. Says what was
    /// done, or why not.
    void bundle(const std::vector<RowId>& rows, bool into);

  Q_SIGNALS:
    void said(const QString& text);

  private:
    const Row* row_at(int row) const;
    static bool holds_steps(const Row& row);
    static bool is_named_group(const Row& row);
    QString mark_of(const Row& row) const;
    QVariant treatment_data(const Row& row, int role) const;
    QString change_of(const Row& row, const RowOutcome* done) const;
    void reload();
    void move(const std::vector<RowId>& moved, const RowId& before);
    void move_onto(const std::vector<RowId>& moved, const RowId& onto);
    JobController& controller_;
    int count_ = 0;  // of rows, as the view knows them
};

/// The left panel's upper half: a ruled work order.
class JobSheet : public QWidget {
    Q_OBJECT
  public:
    explicit JobSheet(JobController& controller, QWidget* parent = nullptr);
    /// The rows that were chosen with it stay so, where it is one of them.
    void choose(const RowId& row);
    /// The one whose settings are shown.
    RowId chosen_row() const { return model_->id_at(view_->currentIndex().row()); }
    /// All that are chosen, from the top down.
    std::vector<RowId> chosen_rows() const { return view_->chosen_rows(); }
    JobSheetModel* model() const { return model_; }
    SheetView* view() const { return view_; }

  Q_SIGNALS:
    void hint(const QString& text);
    void chosen(const anvil::RowId& row);

  private:
    JobController& controller_;
    JobSheetModel* model_;
    SheetView* view_;
    std::vector<RowId> selected_;
    bool choosing_ = false;
};

}  // namespace anvil::app
