#pragma once

#include <map>
#include <memory>
#include <optional>
#include <span>
#include <string>
#include <vector>

#include "core/combine/operation.h"
#include "core/combine/settle.h"
#include "core/inspect/accepted.h"
#include "core/mend/questions.h"
#include "core/mesh/placement.h"

namespace anvil {

/// What a job file says that this version does not know, as JSON: it is written back as it came. Empty for nothing.
using Extra = std::string;

/// Repairs that a part gets before any step sees it; a row of its own in the job sheet.
struct Mending {
    std::string id;
    bool on = true;
    std::vector<Repair> repairs{};  ///< in the order of the plan
    std::vector<HandEdit> edits{};  ///< by hand; where there are any, there are no repairs
    MendOptions options{};          ///< in the part's own coordinates; precision and contact rule are the job's
    std::vector<Question::About> answered{};        ///< what is decided, and not asked again
    std::vector<std::string> answered_elsewhere{};  ///< the same of questions that this version does not know
    Extra extra{};

    /// Every repair, on all of the part.
    bool is_whole_plan() const { return repairs.size() == whole_plan().size() && options.places.empty(); }
};

/// A mesh in the job. Meshes are never changed, only replaced, so copies of a job share them.
struct Part {
    std::string id, name;
    std::shared_ptr<const Mesh> mesh;  ///< as it came, before its mendings
    Placement placement;
    Extra extra;
    std::vector<Mending> mendings{};  ///< each on what the one before left
    /// Where it is open and encloses nothing: the steps take it with every border filled, not as a sheet.
    bool closes_sheets = false;

    const Mending* find_mending(std::string_view mending) const;
    Mending* find_mending(std::string_view mending);

    Mesh placed() const { return transformed(*mesh, placement.transform()); }
};

/// One operation in the job sheet.
struct Step {
    std::string id;
    Operation operation = Operation::union_of;
    std::string part;  ///< id of the operand
    bool on = true;
    int depth = 0;  ///< in how many bundles it lies; see bundles.h
    Extra extra;
};

/// What the numbers of a file that names no unit are meant in.
enum class ImportUnit { millimetre, inch, metre };
inline constexpr ImportUnit import_units[] = {ImportUnit::millimetre, ImportUnit::inch, ImportUnit::metre};
/// "mm", "in", "m": as job files have it.
std::string_view word(ImportUnit unit);
std::optional<ImportUnit> import_unit_from(std::string_view word);

/// What holds for the job as a whole.
struct JobSettings {
    std::optional<ImportUnit> import_unit;  ///< the answer, so that it is asked for once
    ContactRule contact = ContactRule::separate;
    bool merge_flush = false;  ///< flush faces side by side become one flat region
    /// From where on things are told, by the names of `InspectOptions`, where that is not the usual for the mesh.
    std::map<std::string, double, std::less<>> told_from{};
    /// Findings that may stay: by the id of a part, as it is before it is placed; of the result under "".
    std::map<std::string, std::vector<AcceptedFinding>, std::less<>> accepted{};
    /// Beside them, those of kinds that this version does not know: lists, by part.
    std::map<std::string, Extra, std::less<>> accepted_extra{};
    Extra extra{};
    bool operator==(const JobSettings&) const = default;
};
/// Whether `name` is a threshold of `InspectOptions`.
bool is_threshold(std::string_view name);

/// The saved document: parts, the base among them, and an ordered list of steps.
struct Job {
    std::string base;  ///< id of the part that the steps start from; empty in an empty job
    std::vector<Part> parts;
    std::vector<Step> steps;
    JobSettings settings;
    Extra extra;

    const Part* find_part(std::string_view id) const;
    Part* find_part(std::string_view id);
    /// Parts that are neither the base nor any step's operand.
    std::vector<const Part*> idle_parts() const;
    /// Adds a part with an unused id; the first one becomes the base. Returns its id.
    std::string add_part(std::string name, std::shared_ptr<const Mesh> mesh);
    /// Adds a step with an unused id. Returns its index.
    std::size_t add_step(Operation operation, std::string part);
    /// Adds a mending to a part, with an id that no mending has. Returns the id.
    /// Precondition: the part is there.
    std::string add_mending(const std::string& part, std::span<const Repair> repairs, MendOptions options = {});
    /// Adds an edit by hand to a part: to its last mending where that holds edits and is on, else in a mending of its
    /// own. Returns the mending's id. Precondition: the part is there.
    std::string add_edit(const std::string& part, HandEdit edit);
    /// Takes the steps out of which a part is the operand, with their bundles.
    void remove_steps_of(const std::string& part);
    /// Takes a part out, and its steps with it. Where it was the base, the first remaining idle part, else the
    /// first operand, becomes the base.
    void remove_part(const std::string& id);
};

/// Millimetres that one unit is long.
double millimetres(ImportUnit unit);
/// Size in mm of the box around the named parts, as meshes without their placement, if their numbers were meant in
/// `unit`.
Vec3 size_as(const Job& job, std::span<const std::string> parts, ImportUnit unit);
/// Takes the numbers of the named parts, read as millimetres so far, as meant in `unit`, and keeps that as the answer.
void read_as(Job& job, std::span<const std::string> parts, ImportUnit unit);

/// From where on things are told in this job: what its settings say under "told_from", else the usual for the mesh.
InspectOptions inspect_options(const JobSettings& settings, const Mesh& mesh);
/// Sets a threshold, by its name as `InspectOptions` has it: "thin_below" and so on. Precondition: it is one.
void set_threshold(JobSettings& settings, std::string_view name, double value);
/// How the job's result is to be settled, by its settings.
SettleOptions settle_options(const JobSettings& settings, Precision precision = Precision::double_precision);

/// Undo and redo by keeping whole jobs: cheap, since they share their meshes.
class History {
  public:
    explicit History(Job job = {}) : current_(std::move(job)) {}

    const Job& job() const { return current_; }
    /// Makes `next` the present job. `name` is what the menu says: "move bore". Changes of the same non-empty `merge`
    /// key in a row become one, as while dragging.
    void change(Job next, std::string name, std::string merge = {});
    /// Ends a row of merging changes: the next one starts a new entry.
    void end_merge() { merge_.clear(); }

    bool can_undo() const { return !undo_.empty(); }
    bool can_redo() const { return !redo_.empty(); }
    std::string undo_name() const { return undo_.empty() ? "" : undo_.back().name; }
    std::string redo_name() const { return redo_.empty() ? "" : redo_.back().name; }
    void undo();
    void redo();

    /// Whether anything changed since `mark_saved`.
    bool is_changed() const { return saved_ != serial_; }
    void mark_saved() { saved_ = serial_; }

  private:
    struct Entry {
        std::string name;
        Job job;
        std::size_t serial;
    };
    Job current_;
    std::vector<Entry> undo_, redo_;
    std::string merge_;
    std::size_t serial_ = 0, saved_ = 0, last_serial_ = 0;
};

}  // namespace anvil
