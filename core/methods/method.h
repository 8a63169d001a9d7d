// A test method: everything the rest of the program knows about it, as data and pure functions.
#pragma once

#include <array>
#include <functional>
#include <optional>
#include <span>
#include <string>
#include <vector>

#include "core/evaluation/evaluation.h"
#include "core/plan/plan.h"
#include "core/record/field.h"
#include "core/record/record.h"
#include "core/uncertainty/budget.h"

namespace fortitor {

/// A line to tick before the run may start. `safety` lines are asked for every time.
struct CheckItem {
  std::string id, text;
  bool safety = false;
};

/// What a stage tells the person: what to do, what can hurt, what to tick.
struct StageGuide {
  std::string lead;  ///< one sentence on the stage
  std::vector<std::string> guidance;
  std::vector<std::string> cautions;
  std::vector<CheckItem> checklist;
};

/// A plain choice shown under the figure at Evaluate ("Modulus by": fitted line, chord, tangent).
struct School {
  std::string setting;  ///< path
  std::string label;
  std::vector<Choice> choices;  ///< first is the default
};

/// A kind of equipment the method uses, and what is to be known of the one that is used. Set up shows the slots.
struct EquipmentSlot {
  std::string id;     ///< "load_cell": its fields lie under "equipment.load_cell."
  std::string label;  ///< "Load cell"
  Stage stage = Stage::set_up;
  std::vector<FieldSpec> fields;
  std::vector<FieldSpec> papers;  ///< what an item of the Kit brings along: serial mark, calibration, state
  std::string rating;             ///< path of its rating; empty: it has none
  bool in_load_path = false;
  bool from_kit = false;  ///< chosen where the Kit has one, never typed

  /// Dimension of the rating, none without one.
  Dimension rated_in() const;
};

/// A time that must pass before the run: where the wanted time stands, where the elapsed time goes.
struct TimerSpec {
  std::string stated_path, elapsed_path, name;  ///< name: "Cure"
  std::string finding;  ///< code of the judgement that it was too short; its answer lifts the refusal
};

/// Room that a row has and needs where it lies: to its neighbours, to the edge, under it.
struct Clearance {
  std::string what;  ///< "to its neighbour"
  double has = 0, needs = 0;
  Dimension dimension = Dimension::length;
  bool at_most = false;  ///< `has` must not exceed `needs`
  bool holds() const { return at_most ? has <= needs : has >= needs; }
};

/// What the program says while the work goes on, in the words of this method. Nothing shared speaks of pulling.
struct Wording {
  std::string run_first;    ///< "The halves come after the run."
  std::string growing;      ///< on the empty figure: "The curve grows here while the piece is pulled."
  std::string after_run;    ///< "The piece broke. Fit the halves together at After."
  std::string to_measure;   ///< on Today: "halves to measure"
  std::string measure_why;  ///< "Fit them together while they lie on the bench."
  std::string set_up = {};  ///< over the fields of Set up: "Speed and stops"
  std::string looks = {};   ///< on the button that lets the stand-in measure: "Read with stand-in caliper"
};

/// One piece of a series: its record and what the evaluation makes of it.
struct SeriesPiece {
  const TestRecord* record = nullptr;
  const Evaluation* evaluation = nullptr;
  std::string beside = {};  ///< title of the other series it comes from; empty: of the series itself
  /// What a piece from beside is there for: to be a group of its own, or to stand in the chart over time.
  enum class For { groups, time } there_for = For::groups;
};

/// Pieces of a series that stand side by side with others of it.
struct SeriesGroup {
  std::string name;
  std::vector<SeriesPiece> pieces;
};

/// How a series of pieces is looked at: which result, by which groups, which suspects for the scatter.
struct SeriesSpec {
  std::string key;                ///< result shown first
  std::string suspects_path;      ///< prefix of the flags that are ticked per specimen; empty: none
  std::vector<FieldSpec> fields;  ///< settings of the series beyond those every series has
  /// Fields in which pieces must agree to be averaged: another scale, force or notch makes another quantity.
  std::vector<std::string> alike = {};
  std::string price_path = {};  ///< field with the price of a piece; empty: none
  bool beside_run = false;      ///< its figure is looked at while a piece is run, in place of the piece's own
  /// Judgement over the whole series; empty: the statistics of one result (core/series).
  std::function<Evaluation(const std::vector<SeriesPiece>&, const TestRecord& settings)> evaluate = {};
  std::vector<std::string> limit_keys = {};  ///< results of `evaluate` that limits are set on
  std::vector<ResultSpec> results = {};      ///< those of them that no piece reports
  /// What groups that are each judged by `evaluate` say against each other: adds results and findings.
  std::function<void(Evaluation& into, const std::vector<SeriesGroup>&, const TestRecord& settings)> compare = {};
};

/// How long a piece usually takes a person, for the day plan, minutes: before the machine, on it, after it.
struct Minutes {
  int before = 6, run = 12, after = 6;
};

/// How long a run takes on its machine, as the record asks for it.
struct RunTime {
  double seconds = 0;
  bool alone = false;  ///< the machine goes on by itself; a person only starts it
  std::string why;     ///< "at most 10,000,000 cycles at 20 Hz"
};

struct Method : Schema {
  std::string name, short_name;
  std::string standard;  ///< by designation only
  std::vector<School> schools;
  std::vector<EquipmentSlot> equipment;
  std::array<StageGuide, kStageCount> stages;
  std::string prepare_sketch, measure_sketch, after_sketch, setup_sketch, run_sketch;  ///< drawings in the app
  std::string card_sketch = {};                       ///< where methods are chosen; empty: the one of Prepare
  std::string standin;                                ///< stand-in machine that runs it
  std::vector<std::string> limit_keys;                ///< results offered first when limits are set
  std::vector<std::string> measure_keys, after_keys;  ///< results shown while those stages are filled in
  /// Field of kind `choices` that takes one word more each time the machine waits in its program: its choices are asked
  /// for on the spot ("did it open by hand?"); empty: nothing is asked.
  std::string asked_at_hold;
  std::vector<TimerSpec> timers;  ///< started at Prepare; a run before their end is refused
  Wording wording;
  Minutes minutes;
  SeriesSpec series;
  /// Settings worth printing on the certificate, by prefix.
  std::vector<std::string> printed_settings;

  std::function<std::optional<ResultSpec>(const std::string& key)> result;
  /// All results in the order of the ledger; what a record asks for may add some.
  std::function<std::vector<ResultSpec>(const TestRecord&)> reported;
  std::function<Evaluation(const TestRecord&, const EvaluateOptions&)> evaluate;
  std::function<Plan(const TestRecord&)> plan;
  /// Empty where nothing in a record says how long its run takes.
  std::function<std::optional<RunTime>(const TestRecord&)> run_time = {};
  /// Room of a row of the keyed table, or of the one that comes next; empty: rows have no place.
  std::function<std::vector<Clearance>(const TestRecord&, size_t row)> clearances = {};
  /// Inputs with their distributions and the values they lead to, for budgets and Monte Carlo.
  std::function<UncertaintyModel(const TestRecord&)> uncertainty;

  const StageGuide& guide(Stage s) const { return stages[static_cast<size_t>(s)]; }
  /// The table that is keyed at the machine, row by row; null for a method that runs with channels only.
  const TableSpec* keyed_table() const {
    return tables.empty() || tables.front().stage != Stage::run ? nullptr : &tables.front();
  }
  const EquipmentSlot* slot(const std::string& id) const;
};

/// Day of a test: of `tested_at`, before the run `today`; empty when neither is known.
std::string day_of_test(const TestRecord& record, const std::string& today);

namespace methods {

/// All methods, in the order of the specification.
std::span<const Method* const> all();

/// Null when there is no such method.
const Method* find(const std::string& id);

/// Evaluates a record by its method. The one way from record to evaluation.
/// A record of an unknown method is a programming error (readers refuse it).
Evaluation evaluate(const TestRecord& record, const EvaluateOptions& options = {});

}  // namespace methods
}  // namespace fortitor
