#pragma once

#include <QAbstractListModel>
#include <QWidget>

#include "app/panels/sheet_view.h"
#include "app/row_id.h"

namespace anvil::app {

/// The rows of the job sheet: the base, then the steps in order, then parts that wait on the bench; under each part's
/// first row its mendings.
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
        NumberRole
    };
    enum Kind { base_row, step_row, idle_row, mending_row };

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
    /// That row, or where it has gone the first one of its part.
    RowId nearest(const RowId& id) const;
    /// Index among the steps; -1 for other rows.
    int step_at(int row) const;
    /// The last row that belongs to the first `steps` steps, or to the base where that is 0.
    int last_row_of(std::size_t steps) const;
    /// Puts the step of a row into the bundle of the step above it, or takes it out of its bundle. Returns what was
    /// done or why not, for the hint line.
    QString bundle(int row, bool into);
    void reorder(const std::string& moved, const std::string& before, const QString& name);

  private:
    struct Row {
        Kind kind;
        int step = -1;
        int depth = 0;
        RowId id;
    };
    const Row* row_at(int row) const;
    QVariant mending_data(const Row& row, int role) const;
    void reload();
    JobController& controller_;
    std::vector<Row> rows_;
};

/// The left panel's upper half: a ruled work order.
class JobSheet : public QWidget {
    Q_OBJECT
  public:
    explicit JobSheet(JobController& controller, QWidget* parent = nullptr);
    void choose(const RowId& row);
    RowId chosen_row() const { return model_->id_at(view_->currentIndex().row()); }
    JobSheetModel* model() const { return model_; }
    SheetView* view() const { return view_; }

  Q_SIGNALS:
    void hint(const QString& text);
    void chosen(const anvil::app::RowId& row);

  private:
    JobController& controller_;
    JobSheetModel* model_;
    SheetView* view_;
    bool choosing_ = false;
};

}  // namespace anvil::app
