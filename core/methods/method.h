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

/// One channel read at every stop of a stepwise test.
struct StepChannel {
  std::string name, label;  ///< "deflection", "dial gauge"
  Dimension dimension = Dimension::none;
  std::string count_path = {};  ///< read only when this number of the record is at least `at_least`; empty: always
  double at_least = 0;
};

/// How a test that is loaded from stop to stop is run: what the call-out sheet asks for and where the
/// answers go. The stand-in of the method answers the same questions.
struct Stepwise {
  std::string control, control_label;  ///< channel that is set from stop to stop
  Dimension control_dimension = Dimension::force;
  std::vector<StepChannel> read;  ///< read at each stop, in this order
  std::string instruction;        ///< "then read the dial gauge"
  std::string broke_path;         ///< list field that takes the bracket when the piece breaks; empty: it does not break
  bool ends_in_break = false;     ///< B ends the run even where no bracket is kept
  bool may_crack = false;         ///< cracking can be heard before the break
  bool read_unloaded = false;     ///< the same channels are read again after unloading (run.unload)
  std::function<double(const TestRecord&)> first_step;  ///< proposed step, internal units, > 0
  /// The same for a record: channels it has no instrument for are left out.
  Stepwise for_record(const TestRecord& record) const;
  std::function<double(const TestRecord&)> last_stop;  ///< planned last stop; 0: to the break
};

/// A time that must pass before the run: where the wanted time stands, where the elapsed time goes.
struct TimerSpec {
  std::string stated_path, elapsed_path, name;  ///< name: "Cure"
  std::string finding;  ///< code of the judgement that it was too short; its answer lifts the refusal
};

/// How a series of pieces is looked at: which result, by which groups, which suspects for the scatter.
struct SeriesSpec {
  std::string key;            ///< result shown first
  std::string suspects_path;  ///< prefix of the flags that are ticked per specimen; empty: none
};

struct Method {
  std::string id, name, short_name;
  std::string standard;           ///< by designation only
  std::vector<FieldSpec> fields;  ///< common fields included
  std::vector<ChannelSpec> channels;
  std::vector<School> schools;
  std::array<StageGuide, kStageCount> stages;
  std::string prepare_sketch, measure_sketch, after_sketch, setup_sketch, run_sketch;  ///< drawings in the app
  std::string standin;                                ///< stand-in machine that runs it
  std::vector<std::string> limit_keys;                ///< results offered first when limits are set
  std::vector<std::string> measure_keys, after_keys;  ///< results shown while those stages are filled in
  std::optional<Stepwise> stepwise;                   ///< run stop by stop on the call-out sheet
  std::vector<TimerSpec> timers;                      ///< started at Prepare; a run before their end is refused
  SeriesSpec series;

  std::function<std::optional<ResultSpec>(const std::string& key)> result;
  std::function<Evaluation(const TestRecord&, const EvaluateOptions&)> evaluate;
  std::function<Plan(const TestRecord&)> plan;
  /// Inputs with their distributions and the values they lead to, for budgets and Monte Carlo.
  std::function<UncertaintyModel(const TestRecord&)> uncertainty;

  const FieldSpec* field(const std::string& path) const;
  const StageGuide& guide(Stage s) const { return stages[static_cast<size_t>(s)]; }
};

namespace methods {

/// All methods, in the order of the specification.
std::span<const Method* const> all();

/// Null when there is no such method.
const Method* find(const std::string& id);

/// Evaluates a record by its method. The one way from record to evaluation.
/// A record of an unknown method is a programming error (readers refuse it).
Evaluation evaluate(const TestRecord& record, const EvaluateOptions& options = {});

/// Fields every method shares: identity, conditions, equipment, rounding and decision rule.
std::vector<FieldSpec> common_fields();

}  // namespace methods
}  // namespace fortitor
