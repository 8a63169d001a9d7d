// What a record can hold: the fields a method asks for, with their dimension, stage and choices.
#pragma once

#include <string>
#include <vector>

#include "core/quantity/unit.h"

namespace fortitor {

/// The seven stages of a test, in the order of work.
enum class Stage { prepare, measure, set_up, run, after, evaluate, sign_off };
inline constexpr int kStageCount = 7;

enum class FieldKind {
  text,      ///< free text
  choice,    ///< one of `choices`
  quantity,  ///< one typed quantity
  readings,  ///< a list of typed quantities, each of which may be missed
  number,    ///< a plain number
  flag,      ///< true or false
  texts,     ///< a list of typed quantities kept as a set (offsets asked for)
};

struct Choice {
  std::string value, label;
};

/// One field of a record. `path` is the dotted key in the JSON document ("specimen.section.width").
struct FieldSpec {
  std::string path;
  std::string label;
  FieldKind kind = FieldKind::text;
  Dimension dimension = Dimension::none;
  Stage stage = Stage::prepare;
  int wanted = 1;         ///< readings the method wants
  bool required = false;  ///< the stage is not complete without it
  std::string symbol;     ///< as drawn on the sketch ("d", "L₀")
  std::string hint;       ///< one line on how it is read
  std::vector<Choice> choices;
  std::string when_path, when_value;  ///< shown only when that field has that value
  bool first_is_usual = false;        ///< without an entry the first choice holds
  double spread_limit = 0.01;  ///< range/mean above which a dimension is judged uneven; 0: no readings of one size
};

/// A channel a run may carry.
struct ChannelSpec {
  std::string name, label;
  Dimension dimension;
  bool required = false;
};

}  // namespace fortitor
