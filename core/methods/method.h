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

struct Method {
  std::string id, name, short_name;
  std::string standard;           ///< by designation only
  std::vector<FieldSpec> fields;  ///< common fields included
  std::vector<ChannelSpec> channels;
  std::vector<School> schools;
  std::array<StageGuide, kStageCount> stages;
  std::string prepare_sketch, measure_sketch, after_sketch, setup_sketch, run_sketch;  ///< drawings in the app
  std::string standin;                  ///< stand-in machine that runs it
  std::vector<std::string> limit_keys;  ///< results offered first when limits are set

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
